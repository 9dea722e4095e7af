/** How far ahead the limiter looks, and how slowly it lets go, s. */
const AHEAD_S = 0.005;
const RELEASE_S = 0.2;

/**
 * Keeps a signal under a ceiling by turning it down before a peak and up again after it: one gain for all that sounds
 * at a time, so that no harmonics are made and nothing folds. Below the ceiling it is out of circuit: what is nowhere
 * louder comes out as it went in.
 */
export function limited(signal: Float64Array, rateHz: number, ceiling = 1): Float64Array {
  const ahead = Math.max(1, Math.round(AHEAD_S * rateHz));
  const wanted = signal.map((v) => Math.min(1, ceiling / Math.max(Math.abs(v), 1e-12)));
  if (wanted.every((g) => g === 1)) return signal;
  const release = Math.exp(-1 / (RELEASE_S * rateHz));
  // The least gain of a stretch on either side, let go slowly, then smoothed over that stretch: it has arrived when the
  // peak does.
  const least = movingLeast(wanted, ahead);
  let gain = 1;
  const held = least.map((g) => (gain = Math.min(g, 1 - (1 - gain) * release)));
  const out = new Float64Array(signal.length);
  let sum = 0;
  const at = (i: number) => held[Math.min(held.length - 1, Math.max(0, i))];
  for (let k = -ahead; k < ahead; k++) sum += at(k);
  for (let i = 0; i < signal.length; i++) {
    sum += at(i + ahead);
    out[i] = signal[i] * Math.min(wanted[i], sum / (2 * ahead + 1));
    sum -= at(i - ahead);
  }
  return out;
}

/** The least of so many values to either side of each. */
function movingLeast(values: Float64Array, reach: number): Float64Array {
  const queue: number[] = [];
  let head = 0;
  const out = new Float64Array(values.length);
  for (let i = 0; i < values.length + reach; i++) {
    if (i < values.length) {
      while (queue.length > head && values[queue[queue.length - 1]] >= values[i]) queue.pop();
      queue.push(i);
    }
    const middle = i - reach;
    if (middle < 0) continue;
    while (queue[head] < middle - reach) head++;
    out[middle] = values[queue[head]];
  }
  return out;
}
