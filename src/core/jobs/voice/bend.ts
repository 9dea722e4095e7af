import { z } from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import type { Assembled } from '../../circuit/structure';
import { failure, success, type Result } from '../../result';
import { HALF_POWER_DB } from '../../analysis/marks';
import type { AcSolver } from '../../analysis/solver';
import { AUDIO_BAND, logGrid } from '../../math/grid';
import { builtVariant, IN_TIME, runningCircuit, type BuiltVariant } from '../reading/built-variant';
import type { JobContext } from '../job-context';
import { mainCutoff, marksOf } from '../reading/way-marks';
import { readWay } from '../reading/read-way';
import { harmonicOf, settledPeriod, sine } from './settled-tone';

/** How much of a tone the filter bears before it bends by so much, wherever in what it passes that is least. */
const bendRequest = requestOf('bend', { ...ofVariant, percent: z.number() });
export type BendRequest = z.infer<typeof bendRequest>;

export interface Bend {
  /** The tone that it bears least of, Hz: of those looked at across what passes. All that follows is of that tone. */
  readonly freqHz: number;
  /** The same at its cutoff, V peak at the input; null where that lies outside hearing, or bends by less. */
  readonly atCutoff: { readonly freqHz: number; readonly inputVolts: number } | null;
  /** Peak at the input, V, and the harmonics there (2nd on) as shares of the tone. */
  readonly inputVolts: number;
  readonly outputVolts: number;
  readonly harmonics: readonly number[];
  /** Distortion against level: V peak, per cent in all, and of each harmonic from the 2nd. */
  readonly curve: readonly {
    readonly volts: number;
    readonly percent: number;
    readonly harmonics: readonly number[];
  }[];
}

const FIRST_VOLTS = 0.02;
const LOUDEST_VOLTS = 20;
const LEVEL_STEP = 2;
const CLOSING_STEPS = 7;
const HARMONICS = 7;

/** Harmonics of a tone through the circuit. */
function toneThrough(
  circuit: Assembled,
  out: number,
  volts: number,
  freqHz: number,
): Result<{ levels: number[]; total: number }> {
  const period = settledPeriod(circuit, out, freqHz, sine(volts));
  if (!period.ok) return period;
  const levels = Array.from({ length: HARMONICS }, (_, h) => harmonicOf(period.value, h + 1));
  return success({ levels, total: Math.hypot(...levels.slice(1)) / levels[0] });
}

/** Tones looked at across what passes. */
const TONES = 9;

/**
 * Frequencies across what passes, within hearing, the cutoffs among them; and the cutoff that is told apart: the
 * falling one, or with none the rising one.
 */
function tonesOf(built: BuiltVariant, solver: AcSolver): Result<{ tones: number[]; cutoffHz: number | null }> {
  const [way] = built.variant.ways;
  const read = readWay(built, way, built.ways[0], solver);
  if (!read.ok) return read;
  const { reader, reference, stability } = read.value;
  if (!stability.stable) return failure('sings', { freqHz: stability.singsHz ?? 0 });
  const audible = (f: number) => f >= AUDIO_BAND.fromHz && f <= AUDIO_BAND.toHz;
  const floorDb = reference.levelDb + HALF_POWER_DB;
  const passes = Array.from(reader.freqHz).filter((f, i) => audible(f) && reader.levelDb[i] >= floorDb);
  const marks = marksOf(read.value, way);
  const cutoffs = marks.filter((m) => m.kind === 'cutoff');
  const cutoffHz = mainCutoff(marks)?.freqHz;
  // What passes nothing that is heard is looked at where it comes nearest to it.
  const nearest = Math.max(AUDIO_BAND.fromHz, Math.min(AUDIO_BAND.toHz, reference.freqHz));
  const [low, high] = [passes[0] ?? nearest, passes.at(-1) ?? nearest];
  const across = high > low * 1.05 ? Array.from(logGrid(low, high, TONES)) : [low];
  return success({
    tones: [...new Set([...across, ...cutoffs.map((m) => m.freqHz).filter(audible)])],
    cutoffHz: cutoffHz !== undefined && audible(cutoffHz) ? cutoffHz : null,
  });
}

type Point = Bend['curve'][number];
interface Borne {
  readonly freqHz: number;
  readonly volts: number;
  readonly levels: readonly number[];
  readonly curve: readonly Point[];
}

