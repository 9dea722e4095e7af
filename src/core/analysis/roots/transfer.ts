import type { Entry, Structure } from '../../circuit/structure';
import { denseMatrices, driveVector, type Assembled } from '../../circuit/structure';
import { complex, magnitude, subtract, type Complex } from '../../math/complex';
import { residueInverse, residueOf, residueProduct, PRIME } from '../../math/modular';
import { failure, success, type Result } from '../../result';
import { ComplexLu } from '../elimination/dense-lu';
import { pencilRoots, type Pencil } from './pencil-roots';

export interface TransferFunction {
  /** All natural frequencies, rad/s, those that the output cannot see included (with the zeros that cancel them). */
  readonly poles: readonly Complex[];
  readonly zeros: readonly Complex[];
  /** k of H(s) = k ∏(s − zero) / ∏(s − pole). */
  readonly gain: number;
}

/**
 * Poles, zeros and gain from all AC sources to the difference of two unknowns (−1 is ground). Zeros are the roots of
 * the determinant bordered by the drive and the output (H(s) = det bordered / det). Fails with `no-unique-solution`
 * where the circuit's determinant is zero at every frequency.
 */
export function transferFunction(
  circuit: Assembled,
  output: readonly [number, number],
): Result<TransferFunction, 'no-unique-solution'> {
  const { structure, values } = circuit;
  const inner = pencilOf(structure, values);
  const poles = pencilRoots(inner);
  if (!poles) return failure('no-unique-solution', { unknown: structure.unknowns[0] ?? '' });
  const drive = driveVector(structure, values);
  const zeros = pencilRoots(bordered(inner, drive, output));
  if (!zeros) return success({ poles, zeros: [], gain: 0 });
  const gain = gainOf(inner, drive, output, poles, zeros);
  const finite =
    Number.isFinite(gain) && [...poles, ...zeros].every(({ re, im }) => Number.isFinite(re) && Number.isFinite(im));
  // Values thirty decades apart leave nothing to compute with.
  if (!finite) return failure('no-unique-solution', { unknown: structure.unknowns[0] ?? '' });
  return success({ poles: sorted(poles), zeros: sorted(zeros), gain });
}

function pencilOf(structure: Structure, values: Float64Array): Pencil {
  const n = structure.size;
  const { g, c } = denseMatrices(structure, values);
  const [residuesG, residuesC] = [new Float64Array(n * n), new Float64Array(n * n)];
  // A coupled coil is the square of its residue, so that its root exists and perfect coupling stays perfect.
  const coupled = new Set(structure.entries.flatMap((e) => (e.form === 'mutual' ? e.slots.slice(1) : [])));
  const known = new Map<number, number>();
  const plain = (slot: number): number => {
    let residue = known.get(slot);
    if (residue === undefined) known.set(slot, (residue = residueOf(values[slot])));
    return residue;
  };
  const slotResidue = (slot: number) => (coupled.has(slot) ? residueProduct(plain(slot), plain(slot)) : plain(slot));
  const formOf = ({ form, slots }: Entry): number => {
    switch (form) {
      case 'constant':
        return 1;
      case 'direct':
        return slotResidue(slots[0]);
      case 'reciprocal':
        return residueInverse(slotResidue(slots[0]));
      case 'mutual':
        return residueProduct(plain(slots[0]), residueProduct(plain(slots[1]), plain(slots[2])));
    }
  };
  for (const entry of structure.entries) {
    const target = entry.order === 0 ? residuesG : residuesC;
    const at = entry.row * n + entry.column;
    target[at] = (target[at] + residueProduct(residueOf(entry.factor), formOf(entry))) % PRIME;
  }
  // What cancels exactly is gone from the numbers too: rounding must not leave a coefficient where there is none.
  for (let i = 0; i < n * n; i++) {
    if (residuesG[i] === 0) g[i] = 0;
    if (residuesC[i] === 0) c[i] = 0;
  }
  return { size: n, g, c, residuesG, residuesC };
}

/** [G + sC, −b; outputᵀ, 0]. A drive with a phase keeps its real part: poles and zeros belong to sources in step. */
function bordered(inner: Pencil, drive: { re: Float64Array }, output: readonly [number, number]): Pencil {
  const n = inner.size;
  const m = n + 1;
  const widen = (from: Float64Array) => {
    const to = new Float64Array(m * m);
    for (let i = 0; i < n; i++) to.set(from.subarray(i * n, i * n + n), i * m);
    return to;
  };
  const [g, residuesG] = [widen(inner.g), widen(inner.residuesG)];
  for (let i = 0; i < n; i++) {
    g[i * m + n] = -drive.re[i];
    residuesG[i * m + n] = residueOf(-drive.re[i]);
  }
  output.forEach((unknown, k) => {
    if (unknown < 0) return;
    g[n * m + unknown] += k === 0 ? 1 : -1;
    residuesG[n * m + unknown] = residueOf(g[n * m + unknown]);
  });
  return { size: m, g, c: widen(inner.c), residuesG, residuesC: widen(inner.residuesC) };
}

function gainOf(
  inner: Pencil,
  drive: { re: Float64Array },
  output: readonly [number, number],
  poles: readonly Complex[],
  zeros: readonly Complex[],
): number {
  const n = inner.size;
  const sizes = [...poles, ...zeros].map(magnitude).filter((r) => r > 0);
  const middle = sizes.length > 0 ? Math.exp(sizes.reduce((sum, r) => sum + Math.log(r), 0) / sizes.length) : 1;
  // Off both axes and to the right, where a stable circuit has neither poles nor steep slopes.
  const s = complex(middle * 0.8, middle * 0.6);
  const lu = new ComplexLu(
    n,
    inner.g.map((v, i) => v + s.re * inner.c[i]),
    inner.c.map((v) => v * s.im),
  );
  const [xRe, xIm, none] = [new Float64Array(n), new Float64Array(n), new Float64Array(n)];
  lu.solve(drive.re, none, xRe, xIm);
  const part = (unknown: number): Complex => (unknown < 0 ? complex(0) : complex(xRe[unknown], xIm[unknown]));
  // Sums of logarithms and angles: products of a hundred roots would leave the range of a double.
  const value = subtract(part(output[0]), part(output[1]));
  let log = Math.log(magnitude(value));
  let angle = Math.atan2(value.im, value.re);
  for (const [roots, sign] of [
    [poles, 1],
    [zeros, -1],
  ] as const)
    for (const root of roots) {
      const apart = subtract(s, root);
      log += sign * Math.log(magnitude(apart));
      angle += sign * Math.atan2(apart.im, apart.re);
    }
  return Math.exp(log) * Math.cos(angle);
}

const sorted = (roots: readonly Complex[]): Complex[] =>
  [...roots].sort((a, b) => magnitude(a) - magnitude(b) || b.im - a.im);
