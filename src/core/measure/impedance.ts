import type { Analysed } from './analyse';

/** Size and angle of an impedance, and how far noise may move it, per cent. */
export interface MeasuredImpedance {
  readonly freqHz: Float64Array;
  readonly ohm: Float64Array;
  readonly phaseDeg: Float64Array;
  readonly offPct: Float64Array;
}

/**
 * What lies beyond a known resistor, from the share of the voltage that is across it: Z = R H / (1 − H). The share is
 * the sweep across it, that of the source by itself divided out. Where next to all of the voltage is across it, or next
 * to none, noise counts by 1 / |H (1 − H)|.
 */
export function impedanceBeyond(
  share: Pick<Analysed, 'freqHz' | 'levelDb' | 'phaseDeg' | 'noiseDb'>,
  seriesOhm: number,
): MeasuredImpedance {
  const { freqHz, levelDb, phaseDeg, noiseDb } = share;
  const [ohm, angle, offPct] = [freqHz, freqHz, freqHz].map((f) => new Float64Array(f.length));
  freqHz.forEach((_, i) => {
    const [size, turn] = [10 ** (levelDb[i] / 20), (phaseDeg[i] * Math.PI) / 180];
    const [re, im] = [size * Math.cos(turn), size * Math.sin(turn)];
    const rest = Math.hypot(1 - re, im);
    ohm[i] = (seriesOhm * size) / rest;
    angle[i] = ((turn - Math.atan2(-im, 1 - re)) * 180) / Math.PI;
    angle[i] -= 360 * Math.round(angle[i] / 360);
    offPct[i] = (100 * 10 ** (noiseDb[i] / 20)) / (size * rest);
  });
  return { freqHz, ohm, phaseDeg: angle, offPct };
}
