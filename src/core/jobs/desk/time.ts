import { z } from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import { LinearMotion, stretches, type SeenStep } from '../../analysis/linear-motion';
import { periodicWave, waveInTime, WAVE_IDS, type WaveId } from '../../analysis/periodic-waves';
import { AS_BUILT, compile, IDEAL, type Compilation } from '../../design/compile';
import { failure, success, type Result } from '../../result';

const timeRequest = requestOf('time', {
  ...ofVariant,
  ghostVariantId: z.string().nullable(),
  wave: z.union([
    z.object({
      kind: z.literal('step'),
    }),
    z.object({
      kind: z.literal('periodic'),
      wave: z.enum(WAVE_IDS),
      freqHz: z.number(),
    }),
  ]),
});
export type TimeRequest = z.infer<typeof timeRequest>;

export interface TimeResult {
  readonly timeS: Float64Array;
  readonly drive: Float64Array;
  readonly asBuilt: Float64Array;
  readonly ideal: Float64Array | null;
  readonly ghost: Float64Array | null;
  /**
   * Of a step on a low-pass: per cent above the final value, and the time it last leaves ±2 % of it (s). Null when it
   * does not settle on a value.
   */
  readonly settling: { readonly overshootPct: number; readonly settledS: number } | null;
}

const STEP_POINTS = 600;
/** A time view shows this many periods of the lowest cutoff after a step. */
const STEP_PERIODS = 3;
const WAVE_POINTS = 240;
const WAVE_PERIODS = 2;
const SETTLED = 0.02;

/** The output in time for a unit step of the source, or for a periodic wave once all that fades has faded. */
function runTime({ design, variantId, ghostVariantId, wave }: TimeRequest): Result<TimeResult> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return built;
  const shown =
    wave.kind === 'step'
      ? (c: Compilation) => stepResponse(c, STEP_PERIODS / lowestHz(c))
      : (c: Compilation) => steadyWave(c, wave.wave, wave.freqHz);
  const asBuilt = shown(built.value);
  if (!asBuilt.ok) return asBuilt;
  const other = (compiled: Result<Compilation>) => {
    const response = compiled.ok ? shown(compiled.value) : null;
    return response?.ok ? response.value.output : null;
  };
  const ghost = design.variants.find((v) => v.id === ghostVariantId);
  const { timeS, drive, output } = asBuilt.value;
  return success({
    timeS,
    drive,
    asBuilt: output,
    ideal: other(compile(design, variant, IDEAL)),
    ghost: ghost ? other(compile(design, ghost, AS_BUILT)) : null,
    settling: wave.kind === 'step' ? settlingOf(timeS, output) : null,
  });
}

const cornersOf = (built: Compilation): readonly number[] => {
  const corners = built.ways[0].stages.flatMap((s) => s.cornersHz);
  return corners.length > 0 ? corners : [1000];
};
export const lowestHz = (built: Compilation): number => Math.min(...cornersOf(built));
export const highestHz = (built: Compilation): number => Math.max(...cornersOf(built));

export interface TimeCurve {
  readonly timeS: Float64Array;
  readonly drive: Float64Array;
  readonly output: Float64Array;
}

function stepResponse(built: Compilation, stopS: number): Result<TimeCurve> {
  const motion = new LinearMotion(built.circuit);
  const rows = motion.run(
    new Float64Array(motion.size),
    stretches(0, stopS, STEP_POINTS, [0], highestHz(built)),
    () => 1,
  );
  if (!rows.ok) return rows;
  const timeS = Float64Array.from(rows.value, (_, i) => (i * stopS) / STEP_POINTS);
  return success({ timeS, drive: timeS.map(() => 1), output: nodeOver(built, rows.value, built.ways[0].output) });
}

/** A node's voltage over rows of unknowns. */
export function nodeOver(
  { circuit: { structure } }: Compilation,
  rows: readonly Float64Array[],
  node: string,
): Float64Array {
  const at = structure.nodeOf(node) ?? -1;
  return Float64Array.from(rows, (row) => (at < 0 ? 0 : row[at]));
}

/** All unknowns over one period of a wave of 1 V peak, in the steady state: count + 1 rows. */
export function steadyRows(
  built: Compilation,
  id: WaveId,
  freqHz: number,
  seen?: SeenStep,
  count = WAVE_POINTS,
): Result<Float64Array[]> {
  const wave = periodicWave(id);
  const drive = waveInTime(wave, freqHz);
  const walk = stretches(
    0,
    1 / freqHz,
    count,
    wave.edges.map((phase) => phase / freqHz),
    highestHz(built),
  );
  const motion = new LinearMotion(built.circuit);
  const start = motion.steadyState(walk, drive);
  return start.ok ? motion.run(start.value, walk, drive, seen) : start;
}

function steadyWave(built: Compilation, id: WaveId, freqHz: number): Result<TimeCurve> {
  const rows = steadyRows(built, id, freqHz);
  if (!rows.ok) return rows;
  const one = nodeOver(built, rows.value, built.ways[0].output);
  return success({ ...driveOver(id, freqHz), output: repeated(one) });
}

/** The wave itself over the periods shown. */
export function driveOver(id: WaveId, freqHz: number): { timeS: Float64Array; drive: Float64Array } {
  const wave = periodicWave(id);
  const timeS = Float64Array.from({ length: WAVE_PERIODS * WAVE_POINTS + 1 }, (_, i) => i / WAVE_POINTS / freqHz);
  return { timeS, drive: timeS.map((_, i) => wave.at((i % WAVE_POINTS) / WAVE_POINTS)) };
}

/** One period as often as it is shown. */
export const repeated = (period: Float64Array): Float64Array =>
  Float64Array.from({ length: WAVE_PERIODS * (period.length - 1) + 1 }, (_, i) => period[i % (period.length - 1)]);

function settlingOf(timeS: Float64Array, response: Float64Array): TimeResult['settling'] {
  const final = response[response.length - 1];
  const largest = response.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
  if (Math.abs(final) < 0.2 * largest) return null;
  let last = response.length - 1;
  while (last > 0 && Math.abs(response[last] / final - 1) <= SETTLED) last--;
  const extreme = response.reduce((m, v) => Math.max(m, v / final), 0);
  return { overshootPct: Math.max(0, 100 * (extreme - 1)), settledS: timeS[Math.min(last + 1, timeS.length - 1)] };
}

export const timeJob = defineJob(timeRequest, (request) => runTime(request));