/**
 * Fails as the design or time does, `nothing-bends` for a linear circuit, `sings`, `bends-no-further` (`percent`,
 * `volts`) where the loudest tone bends by less, or `cancelled`.
 */
export async function runBend(
  { design, variantId, percent }: BendRequest,
  solver: AcSolver,
  context: JobContext,
): Promise<Result<Bend>> {
  const built = builtVariant(design, variantId);
  if (!built.ok) return built;
  if (!built.value.live) return failure('nothing-bends');
  const found = tonesOf(built.value, solver);
  if (!found.ok) return found;
  const { tones, cutoffHz } = found.value;
  const timed = builtVariant(design, variantId, IN_TIME);
  if (!timed.ok) return timed;
  const circuit = runningCircuit(timed.value);
  const out = circuit.structure.nodeOf(timed.value.ways[0].output) ?? -1;
  const tried = async (volts: number, freqHz: number, share: number): Promise<ReturnType<typeof toneThrough>> => {
    context.progress(share);
    await context.pause();
    return context.signal.aborted ? failure('cancelled') : toneThrough(circuit, out, volts, freqHz);
  };
  let least = LOUDEST_VOLTS;
  let [worst, atCutoff, most]: [Borne | null, Borne | null, number] = [null, null, 0];
  // The cutoff first, then across the band; a tone that bears more than the least so far is left after a look at that
  // level.
  const order = [...(cutoffHz === null ? [] : [cutoffHz]), ...tones.filter((f) => f !== cutoffHz)];
  for (const [k, freqHz] of order.entries()) {
    const borne = await bornBy(freqHz, freqHz === cutoffHz ? LOUDEST_VOLTS : least, percent, (volts) =>
      tried(volts, freqHz, k / order.length),
    );
    if (!borne.ok && borne.code !== 'bends-no-further') return borne;
    if (!borne.ok) {
      most = Math.max(most, Number(borne.data.percent));
      continue;
    }
    if (freqHz === cutoffHz) atCutoff = borne.value;
    if (!worst || borne.value.volts < worst.volts) worst = borne.value;
    least = Math.min(least, borne.value.volts);
  }
  if (!worst) return failure('bends-no-further', { percent: most, volts: LOUDEST_VOLTS });
  const { levels } = worst;
  return success({
    freqHz: worst.freqHz,
    inputVolts: worst.volts,
    outputVolts: levels[0],
    harmonics: levels.slice(1).map((v) => v / levels[0]),
    curve: worst.curve,
    atCutoff: atCutoff && { freqHz: atCutoff.freqHz, inputVolts: atCutoff.volts },
  });
}

/**
 * The level at which one tone bends by so much: upwards until it does, then closer between the last two. Fails as the
 * tone does, or with `bends-no-further` (`percent`) up to a level.
 */
async function bornBy(
  freqHz: number,
  upTo: number,
  percent: number,
  tone: (volts: number) => Promise<ReturnType<typeof toneThrough>>,
): Promise<Result<Borne>> {
  const curve: Point[] = [];
  const enough = ({ total }: { total: number }) => 100 * total >= percent;
  let [below, above, volts] = [0, FIRST_VOLTS, Math.min(FIRST_VOLTS, upTo)];
  let found = await tone(volts);
  while (found.ok) {
    const { levels: at, total } = found.value;
    curve.push({ volts, percent: 100 * total, harmonics: at.slice(1).map((v) => (100 * v) / at[0]) });
    if (enough(found.value)) break;
    if (volts >= upTo) return failure('bends-no-further', { percent: 100 * total, volts });
    [below, above, volts] = [volts, Math.min(upTo, volts * LEVEL_STEP), Math.min(upTo, volts * LEVEL_STEP)];
    found = await tone(volts);
  }
  let reached = found;
  if (found.ok) above = volts;
  for (let i = 0; found.ok && below > 0 && i < CLOSING_STEPS; i++) {
    volts = Math.sqrt(below * above);
    found = await tone(volts);
    if (found.ok && enough(found.value)) [above, reached] = [volts, found];
    else below = volts;
  }
  if (!found.ok || !reached.ok) return found.ok ? (reached as Result<Borne>) : found;
  return success({ freqHz, volts: above, levels: reached.value.levels, curve });
}

export const bendJob = defineJob(bendRequest, (request, { solver, context }) => runBend(request, solver, context));
