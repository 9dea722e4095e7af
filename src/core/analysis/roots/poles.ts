import { EigenvalueDecomposition, LuDecomposition, Matrix } from 'ml-matrix';
import { denseMatrices, type Assembled } from '../../circuit/structure';
import type { Complex } from '../../math/complex';

/**
 * Natural frequencies (rad/s) of a circuit within about nine decades of `nearRadPerSec`: eigenvalues μ of (G + σC)⁻¹C
 * with a real shift σ of that size, s = σ − 1/μ (Golub and Van Loan, Matrix Computations, 4th ed., 7.6.1 and 7.7: shift
 * and invert for a pencil with a singular C). Poles at infinity are μ = 0 and are left out. Values are scaled by that
 * frequency, so that farads and siemens are of one size.
 */
export function naturalFrequencies({ structure, values }: Assembled, nearRadPerSec: number): Complex[] {
  const n = structure.size;
  const { g, c } = denseMatrices(structure, values);
  for (let i = 0; i < c.length; i++) c[i] *= nearRadPerSec;
  const storing = Array.from({ length: n }, (_, j) => j).filter((j) => columnHolds(c, n, j));
  const m = storing.length;
  if (m === 0) return [];
  const shifted = new Matrix(n, n);
  const storage = new Matrix(n, m);
  for (let i = 0; i < n; i++) {
    let largest = 0;
    for (let j = 0; j < n; j++) largest = Math.max(largest, Math.abs(g[i * n + j] + c[i * n + j]));
    const rowScale = largest > 0 ? 1 / largest : 1;
    for (let j = 0; j < n; j++) shifted.set(i, j, rowScale * (g[i * n + j] + c[i * n + j]));
    storing.forEach((j, k) => storage.set(i, k, rowScale * c[i * n + j]));
  }
  const lu = new LuDecomposition(shifted);
  if (lu.isSingular()) return [];
  // Columns of C that hold nothing are columns of (G + σC)⁻¹C that hold nothing: its eigenvalues other than zero are
  // those of the rows and columns that store.
  const solved = lu.solve(storage);
  const eigen = new EigenvalueDecomposition(
    solved.selection(
      storing,
      Array.from({ length: m }, (_, k) => k),
    ),
    { assumeSymmetric: false },
  );
  const poles: Complex[] = [];
  eigen.realEigenvalues.forEach((re, k) => {
    const im = eigen.imaginaryEigenvalues[k];
    const square = re * re + im * im;
    if (Math.sqrt(square) < 1e-9) return;
    poles.push({ re: nearRadPerSec * (1 - re / square), im: (nearRadPerSec * im) / square });
  });
  return poles;
}

function columnHolds(c: Float64Array, n: number, column: number): boolean {
  for (let i = 0; i < n; i++) if (c[i * n + column] !== 0) return true;
  return false;
}

export interface PoleSection {
  readonly order: 1 | 2;
  readonly freqHz: number;
  /** 0.5 and below for two real poles; absent for first order. */
  readonly q?: number;
}

/**
 * The one or two poles of a circuit that make its section, by nearness to the frequency it was designed for, as natural
 * frequency and Q: ω0² is their product and ω0/Q minus their sum, which stays exact where two real poles nearly meet.
 */
