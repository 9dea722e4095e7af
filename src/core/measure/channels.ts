import { impulseOf, type Recording } from './impulse';
import { lawOf } from './sweep';

/** Which of two recorded channels is the board, and which, if either, is the card's own output beside it. */
export interface Channels {
  readonly board: Float64Array;
  readonly loopback: Float64Array | null;
}

/** A channel is nearly what was played where its impulse holds this share of its energy within a few samples. */
const OWN_OUTPUT = 0.9;
const AROUND = 8;

/**
 * Tells the channels of a stereo recording apart: the one in which the sweep is found is the board; where it is
 * found in
 * both, the one that is nearest to the sweep itself is the card's own output, if it is near at all. A recording in
 * whose
 * channels nothing is found is left as it is.
 */
export function channelsOf(first: Float64Array, second: Float64Array, sweep: Recording): Channels {
  const law = lawOf(sweep.samples, sweep.rateHz);
  const alone = { board: first, loopback: null };
  if (!law.ok) return alone;
  const [a, b] = [first, second].map((samples) => {
    const impulse = impulseOf({ samples, rateHz: sweep.rateHz }, sweep, law.value);
    if (!impulse) return null;
    const { samples: h, at } = impulse;
    let [near, all] = [0, 0];
    for (let i = 0; i < h.length; i++) {
      const apart = Math.min(Math.abs(i - at), h.length - Math.abs(i - at));
      all += h[i] * h[i];
      if (apart <= AROUND) near += h[i] * h[i];
    }
    return near / all;
  });
  if (a === null) return b === null ? alone : { board: second, loopback: null };
  if (b === null) return alone;
  if (Math.max(a, b) < OWN_OUTPUT) return alone;
  return a > b ? { board: second, loopback: first } : { board: first, loopback: second };
}
