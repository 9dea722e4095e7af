import * as z from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import { LinearMotion, stretches, type SeenStep } from '../../analysis/time/linear-motion';
import { periodicWave, waveInTime, WAVE_IDS, type WaveId } from '../../analysis/time/periodic-waves';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile, IDEAL, type Compilation } from '../../design/compiled/compile';
import { failure, success, type Result } from '../../result';
import { runStep, stepFigures, stillAfter, type StepFigures, type StepRun } from '../../analysis/time/step-response';
import type { Way } from '../../design/document/schema';
import { declaredPassBand } from '../reading/pass-band';
import { naturalOf, stabilityOf } from '../reading/read-way';
import { withoutCapacitors } from './desk-extras';
import { harmonicsThrough, type Harmonics } from './harmonics';

const timeRequest = requestOf('time', {
  ...ofVariant,
  ghostVariantId: z.string().nullable(),
  /** Also with this stage's capacitors left out. */
  bareStage: z.string().nullish(),
  /** Of the step, or of the wave: V; 1 unless said. */
  peakVolts: z.number().positive().max(1e6).optional(),
  /** What the source rests at: V; 0 unless said. */
  offsetVolts: z.number().min(-1e6).max(1e6).optional(),
  wave: z.union([
    z.object({
      kind: z.literal('step'),
    }),
    z.object({
      kind: z.literal('periodic'),
      wave: z.enum(WAVE_IDS),
      freqHz: z.number().positive(),
    }),
  ]),
});
export type TimeRequest = z.infer<typeof timeRequest>;

/** All in V. */
export interface TimeResult {
  readonly timeS: Float64Array;
  readonly drive: Float64Array;
  readonly asBuilt: Float64Array;
  readonly ideal: Float64Array | null;
  readonly ghost: Float64Array | null;
  readonly bare: Float64Array | null;
  /** Of a step as built; null for a wave. */
  readonly settling: StepOutcome | null;
  /** Of a wave: its harmonics before and after. */
  readonly harmonics: (Harmonics & { readonly ghost: Float64Array | null }) | null;
}

/** Figures of a step, or why there are none. */
export type StepOutcome =
  | ({ readonly figures: 'found' } & StepFigures)
  /** It oscillates, is undamped, or takes too long to follow to its end. */
  | { readonly figures: 'none'; readonly why: 'oscillates' | 'undamped' | 'never-settles' };

/** Points of a step at least and at most, and points across a period of what still rings in view. */
const STEP_POINTS = 600;
const MOST_STEP_POINTS = 6000;
const POINTS_A_PERIOD = 12;
/** What does not settle is shown for so many periods of its lowest cutoff. */
const STEP_PERIODS = 3;
/** The view ends a little after no more than this share of the largest distance from the end is left. */
const STILL_SHARE = 0.005;
const VIEW_ROOM = 1.15;
const WAVE_POINTS = 240;
const WAVE_PERIODS = 2;

/** The output in time for a step of the source, or for a periodic wave once all that fades has faded. */
export function runTime(request: TimeRequest, solver: AcSolver): Result<TimeResult> {
  const { design, variantId, ghostVariantId, bareStage, wave } = request;
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return built;
  const view = wave.kind === 'step' ? stepView(built.value, variant.ways[0], request.peakVolts) : null;
  const asBuilt = curveOf(built.value, request, view);
  if (!asBuilt.ok) return asBuilt;
  const other = (compiled: Result<Compilation> | null) => {
    const response = compiled?.ok ? curveOf(compiled.value, request, view) : null;
    return response?.ok ? response.value.output : null;
  };
  const ghost = design.variants.find((v) => v.id === ghostVariantId);
  const laidUnder = ghost ? compile(design, ghost, AS_BUILT) : null;
  const bare = bareStage ? withoutCapacitors(variant, built.value.ways[0].stages, bareStage) : null;
  const { timeS, drive, output } = asBuilt.value;
  return success({
    timeS,
    drive,
    asBuilt: output,
    ideal: other(compile(design, variant, IDEAL)),
    ghost: other(laidUnder),
    bare: other(bare && compile(design, bare, AS_BUILT)),
    settling: view?.outcome ?? null,
    harmonics:
      wave.kind === 'periodic'
        ? spectra(built.value, laidUnder, { ...wave, peakVolts: request.peakVolts }, solver)
        : null,
  });
}

const curveOf = (
  built: Compilation,
  { wave, peakVolts = 1, offsetVolts = 0 }: TimeRequest,
  view: StepView | null,
): Result<TimeCurve> =>
  wave.kind === 'step'
    ? stepResponse(built, view ?? { stopS: STEP_PERIODS / lowestHz(built), points: STEP_POINTS }, {
        peakVolts,
        offsetVolts,
      })
    : steadyWave(built, wave.wave, wave.freqHz, { peakVolts, offsetVolts });

/** How long a step is shown, in how many points, and what is read off it. */
interface StepView {
  readonly stopS: number;
  readonly points: number;
  readonly outcome: StepOutcome;
}

/** A step of the source, run from rest until it stands still: the circuit is linear, an offset changes nothing. */
function stepView(built: Compilation, way: Way, peakVolts = 1): StepView {
  const outcome = stepOutcome(built, way, peakVolts);
  if (!outcome.run) return { stopS: STEP_PERIODS / lowestHz(built), points: STEP_POINTS, outcome: outcome.told };
  const stopS = VIEW_ROOM * stillAfter(outcome.run, STILL_SHARE);
  if (!(stopS > 0)) return { stopS: 1 / lowestHz(built), points: STEP_POINTS, outcome: outcome.told };
  const ringing = naturalOf(built).filter(({ re, im }) => im > -re && -re * stopS < RINGS_ON);
  const periods = ringing.reduce((m, { im }) => Math.max(m, (stopS * im) / (2 * Math.PI)), 0);
  const points = Math.min(MOST_STEP_POINTS, Math.max(STEP_POINTS, Math.ceil(POINTS_A_PERIOD * periods)));
  return { stopS, points, outcome: outcome.told };
}
/** A mode that decays by more than so many nepers in view is not seen ringing there. */
const RINGS_ON = 60;

