/*
 * The same work in C, for comparison: replay of an elimination plan, dense LU with partial pivoting, and a transistor ladder in time.
 * Usage: reference PROBLEM. Reads a problem as doubles, then one command a line: `replay N`, `dense N`, `ladder N`; answers with nanoseconds for N runs.
 */
#include <complex.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

typedef struct {
  int n, positions, points, tape_length, back_length;
  double *g, *c, *drive, *freq;
  int *tape, *back, *pivot_row, *pivot_column, *pivot_position, *row_of, *column_of;
} Problem;

static double *doubles(FILE *f, int count) {
  double *a = malloc(sizeof(double) * (count + 1));
  if (fread(a, sizeof(double), count, f) != (size_t)count) exit(2);
  return a;
}

static int *integers(FILE *f, int count) {
  double *a = doubles(f, count);
  int *b = malloc(sizeof(int) * (count + 1));
  for (int i = 0; i < count; i++) b[i] = (int)a[i];
  free(a);
  return b;
}

static double now(void) {
  struct timespec t;
  clock_gettime(CLOCK_MONOTONIC, &t);
  return t.tv_sec * 1e9 + t.tv_nsec;
}

static void replay(const Problem *p, double *re, double *im, double *b_re, double *b_im, double *out) {
  for (int f = 0; f < p->points; f++) {
    double omega = 6.283185307179586 * p->freq[f];
    for (int i = 0; i < p->positions; i++) { re[i] = p->g[i]; im[i] = omega * p->c[i]; }
    for (int i = 0; i < p->n; i++) { b_re[i] = p->drive[i]; b_im[i] = 0; }
    const int *t = p->tape;
    for (int k = 0; k < p->n; k++) {
      int at = p->pivot_position[k], pr_row = p->pivot_row[k];
      double pr = re[at], pi = im[at], inverse = 1 / (pr * pr + pi * pi);
      double yr = b_re[pr_row], yi = b_im[pr_row];
      for (int rows = *t++; rows > 0; rows--) {
        int i = *t++, own = *t++;
        double lr = (re[own] * pr + im[own] * pi) * inverse, li = (im[own] * pr - re[own] * pi) * inverse;
        for (int count = *t++; count > 0; count--) {
          int u = *t++, target = *t++;
          re[target] -= lr * re[u] - li * im[u];
          im[target] -= lr * im[u] + li * re[u];
        }
        b_re[i] -= lr * yr - li * yi;
        b_im[i] -= lr * yi + li * yr;
      }
    }
    const int *s = p->back;
    double *x = out + 2 * p->n * f;
    for (int k = p->n - 1; k >= 0; k--) {
      double sr = b_re[p->pivot_row[k]], si = b_im[p->pivot_row[k]];
      for (int count = *s++; count > 0; count--) {
        int u = *s++, j = *s++;
        sr -= re[u] * x[2 * j] - im[u] * x[2 * j + 1];
        si -= re[u] * x[2 * j + 1] + im[u] * x[2 * j];
      }
      int at = p->pivot_position[k];
      double inverse = 1 / (re[at] * re[at] + im[at] * im[at]);
      x[2 * p->pivot_column[k]] = (sr * re[at] + si * im[at]) * inverse;
      x[2 * p->pivot_column[k] + 1] = (si * re[at] - sr * im[at]) * inverse;
    }
  }
}

static void dense(const Problem *p, double complex *a, double complex *b, double *out) {
  int n = p->n;
  for (int f = 0; f < p->points; f++) {
    double omega = 6.283185307179586 * p->freq[f];
    memset(a, 0, sizeof(double complex) * n * n);
    for (int i = 0; i < p->positions; i++)
      if (p->row_of[i] >= 0) a[p->row_of[i] * n + p->column_of[i]] = p->g[i] + I * omega * p->c[i];
    for (int i = 0; i < n; i++) b[i] = p->drive[i];
    for (int k = 0; k < n; k++) {
      int best = k;
      double size = cabs(a[k * n + k]);
      for (int i = k + 1; i < n; i++) { double s = cabs(a[i * n + k]); if (s > size) { size = s; best = i; } }
      if (best != k) {
        for (int j = k; j < n; j++) { double complex t = a[k * n + j]; a[k * n + j] = a[best * n + j]; a[best * n + j] = t; }
        double complex t = b[k]; b[k] = b[best]; b[best] = t;
      }
      double complex inverse = 1 / a[k * n + k];
      for (int i = k + 1; i < n; i++) {
        if (a[i * n + k] == 0) continue;
        double complex l = a[i * n + k] * inverse;
        for (int j = k + 1; j < n; j++) a[i * n + j] -= l * a[k * n + j];
        b[i] -= l * b[k];
      }
    }
    double complex *x = (double complex *)(out + 2 * n * f);
    for (int i = n - 1; i >= 0; i--) {
      double complex sum = b[i];
      for (int j = i + 1; j < n; j++) sum -= a[i * n + j] * x[j];
      x[i] = sum / a[i * n + i];
    }
  }
}

extern double ladder(int samples);

int main(int argc, char **argv) {
  if (argc < 2) return 2;
  FILE *f = fopen(argv[1], "rb");
  if (!f) return 2;
  Problem p;
  int *head = integers(f, 5);
  p.n = head[0]; p.positions = head[1]; p.points = head[2]; p.tape_length = head[3]; p.back_length = head[4];
  p.g = doubles(f, p.positions); p.c = doubles(f, p.positions); p.drive = doubles(f, p.n); p.freq = doubles(f, p.points);
  p.tape = integers(f, p.tape_length); p.back = integers(f, p.back_length);
  p.pivot_row = integers(f, p.n); p.pivot_column = integers(f, p.n); p.pivot_position = integers(f, p.n);
  p.row_of = integers(f, p.positions); p.column_of = integers(f, p.positions);
  double *re = malloc(8 * p.positions), *im = malloc(8 * p.positions), *b_re = malloc(8 * p.n), *b_im = malloc(8 * p.n);
  double *out = malloc(16 * p.n * p.points);
  double complex *a = malloc(16 * p.n * p.n), *b = malloc(16 * p.n);
  char command[32];
  int times;
  double check = 0;
  while (scanf("%31s %d", command, &times) == 2) {
    double start = now();
    for (int i = 0; i < times; i++) {
      if (!strcmp(command, "replay")) replay(&p, re, im, b_re, b_im, out);
      else if (!strcmp(command, "dense")) dense(&p, a, b, out);
      else if (!strcmp(command, "ladder")) check += ladder(96000);
      check += out[0];
    }
    printf("%.0f %g\n", now() - start, check);
    fflush(stdout);
  }
  return 0;
}
