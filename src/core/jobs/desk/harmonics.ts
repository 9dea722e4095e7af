import { periodicWave, type WaveId } from '../../analysis/time/periodic-waves';
import type { AcSolver } from '../../analysis/ac/solver';
import type { Compilation } from '../../design/compiled/compile';
import { success, type Result } from '../../result';

/** Peak of harmonics 1, 2 … before and after, V. */
export interface Harmonics {
  readonly before: Float64Array;
  readonly after: Float64Array;
}

const HARMONICS = 15;

/**
 * What each harmonic of a wave comes to behind a circuit of one way. Also the response at them, interleaved re, im.
 * Fails as the solver does.
 */
export function harmonicsThrough(
  { circuit, ways }: Compilation,
  { wave, freqHz, peakVolts = 1 }: { readonly wave: WaveId; readonly freqHz: number; readonly peakVolts?: number },
  solver: AcSolver,
): Result<Harmonics & { readonly response: Float64Array }> {
  const harmonicHz = Float64Array.from({ length: HARMONICS }, (_, k) => (k + 1) * freqHz);
  const passed = solver.sweep(circuit, harmonicHz, [ways[0].output]);
  if (!passed.ok) return passed;
  const [response] = passed.value;
  const before = harmonicHz.map((_, k) => peakVolts * periodicWave(wave).harmonic(k + 1));
  return success({
    before,
    after: before.map((size, k) => size * Math.hypot(response[2 * k], response[2 * k + 1])),
    response,
  });
}
