/** Reads interleaved re, im arrays as the quantities people look at. */

/** Level in dB of each point. */
export function levelsDb(response: Float64Array): Float64Array {
  return Float64Array.from(
    { length: response.length / 2 },
    (_, i) => 10 * Math.log10(response[2 * i] ** 2 + response[2 * i + 1] ** 2),
  );
}

/** Phase in degrees, unwrapped along the grid from a start in (−180, 180]. */
export function phasesDeg(response: Float64Array): Float64Array {
  const out = new Float64Array(response.length / 2);
  let turns = 0;
  for (let i = 0; i < out.length; i++) {
    const raw = (Math.atan2(response[2 * i + 1], response[2 * i]) * 180) / Math.PI;
    if (i > 0) turns += Math.round((out[i - 1] - (raw + 360 * turns)) / 360);
    out[i] = raw + 360 * turns;
  }
  return out;
}

/**
 * Group delay in seconds, −dφ/dω, by differences on the grid (central inside, one-sided at the ends; second order on an
 * uneven grid).
 */
export function groupDelaysS(frequenciesHz: Float64Array, phaseDeg: Float64Array): Float64Array {
  const last = phaseDeg.length - 1;
  const slope = (a: number, b: number) => -(phaseDeg[b] - phaseDeg[a]) / 360 / (frequenciesHz[b] - frequenciesHz[a]);
  return phaseDeg.map((_, i) => {
    if (i === 0) return slope(0, 1);
    if (i === last) return slope(last - 1, last);
    const [before, after] = [frequenciesHz[i] - frequenciesHz[i - 1], frequenciesHz[i + 1] - frequenciesHz[i]];
    return (slope(i - 1, i) * after + slope(i, i + 1) * before) / (before + after);
  });
}
