import { denseMatrices, driveVector, type Structure } from '../../circuit/structure';
import { ComplexLu } from '../elimination/dense-lu';
import { PointBuffer, type AcKernel } from './kernel';

/**
 * The readable reference: a dense LU with partial pivoting at every frequency. Slow and trusted; the oracle of the
 * other kernels.
 */
export function denseKernel(structure: Structure): AcKernel {
  const points = new PointBuffer();
  return {
    solve(values, frequenciesHz, unknowns) {
      const n = structure.size;
      const m = frequenciesHz.length;
      const { g, c } = denseMatrices(structure, values);
      const b = driveVector(structure, values);
      points.prepare(unknowns.length, m);
      const [xRe, xIm] = [new Float64Array(n), new Float64Array(n)];
      for (let f = 0; f < m; f++) {
        const omega = 2 * Math.PI * frequenciesHz[f];
        const lu = new ComplexLu(
          n,
          g.slice(),
          c.map((v) => v * omega),
        );
        if (lu.singular) xRe.fill(NaN);
        else lu.solve(b.re, b.im, xRe, xIm);
        for (let u = 0; u < unknowns.length; u++)
          points.put(u, f, xRe[unknowns[u]], lu.singular ? NaN : xIm[unknowns[u]]);
      }
      return points;
    },
  };
}
