import { blockTriangular } from '../../math/block-triangular';
import { add, complex, divide, multiply, scale, subtract, type Complex } from '../../math/complex';
import { PRIME, residueDeterminant, residuePolynomial, residueProduct } from '../../math/modular';
import { ComplexLu } from '../elimination/dense-lu';

/** A square pencil G + sC twice over: in doubles for the numbers, and in residues for the counting. Row-major. */
export interface Pencil {
  readonly size: number;
  readonly g: Float64Array;
  readonly c: Float64Array;
  readonly residuesG: Float64Array;
  readonly residuesC: Float64Array;
}

/** Most rounds of simultaneous correction, and what counts as still. */
const MOST_ROUNDS = 200;
const STILL = 4e-15;

/**
 * All finite s where det(G + sC) vanishes, each as often as it does; null where it vanishes everywhere.
 *
 * The pencil is taken apart into irreducible blocks, so that equal poles of separate stages stay simple. In each block
 * the number of roots, and of roots at 0, is counted exactly modulo a prime: no threshold says which eigenvalues "are"
 * infinite. Starting points come from the growth of log |det| from circle to circle (J. L. W. V. Jensen, Acta
 * Mathematica 22, 1899); all are then corrected together (O. Aberth, Mathematics of Computation 27, 1973) with the
 * determinant's own logarithmic derivative, tr((G + sC)⁻¹ C), so that nothing is scaled, inverted or expanded on the
 * way.
 */
export function pencilRoots(pencil: Pencil): Complex[] | null {
  const n = pencil.size;
  const pattern = Array.from({ length: n }, (_, i) =>
    Array.from({ length: n }, (_, j) => j).filter((j) => pencil.g[i * n + j] !== 0 || pencil.c[i * n + j] !== 0),
  );
  const blocks = blockTriangular(pattern);
  if (!blocks) return null;
  const roots: Complex[] = [];
  for (const { rows, columns } of blocks) {
    const m = rows.length;
    const take = (from: Float64Array) =>
      Float64Array.from({ length: m * m }, (_, k) => from[rows[Math.floor(k / m)] * n + columns[k % m]]);
    const found = blockRoots({
      size: m,
      g: take(pencil.g),
      c: take(pencil.c),
      residuesG: take(pencil.residuesG),
      residuesC: take(pencil.residuesC),
    });
    if (!found) return null;
    roots.push(...found);
  }
  return roots;
}

function blockRoots(block: Pencil): Complex[] | null {
  const { size: n, g, c } = block;
  if (n === 1) return c[0] === 0 ? (g[0] === 0 ? null : []) : [complex(-g[0] / c[0])];
  const powers = nonzeroPowers(block);
  if (!powers) return null;
  const zeros = Array.from({ length: powers.lowest }, () => complex(0));
  const count = powers.highest - powers.lowest;
  return count === 0
    ? zeros
    : [...zeros, ...symmetric(aberth(block, startingPoints(block, powers.lowest, count), powers.lowest))];
}

/** Lowest and highest power of s with a coefficient in det(G + sC). */
function nonzeroPowers({ size: n, residuesG, residuesC }: Pencil): { lowest: number; highest: number } | null {
  let [rows, columns] = [0, 0];
  for (let i = 0; i < n; i++) {
    let [row, column] = [false, false];
    for (let j = 0; j < n; j++) {
      row ||= residuesC[i * n + j] !== 0;
      column ||= residuesC[j * n + i] !== 0;
    }
    rows += Number(row);
    columns += Number(column);
  }
  const values = Array.from({ length: Math.min(rows, columns) + 1 }, (_, k) =>
    residueDeterminant(
      Float64Array.from(residuesG, (v, i) => (v + residueProduct(k + 1, residuesC[i])) % PRIME),
      n,
    ),
  );
  const coefficients = residuePolynomial(values);
  const lowest = coefficients.findIndex((v) => v !== 0);
  if (lowest < 0) return null;
  return { lowest, highest: coefficients.findLastIndex((v) => v !== 0) };
}

function factored({ size: n, g, c }: Pencil, s: Complex): ComplexLu {
  const [re, im] = [new Float64Array(n * n), new Float64Array(n * n)];
  for (let i = 0; i < n * n; i++) {
    re[i] = g[i] + s.re * c[i];
    im[i] = s.im * c[i];
  }
  return new ComplexLu(n, re, im);
}

/** log |det|, from the pivots. */
function logDeterminant(block: Pencil, s: Complex): number {
  const lu = factored(block, s);
  let sum = 0;
  for (let k = 0; k < block.size; k++) {
    const at = lu.order[k] * block.size + k;
    sum += Math.log(Math.hypot(lu.re[at], lu.im[at]));
  }
  return sum;
}

