import type { Complex } from '../../math/complex';
import { ComplexLu } from '../elimination/dense-lu';
import type { MeasuredPort } from '../../circuit/structure';

/** Solutions of some unknowns, one interleaved re, im array each. */
export type Rows = readonly Float64Array[];

const known = new WeakMap<MeasuredPort['excess'], WeakMap<Float64Array, readonly Complex[]>>();

/** Excess admittance over a grid, kept as long as the grid is: a search asks for the same one thousands of times. */
function excessOver(excess: MeasuredPort['excess'], frequenciesHz: Float64Array): readonly Complex[] {
  const grids = known.get(excess) ?? new WeakMap<Float64Array, readonly Complex[]>();
  known.set(excess, grids);
  const found = grids.get(frequenciesHz) ?? Array.from(frequenciesHz, excess);
  grids.set(frequenciesHz, found);
  return found;
}

/**
 * What measured one-ports make of a solution without them. With v₀ the ports' voltages, Z what they have for 1 A into
 * each, and Y the excess admittances: (I + ZY) v = v₀, and every unknown is its own less its response T to the currents
 * Yv (the Sherman-Morrison-Woodbury formula; G. H. Golub and C. F. Van Loan, Matrix Computations, 4th ed., 2.1.4).
 *
 * @param own unknowns asked for, without the ports' excess. @param driven the same for 1 A into each port.
 * @param atPorts the ports' voltages likewise: without the excess, and for 1 A into each.
 */
export function withMeasuredPorts(
  ports: readonly MeasuredPort[],
  frequenciesHz: Float64Array,
  own: Rows,
  driven: readonly Rows[],
  atPorts: { readonly own: Rows; readonly driven: readonly Rows[] },
): Float64Array[] {
  const d = ports.length;
  const out = own.map((row) => row.slice());
  const [vRe, vIm] = [new Float64Array(d), new Float64Array(d)];
  const all = ports.map(({ excess }) => excessOver(excess, frequenciesHz));
  frequenciesHz.forEach((_, i) => {
    const [re, im] = [2 * i, 2 * i + 1];
    const y = all.map((row) => row[i]);
    const [aRe, aIm] = [new Float64Array(d * d), new Float64Array(d * d)];
    for (let p = 0; p < d; p++)
      for (let k = 0; k < d; k++) {
        const z = atPorts.driven[k][p];
        aRe[p * d + k] = (p === k ? 1 : 0) + z[re] * y[k].re - z[im] * y[k].im;
        aIm[p * d + k] = z[re] * y[k].im + z[im] * y[k].re;
      }
    new ComplexLu(d, aRe, aIm).solve(
      Float64Array.from(atPorts.own, (row) => row[re]),
      Float64Array.from(atPorts.own, (row) => row[im]),
      vRe,
      vIm,
    );
    for (let k = 0; k < d; k++) {
      const amps = { re: y[k].re * vRe[k] - y[k].im * vIm[k], im: y[k].re * vIm[k] + y[k].im * vRe[k] };
      out.forEach((row, u) => {
        const t = driven[k][u];
        row[re] -= t[re] * amps.re - t[im] * amps.im;
        row[im] -= t[re] * amps.im + t[im] * amps.re;
      });
    }
  });
  return out;
}
