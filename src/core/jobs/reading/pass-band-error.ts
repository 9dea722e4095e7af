import { CurveReader } from '../../analysis/curves/curve-reader';
import type { ResponseOf } from '../../analysis/curves/curve-sampling';
import { HALF_POWER_DB } from '../../analysis/curves/marks';
import type { SectionTarget } from '../../filter/section';
import { complex, type Complex } from '../../math/complex';
import type { Span } from '../../math/grid';

/** A curve to be compared: its response, and its natural frequencies (rad/s), which say where it must be looked at. */
export interface ComparedCurve {
  readonly responseOf: ResponseOf;
  readonly natural: readonly Complex[];
}

/** Poles of sections, rad/s. */
export const polesOfSections = (sections: readonly SectionTarget[]): Complex[] =>
  sections.map(({ freqHz, q, order }) => {
    const omega = 2 * Math.PI * freqHz;
    return order === 2 && q > 0.5
      ? complex(-omega / (2 * q), omega * Math.sqrt(1 - 1 / (4 * q * q)))
      : complex(-omega, 0);
  });

/**
 * The largest difference of a curve from its ideal where the ideal lies within 3 dB of the gain asked for, dB, with its
 * sign: both are sampled where either moves, and the difference itself is refined until it stands still.
 */
export function worstPassBandError(built: ComparedCurve, ideal: ComparedCurve, askedDb: number, span: Span): number {
  const natural = [...built.natural, ...ideal.natural];
  const passed = new CurveReader(ideal.responseOf, ideal.natural, span);
  const ends = passed.crossings(askedDb + HALF_POWER_DB).map((c) => c.freqHz);
  const edges = [span.fromHz, ...ends, span.toHz];
  const inside = edges
    .slice(1)
    .map((toHz, i) => ({ fromHz: edges[i], toHz }))
    .filter(({ fromHz, toHz }) => passed.levelAt(Math.sqrt(fromHz * toHz)) >= askedDb + HALF_POWER_DB);
  const ratio: ResponseOf = (freqHz) => {
    const [a, b] = [built.responseOf(freqHz), ideal.responseOf(freqHz)];
    const out = new Float64Array(a.length);
    for (let i = 0; i < a.length; i += 2) {
      const size = b[i] ** 2 + b[i + 1] ** 2;
      out[i] = (a[i] * b[i] + a[i + 1] * b[i + 1]) / size;
      out[i + 1] = (a[i + 1] * b[i] - a[i] * b[i + 1]) / size;
    }
    return out;
  };
  return inside.reduce((worst, band) => {
    const difference = new CurveReader(ratio, natural, band);
    return [difference.highest(), difference.lowest()].reduce(
      (w, { levelDb }) => (Math.abs(levelDb) > Math.abs(w) ? levelDb : w),
      worst,
    );
  }, 0);
}