/** Radii (rad/s) searched: far outside anything that can be built. */
const RADII = Array.from({ length: 121 }, (_, k) => 10 ** (-8 + k / 4));
const ANGLES = [Math.PI / 8, (3 * Math.PI) / 8, (5 * Math.PI) / 8, (7 * Math.PI) / 8];

function startingPoints(block: Pencil, atZero: number, count: number): Complex[] {
  const mean = RADII.map(
    (r) =>
      ANGLES.reduce((sum, angle) => sum + logDeterminant(block, complex(r * Math.cos(angle), r * Math.sin(angle))), 0) /
        ANGLES.length -
      atZero * Math.log(r),
  );
  const points: Complex[] = [];
  let inside = 0;
  for (let k = 1; k < RADII.length; k++) {
    const slope = (mean[k] - mean[k - 1]) / Math.log(RADII[k] / RADII[k - 1]);
    const now = k === RADII.length - 1 ? count : Math.min(count, Math.max(inside, Math.round(slope) || inside));
    for (let i = inside; i < now; i++) {
      // Unequal angles, so that no two points mirror each other.
      const angle = Math.PI / 2 + (Math.PI * (i - inside + 0.5)) / (now - inside) + 0.1 * i;
      const radius = RADII[k - 1] * (1 + 0.1 * (i - inside));
      points.push(complex(radius * Math.cos(angle), radius * Math.sin(angle)));
    }
    inside = now;
  }
  return points;
}

/** p/p′ at s for p = det / s^atZero. */
function newtonCorrection(block: Pencil, s: Complex, atZero: number): Complex {
  const { size: n, c } = block;
  const lu = factored(block, s);
  if (lu.singular) return complex(0);
  let trace = complex(0);
  const [zeros, column, xRe, xIm] = Array.from({ length: 4 }, () => new Float64Array(n));
  for (let j = 0; j < n; j++) {
    let any = false;
    for (let i = 0; i < n; i++) {
      column[i] = c[i * n + j];
      any ||= column[i] !== 0;
    }
    if (!any) continue;
    lu.solve(column, zeros, xRe, xIm);
    trace = add(trace, complex(xRe[j], xIm[j]));
  }
  return divide(complex(1), subtract(trace, scale(divide(complex(1), s), atZero)));
}

function aberth(block: Pencil, roots: Complex[], atZero: number): Complex[] {
  const still = roots.map(() => false);
  const last = roots.map(() => Infinity);
  for (let round = 0; round < MOST_ROUNDS && still.includes(false); round++) {
    for (let i = 0; i < roots.length; i++) {
      if (still[i]) continue;
      const newton = newtonCorrection(block, roots[i], atZero);
      let repulsion = complex(0);
      for (let j = 0; j < roots.length; j++) {
        const apart = subtract(roots[i], roots[j]);
        if (j !== i && (apart.re !== 0 || apart.im !== 0)) repulsion = add(repulsion, divide(complex(1), apart));
      }
      const step = divide(newton, subtract(complex(1), multiply(newton, repulsion)));
      if (!Number.isFinite(step.re) || !Number.isFinite(step.im)) {
        still[i] = true;
        continue;
      }
      roots[i] = subtract(roots[i], step);
      const size = Math.hypot(step.re, step.im) / Math.hypot(roots[i].re, roots[i].im);
      // Close in, a step that no longer shrinks is rounding noise.
      if (size < STILL || (size < 1e-9 && size >= last[i])) still[i] = true;
      last[i] = size;
    }
  }
  return roots;
}

/**
 * Roots of a real polynomial come in conjugate pairs: what is real to rounding is made real, and each pair made exact.
 */
function symmetric(roots: readonly Complex[]): Complex[] {
  const near = 1e-7;
  const real: Complex[] = [];
  const upper: Complex[] = [];
  const lower: Complex[] = [];
  for (const root of roots) {
    if (Math.abs(root.im) <= near * Math.hypot(root.re, root.im)) real.push(complex(root.re));
    else (root.im > 0 ? upper : lower).push(root);
  }
  const paired: Complex[] = [];
  for (const root of upper) {
    let best = -1;
    const distance = (k: number) => Math.hypot(lower[k].re - root.re, lower[k].im + root.im);
    for (let k = 0; k < lower.length; k++) if (best < 0 || distance(k) < distance(best)) best = k;
    if (best < 0) {
      paired.push(root);
      continue;
    }
    const [other] = lower.splice(best, 1);
    const middle = complex((root.re + other.re) / 2, (root.im - other.im) / 2);
    paired.push(middle, complex(middle.re, -middle.im));
  }
  return [...real, ...paired, ...lower];
}
