import { gaussian } from '../math/gaussian';

/** A sound card as the circuit sees it. */
export interface Card {
  /** Volts at full scale, peak, out and in alike. */
  readonly fullScaleVolts: number;
  /** From what is played to where it is recorded, s. */
  readonly latencyS: number;
  /** Where its coupling capacitor begins to lose, Hz, −3 dB. */
  readonly lowHz: number;
  /** Hum of the mains, peak re full scale, dB, and where it is, Hz. */
  readonly humDbfs: number;
  readonly humHz: number;
  /** Noise, root mean square re full scale, dB. */
  readonly noiseDbfs: number;
  readonly bits: number;
}

export const WORKSHOP_CARD: Card = {
  fullScaleVolts: 2,
  latencyS: 0.0213,
  lowHz: 0.5,
  humDbfs: -122,
  humHz: 50,
  noiseDbfs: -120,
  bits: 24,
};

/** Harmonics of the hum, as shares of its first. */
const HUM = [1, 0.25, 0.5, 0.1, 0.3];

/**
 * What a card records of so many volts: late, without direct current, with hum and noise, held at full scale, in steps
 * of its bits. @param snrDb root mean square of what comes in over that of the noise, in place of the card's own noise.
 */
export function recordedBy(
  card: Card,
  volts: Float64Array,
  rateHz: number,
  seed: number,
  snrDb?: number,
): Float64Array {
  const late = Math.round(card.latencyS * rateHz);
  const out = new Float64Array(volts.length + late);
  const kept = Math.exp((-2 * Math.PI * card.lowHz) / rateHz);
  let [before, held, square] = [0, 0, 0];
  for (let i = 0; i < volts.length; i++) {
    const v = volts[i] / card.fullScaleVolts;
    square += v * v;
    held = kept * (held + v - before);
    before = v;
    out[late + i] = held;
  }
  const noise =
    snrDb === undefined ? 10 ** (card.noiseDbfs / 20) : Math.sqrt(square / volts.length) * 10 ** (-snrDb / 20);
  const hum = 10 ** (card.humDbfs / 20);
  const next = gaussian(seed);
  const steps = 2 ** (card.bits - 1);
  for (let i = 0; i < out.length; i++) {
    let v = out[i] + noise * next();
    HUM.forEach((share, h) => (v += hum * share * Math.sin((2 * Math.PI * (h + 1) * card.humHz * i) / rateHz)));
    out[i] = Math.max(-1, Math.min(1 - 1 / steps, Math.round(v * steps) / steps));
  }
  return out;
}
