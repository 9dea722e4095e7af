/** Delays that are looked for, s, and how finely, as a share of the shortest period. */
const MOST_S = 0.02;
const STEP = 0.2;
/**
 * A delay is believed where it brings the phases so much nearer together, as a share of perfect agreement, and nearly
 * all the way; or far nearer, on a board that is also wrong.
 */
const WORTH = 0.03;
const NEARLY_ALL = 0.9;
const FAR_NEARER = 0.35;

/**
 * The delay that brings a measured phase nearest to what a sound board would have, whatever its polarity: the lag at
 * which the sum of unit vectors at the phase differences is longest (C. H. Knapp and G. C. Carter, IEEE Trans. ASSP 24,
 * 1976: the phase transform). In s, later than it should be
 * positive; 0 where none within 20 ms fits better than none.
 *
 * @param phaseRad measured, rad; @param response what a sound board has at the same frequencies, re and im by turns.
 * @param sure how far each phase is to be trusted, 0 to 1.
 */
export function recordedDelay(
  freqHz: Float64Array,
  phaseRad: Float64Array,
  response: Float64Array,
  sure: Float64Array,
): number {
  const apart = Float64Array.from(
    phaseRad,
    (measured, i) => measured - Math.atan2(response[2 * i + 1], response[2 * i]),
  );
  const total = sure.reduce((sum, v) => sum + v, 0);
  const agreement = (delayS: number): number => {
    let [re, im] = [0, 0];
    for (let i = 0; i < freqHz.length; i++) {
      const angle = apart[i] + 2 * Math.PI * freqHz[i] * delayS;
      re += sure[i] * Math.cos(angle);
      im += sure[i] * Math.sin(angle);
    }
    return Math.hypot(re, im) / total;
  };
  const highest = freqHz.reduce((m, f, i) => (sure[i] > 0.5 ? Math.max(m, f) : m), 0);
  if (!(total > 0) || !(highest > 0)) return 0;
  const step = STEP / highest;
  const count = Math.ceil(MOST_S / step);
  let best = { delayS: 0, value: agreement(0) };
  const none = best.value;
  for (let k = -count; k <= count; k++) {
    const value = agreement(k * step);
    if (value > best.value) best = { delayS: k * step, value };
  }
  const nearer = best.value - none;
  if (!(nearer > FAR_NEARER || (nearer > WORTH && best.value > NEARLY_ALL))) return 0;
  for (let fine = step / 2; fine > step * 1e-4; fine /= 2)
    for (const delayS of [best.delayS - fine, best.delayS + fine]) {
      const value = agreement(delayS);
      if (value > best.value) best = { delayS, value };
    }
  return best.delayS;
}
