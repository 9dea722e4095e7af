import { naturalFrequencies } from '../../analysis/roots/poles';
import type { Assembled } from '../../circuit/structure';
import { OPTOCOUPLER_VALUES } from '../../circuit/elements/optocoupler';
import type { Compilation } from '../../design/compiled/compile';
import type { Complex } from '../../math/complex';

/**
 * Where to look for the filter's poles: about a frequency, past the rates (1/s) at which cells follow their lamps,
 * which shape no sound.
 */
export interface Band {
  readonly aboutHz: number;
  readonly slow: readonly number[];
}

export function bandOf({ ways, netlist }: Compilation): Band {
  const corners = ways[0].stages.flatMap((s) => s.cornersHz);
  const followed = (['riseS', 'fallS'] as const).map((name) => OPTOCOUPLER_VALUES.indexOf(name));
  return {
    aboutHz: corners.length > 0 ? Math.sqrt(Math.min(...corners) * Math.max(...corners)) : 1000,
    slow: netlist.elements
      .filter((e) => e.definition.kind === 'optocoupler')
      .flatMap((e) => followed.map((i) => 1 / e.values[i])),
  };
}

/** Poles of the audio band and about it: far ones are the op-amps'. */
const WIDEST = 3000;
/** Two rates this near are one. */
const SAME = 1e-3;

/** The pair that rings longest for its frequency, or with none the slowest real pole. */
export function longest(
  circuit: Assembled,
  { aboutHz, slow }: Band,
): { freqHz: number; q: number; pole: Complex } | null {
  const about = 2 * Math.PI * aboutHz;
  const poles = naturalFrequencies(circuit, about).filter(
    (p) =>
      Math.hypot(p.re, p.im) < WIDEST * about &&
      Math.hypot(p.re, p.im) > about / WIDEST &&
      !slow.some((rate) => Math.abs(p.re / rate + 1) < SAME && Math.abs(p.im) < SAME * rate),
  );
  const rated = poles
    .filter((p) => p.im >= 0)
    .map((pole) => {
      const size = Math.hypot(pole.re, pole.im);
      return { pole, freqHz: size / (2 * Math.PI), q: pole.im > 1e-6 * size ? size / (-2 * pole.re) : 0.5 };
    });
  const pairs = rated.filter((r) => r.q !== 0.5);
  if (pairs.length > 0) return pairs.reduce((a, b) => (b.pole.re / b.freqHz > a.pole.re / a.freqHz ? b : a));
  return rated.length > 0 ? rated.reduce((a, b) => (b.freqHz < a.freqHz ? b : a)) : null;
}
