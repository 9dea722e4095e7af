import { sineWave } from '../../circuit/waves';
import type { Assembled } from '../../circuit/structure';
import { failure, success, type Result } from '../../result';
import type { Conditions } from '../rest/equations';
import { transient, type TransientFailure } from './transient';

export interface DistortionRequest {
  /** The source that gives the tone; others stay at rest. */
  readonly source: string;
  readonly amplitude: number;
  readonly freqHz: number;
  /** Unknowns whose difference is looked at; −1 is ground. */
  readonly output: readonly [number, number];
  /** Highest harmonic, 10 unless given. */
  readonly harmonics?: number;
  readonly conditions?: Conditions;
}

export interface Distortion {
  /** Peak of each harmonic, from the fundamental on. */
  readonly levels: Float64Array;
  /** √(Σ harmonics²) / fundamental. */
  readonly total: number;
  /** Periods run before the one that was measured. */
  readonly settledAfter: number;
}

/** Points a period; a power of two, so that the harmonics fall between none. */
const POINTS = 256;
/** A period counts as settled when it differs from the last by no more than this share of its swing. */
const SETTLED = 1e-5;
const MOST_PERIODS = 640;

/**
 * Harmonics of a tone through a circuit: time is run until one period repeats the last, and that one is taken apart (a
 * discrete Fourier sum over a whole period, exact for what is periodic). Fails as the transient does, with
 * `no-such-source`, or with `not-settled` (`periods`).
 */
export function distortion(
  circuit: Assembled,
  request: DistortionRequest,
): Result<Distortion, TransientFailure | 'no-such-source' | 'not-settled'> {
  if (!circuit.structure.drives.some((d) => d.element === request.source))
    return failure('no-such-source', { source: request.source });
  const before = circuit.sources?.get(request.source);
  const sources = new Map(circuit.sources ?? []);
  sources.set(request.source, { ...before, wave: sineWave(before?.dc ?? 0, request.amplitude, request.freqHz) });
  const n = circuit.structure.size;
  for (let periods = 20; periods <= MOST_PERIODS; periods *= 2) {
    const run = transient(
      { ...circuit, sources },
      { stopS: periods / request.freqHz, stepS: 1 / request.freqHz / POINTS, conditions: request.conditions },
    );
    if (!run.ok) return run;
    const { unknowns } = run.value;
    const value = (i: number) =>
      (request.output[0] < 0 ? 0 : unknowns[i * n + request.output[0]]) -
      (request.output[1] < 0 ? 0 : unknowns[i * n + request.output[1]]);
    const period = (from: number) => Float64Array.from({ length: POINTS }, (_, i) => value(from + i));
    const [last, previous] = [period((periods - 1) * POINTS), period((periods - 2) * POINTS)];
    const swing = Math.max(...last) - Math.min(...last);
    if (last.some((v, i) => Math.abs(v - previous[i]) > SETTLED * swing + 1e-12)) continue;
    const levels = Float64Array.from({ length: request.harmonics ?? 10 }, (_, h) => harmonic(last, h + 1));
    const rest = Math.sqrt(levels.subarray(1).reduce((sum, v) => sum + v * v, 0));
    return success({ levels, total: rest / levels[0], settledAfter: periods - 1 });
  }
  return failure('not-settled', { periods: MOST_PERIODS });
}

/** Peak of the h-th harmonic of one period. */
function harmonic(period: Float64Array, h: number): number {
  let [re, im] = [0, 0];
  period.forEach((v, i) => {
    re += v * Math.cos((2 * Math.PI * h * i) / period.length);
    im += v * Math.sin((2 * Math.PI * h * i) / period.length);
  });
  return (2 * Math.hypot(re, im)) / period.length;
}
