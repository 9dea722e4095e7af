import type { AcSolver } from '../../analysis/ac/solver';
import type { Design, Variant } from '../../design/document/schema';
import { timesResponse } from '../../math/complex';
import { powerOfTwo, realSpectrum, samplesOf } from '../../math/fourier';
import { failure, success, type Result } from '../../result';
import { fromDecibels } from '../../units/quantity';
import { aimOf, speakerSystem, sumOf } from '../loudspeaker/speaker-system';

/** What of a crossover is heard: all its drivers from the listener's place, or one way by itself, by its name. */
export type CrossoverPart = 'sum' | { readonly way: string };

/** Two thirds of a second: what rings longer lies under what is heard. */
const RESPONSE_SAMPLES = 32_768;
/** All of it comes so much later, so that a driver nearer than the axis's start is not early, s. */
const LATER_S = 1e-3;

/**
 * Volts at an amplifier as they are heard of a crossover: through network, driver and the way to the listener, 1 for
 * the level that is aimed at. It is linear: convolved with its impulse response. Fails as the design does, or with
 * `no-such-way` (`way`).
 */
export function crossoverSound(
  design: Design,
  variant: Variant,
  part: CrossoverPart,
  volts: Float64Array,
  rateHz: number,
  solver: AcSolver,
): Result<Float64Array> {
  const freqHz = Float64Array.from({ length: RESPONSE_SAMPLES / 2 }, (_, k) => ((k + 1) * rateHz) / RESPONSE_SAMPLES);
  const system = speakerSystem(design, variant, freqHz, solver);
  if (!system.ok) return system;
  const { ways } = system.value;
  const heard = part === 'sum' ? ways : ways.filter((w) => w.way.name === part.way);
  if (heard.length === 0) return failure('no-such-way', { way: part === 'sum' ? '' : part.way });
  const { levelDb } = aimOf(design, variant);
  const pressure = sumOf(heard.map((w) => w.pressure));
  const spectrum = new Float64Array(RESPONSE_SAMPLES + 2);
  freqHz.forEach((f, k) => {
    const turn = -2 * Math.PI * f * LATER_S;
    const [cos, sin] = [Math.cos(turn) / fromDecibels(levelDb), Math.sin(turn) / fromDecibels(levelDb)];
    const [re, im] = [pressure[2 * k], pressure[2 * k + 1]];
    spectrum[2 * k + 2] = re * cos - im * sin;
    spectrum[2 * k + 3] = re * sin + im * cos;
  });
  // A sampled response has no phase at half its rate.
  spectrum[RESPONSE_SAMPLES + 1] = 0;
  const impulse = samplesOf(spectrum, RESPONSE_SAMPLES);
  const size = powerOfTwo(volts.length + RESPONSE_SAMPLES);
  const played = timesResponse(realSpectrum(volts, size), realSpectrum(impulse, size));
  return success(samplesOf(played, size).slice(0, volts.length));
}
