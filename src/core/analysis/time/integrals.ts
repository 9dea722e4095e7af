/** Largest error of an integral as a share of it. */
const INTEGRAL_SHARE = 1e-5;
const INTEGRAL_ROUNDS = 14;

/**
 * Integral of several positive densities over frequency (Hz) at once, by Simpson's rule on intervals that are halved
 * until none changes its part of any by more than its share (W. M. McKeeman, Algorithm 145, Comm. ACM 5, 1962: here
 * breadth first, so that a round is one sweep).
 *
 * @param densitiesAt for each frequency, one density for each integral: rows by density.
 * @param start ascending frequencies between which the densities are smooth: a sampling grid.
 */
export function integrals(
  densitiesAt: (freqHz: Float64Array) => readonly Float64Array[],
  start: Float64Array,
): Float64Array {
  const ends = densitiesAt(start);
  const count = ends.length;
  interface Piece {
    readonly a: number;
    readonly b: number;
    readonly fa: number[];
    readonly fm: number[];
    readonly fb: number[];
  }
  const column = (rows: readonly Float64Array[], i: number) => rows.map((row) => row[i]);
  const middles = densitiesAt(Float64Array.from({ length: start.length - 1 }, (_, i) => (start[i] + start[i + 1]) / 2));
  let open: Piece[] = Array.from({ length: start.length - 1 }, (_, i) => ({
    a: start[i],
    b: start[i + 1],
    fa: column(ends, i),
    fm: column(middles, i),
    fb: column(ends, i + 1),
  }));
  const simpson = ({ a, b, fa, fm, fb }: Piece, k: number) => ((b - a) / 6) * (fa[k] + 4 * fm[k] + fb[k]);
  const done = new Float64Array(count);
  for (let round = 0; open.length > 0; round++) {
    const whole = done.map((sum, k) => sum + open.reduce((total, piece) => total + simpson(piece, k), 0));
    const quarters = densitiesAt(Float64Array.from(open.flatMap(({ a, b }) => [a + (b - a) / 4, b - (b - a) / 4])));
    const next: Piece[] = [];
    open.forEach((piece, i) => {
      const { a, b, fa, fm, fb } = piece;
      const m = (a + b) / 2;
      const halves: Piece[] = [
        { a, b: m, fa, fm: column(quarters, 2 * i), fb: fm },
        { a: m, b, fa: fm, fm: column(quarters, 2 * i + 1), fb },
      ];
      const better = (k: number) => simpson(halves[0], k) + simpson(halves[1], k);
      const settled = whole.every(
        (total, k) =>
          Math.abs(better(k) - simpson(piece, k)) <= (15 * INTEGRAL_SHARE * total) / Math.sqrt(start.length),
      );
      if (settled || round === INTEGRAL_ROUNDS)
        for (let k = 0; k < count; k++) done[k] += better(k) + (better(k) - simpson(piece, k)) / 15;
      else next.push(...halves);
    });
    open = next;
  }
  return done;
}