export function dominantSection(circuit: Assembled, order: 0 | 1 | 2, nearHz: number): PoleSection | null {
  if (order === 0) return null;
  const near = 2 * Math.PI * nearHz;
  const poles = naturalFrequencies(circuit, near).sort((a, b) => distance(a, near) - distance(b, near));
  if (poles.length < order) return null;
  if (order === 1) return { order, freqHz: Math.hypot(poles[0].re, poles[0].im) / (2 * Math.PI) };
  // Of the pairs that are conjugate, or nearest one another among the real, the one whose natural frequency is nearest;
  // a lone real pole beside a pair counts for nothing.
  const upper = poles.filter((p) => p.im > 0).map((p): readonly [Complex, Complex] => [p, { re: p.re, im: -p.im }]);
  const real = poles.filter((p) => p.im === 0);
  const pairs = [
    ...upper,
    ...real
      .slice(0, REAL_POLES)
      .flatMap((a, i) => real.slice(i + 1, REAL_POLES).map((b): readonly [Complex, Complex] => [a, b])),
  ].map(([a, b]) => {
    const omega = Math.sqrt(Math.abs(a.re * b.re - a.im * b.im));
    return { omega, q: omega / -(a.re + b.re), complex: a.im > 0 };
  });
  if (pairs.length === 0) return null;
  const off = ({ omega, complex }: (typeof pairs)[number]) =>
    Math.abs(Math.log(omega / near)) + (complex ? 0 : REAL_PENALTY);
  const best = pairs.reduce((a, b) => (off(b) < off(a) ? b : a));
  return { order, freqHz: best.omega / (2 * Math.PI), q: best.q };
}

/** How much a difference in Q counts against one in frequency when sections are recognised among poles. */
const Q_COUNTS = 0.4;
/** Further than this from what a section is by itself, as a logarithm, no pole is taken for it. */
const RECOGNISED = 1.6;

/**
 * Which natural frequencies of a whole circuit make each of its sections: every section is known by what it is by
 * itself, and takes the nearest poles that no nearer one has taken. What loads a section, or stands before it, moves
 * its frequency and Q; null where nothing of the circuit resembles it.
 */
export function sectionsAmong(
  natural: readonly Complex[],
  alone: readonly (PoleSection | null)[],
): (PoleSection | null)[] {
  const real = natural.filter((p) => p.im === 0 && p.re < 0);
  const pairs = [
    ...natural.filter((p) => p.im > 0).map((p) => [p, { re: p.re, im: -p.im }] as const),
    ...real.flatMap((a, i) => real.slice(i + 1).map((b) => [a, b] as const)),
  ].map(([a, b]) => {
    const omega = Math.sqrt(Math.abs(a.re * b.re - a.im * b.im));
    const section: PoleSection = { order: 2, freqHz: omega / (2 * Math.PI), q: omega / -(a.re + b.re) };
    return { section, poles: [a, b] as readonly Complex[] };
  });
  const singles = real.map((p) => ({
    section: { order: 1, freqHz: -p.re / (2 * Math.PI) } satisfies PoleSection as PoleSection,
    poles: [p] as readonly Complex[],
  }));
  const offers = alone
    .flatMap((own, k) =>
      (own === null ? [] : own.order === 1 ? singles : pairs).map((found) => ({
        k,
        ...found,
        apart: own ? apartBy(found.section, own) : Infinity,
      })),
    )
    .filter(({ apart }) => apart < RECOGNISED)
    .sort((a, b) => a.apart - b.apart);
  const taken = new Set<Complex>();
  const result = alone.map((): PoleSection | null => null);
  const known = (p: Complex) => [...taken].some((t) => t.re === p.re && Math.abs(t.im) === Math.abs(p.im));
  for (const { k, section, poles } of offers) {
    if (result[k] || poles.some(known)) continue;
    result[k] = section;
    poles.forEach((p) => taken.add(p));
  }
  return result;
}

const apartBy = (a: PoleSection, b: PoleSection): number =>
  Math.abs(Math.log(a.freqHz / b.freqHz)) +
  (a.q !== undefined && b.q !== undefined && a.q > 0 && b.q > 0 ? Q_COUNTS * Math.abs(Math.log(a.q / b.q)) : 0);

/**
 * How many of the nearest real poles are paired, and by how much (as a logarithm) a conjugate pair is preferred to two
 * real poles.
 */
const REAL_POLES = 4;
const REAL_PENALTY = 0.02;

const distance = (pole: Complex, near: number): number => Math.abs(Math.log(Math.hypot(pole.re, pole.im) / near));