/** The step response of a compiled variant and its figures, or why it has none. */
export function stepOutcome(
  built: Compilation,
  way: Way,
  peakVolts = 1,
): { readonly told: StepOutcome; readonly run: StepRun | null } {
  const natural = naturalOf(built);
  const { stable, undamped } = stabilityOf(natural);
  const none = (why: Extract<StepOutcome, { figures: 'none' }>['why']) =>
    ({ told: { figures: 'none', why }, run: null }) as const;
  if (!stable) return none(undamped ? 'undamped' : 'oscillates');
  const run = runStep(built.circuit, built.ways[0].output, natural, peakVolts);
  if (!run.ok) return none('never-settles');
  return { told: { figures: 'found', ...figuresDeclared(built, way, stepFigures(run.value)) }, run: run.value };
}

/** What is declared to pass nothing at 0 Hz settles on no value of its own: where it ends is what leaks through. */
export function figuresDeclared(built: Compilation, way: Way, figures: StepFigures): StepFigures {
  const passes = declaredPassBand(way, built.ways[0].stages);
  return passes && passes.fromHz > 0 ? { ...figures, end: null } : figures;
}

/** Harmonics before and after, and after the variant laid under; null where there is no answer. */
function spectra(
  built: Compilation,
  laidUnder: Result<Compilation> | null,
  wave: { readonly wave: WaveId; readonly freqHz: number; readonly peakVolts?: number },
  solver: AcSolver,
): TimeResult['harmonics'] {
  const own = harmonicsThrough(built, wave, solver);
  if (!own.ok) return null;
  const { before, after } = own.value;
  const under = laidUnder?.ok ? harmonicsThrough(laidUnder.value, wave, solver) : null;
  return { before, after, ghost: under?.ok ? under.value.after : null };
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
/** How large a drive is, and what it rests at: V. */
interface Level {
  readonly peakVolts: number;
  readonly offsetVolts: number;
}
const UNIT: Level = { peakVolts: 1, offsetVolts: 0 };

/** From rest at the offset, the source steps up by the peak. */
function stepResponse(
  built: Compilation,
  { stopS, points }: Pick<StepView, 'stopS' | 'points'>,
  { peakVolts, offsetVolts }: Level,
): Result<TimeCurve> {
  const motion = new LinearMotion(built.circuit);
  const walk = stretches(0, stopS, points, [0], highestHz(built));
  const still = stretches(0, stopS, points, [], highestHz(built));
  const rest =
    offsetVolts === 0 ? success(new Float64Array(motion.size)) : motion.steadyState(still, () => offsetVolts);
  if (!rest.ok) return rest;
  const rows = motion.run(rest.value, walk, () => offsetVolts + peakVolts);
  if (!rows.ok) return rows;
  const timeS = Float64Array.from(rows.value, (_, i) => (i * stopS) / points);
  return success({
    timeS,
    drive: timeS.map(() => offsetVolts + peakVolts),
    output: nodeOver(built, rows.value, built.ways[0].output),
  });
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

/** All unknowns over one period of a wave in the steady state: count + 1 rows. */
export function steadyRows(
  built: Compilation,
  id: WaveId,
  freqHz: number,
  seen?: SeenStep,
  { peakVolts, offsetVolts }: Level = UNIT,
): Result<Float64Array[]> {
  const wave = periodicWave(id);
  const shape = waveInTime(wave, freqHz);
  const drive = (timeS: number) => offsetVolts + peakVolts * shape(timeS);
  const walk = stretches(
    0,
    1 / freqHz,
    WAVE_POINTS,
    wave.edges.map((phase) => phase / freqHz),
    highestHz(built),
  );
  const motion = new LinearMotion(built.circuit);
  const start = motion.steadyState(walk, drive);
  return start.ok ? motion.run(start.value, walk, drive, seen) : start;
}

function steadyWave(built: Compilation, id: WaveId, freqHz: number, level: Level): Result<TimeCurve> {
  const rows = steadyRows(built, id, freqHz, undefined, level);
  if (!rows.ok) return rows;
  const one = nodeOver(built, rows.value, built.ways[0].output);
  return success({ ...driveOver(id, freqHz, level), output: repeated(one) });
}

/** The wave itself over the periods shown. */
export function driveOver(
  id: WaveId,
  freqHz: number,
  { peakVolts, offsetVolts }: Level = UNIT,
): { timeS: Float64Array; drive: Float64Array } {
  const wave = periodicWave(id);
  const timeS = Float64Array.from({ length: WAVE_PERIODS * WAVE_POINTS + 1 }, (_, i) => i / WAVE_POINTS / freqHz);
  const drive = timeS.map((_, i) => offsetVolts + peakVolts * wave.at((i % WAVE_POINTS) / WAVE_POINTS));
  return { timeS, drive };
}

/** One period as often as it is shown. */
export const repeated = (period: Float64Array): Float64Array =>
  Float64Array.from({ length: WAVE_PERIODS * (period.length - 1) + 1 }, (_, i) => period[i % (period.length - 1)]);

export const timeJob = defineJob(timeRequest, (request, { solver }) => runTime(request, solver));
