import * as z from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import { failure, success, type Result } from '../../result';
import { HALF_POWER_DB } from '../../analysis/curves/marks';
import type { AcSolver } from '../../analysis/ac/solver';
import { AUDIO_BAND, logGrid } from '../../math/grid';
import { builtVariant, IN_TIME, runningCircuit, type BuiltVariant } from '../reading/built-variant';
import type { JobContext } from '../job-context';
import { mainCutoff, marksOf } from '../reading/way-marks';
import { notSteady, readWay } from '../reading/read-way';
import { harmonicOf, settledAt, sine, type Settled } from './settled-tone';

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

interface Tone {
  /** Harmonics from the 1st, V peak, and all but the 1st over it. */
  readonly levels: readonly number[];
  readonly total: number;
}

function toneThrough(settled: Settled, volts: number): Tone {
  const period = settled(sine(volts));
  const levels = Array.from({ length: HARMONICS }, (_, h) => harmonicOf(period, h + 1));
  return { levels, total: Math.hypot(...levels.slice(1)) / levels[0] };
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
  if (!stability.stable) return notSteady(stability);
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
  let least = LOUDEST_VOLTS;
  let [worst, atCutoff, most]: [Borne | null, Borne | null, number] = [null, null, 0];
  // The cutoff first, then across the band.
  const order = [...(cutoffHz === null ? [] : [cutoffHz]), ...tones.filter((f) => f !== cutoffHz)];
  for (const [k, freqHz] of order.entries()) {
    const settled = settledAt(circuit, out, freqHz);
    if (!settled.ok) return settled;
    const borne = await bornBy(freqHz, least, percent, async (volts) => {
      context.progress(k / order.length);
      await context.pause();
      return context.signal.aborted ? failure('cancelled') : success(toneThrough(settled.value, volts));
    });
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
 * The level at which one tone bends by so much: upwards until it does, then closer between the last two. A tone that
 * bends by less at a level that another bears no more of is left at that: how much it bends grows with the level. Fails
 * as the tone does, or with `bends-no-further` (`percent`) up to that level.
 */
async function bornBy(
  freqHz: number,
  upTo: number,
  percent: number,
  tone: (volts: number) => Promise<Result<Tone>>,
): Promise<Result<Borne>> {
  const curve: Point[] = [];
  const heard = async (volts: number): Promise<Result<Tone & { readonly volts: number }>> => {
    const found = await tone(volts);
    return found.ok ? success({ ...found.value, volts }) : found;
  };
  const enough = ({ total }: Tone) => 100 * total >= percent;
  if (upTo < LOUDEST_VOLTS) {
    const most = await heard(upTo);
    if (!most.ok) return most;
    if (!enough(most.value)) return failure('bends-no-further', { percent: 100 * most.value.total, volts: upTo });
  }
  let below: (Tone & { readonly volts: number }) | null = null;
  let above = await heard(Math.min(FIRST_VOLTS, upTo));
  for (; above.ok; above = await heard(Math.min(upTo, above.value.volts * LEVEL_STEP))) {
    const { levels: at, total, volts } = above.value;
    curve.push({ volts, percent: 100 * total, harmonics: at.slice(1).map((v) => (100 * v) / at[0]) });
    if (enough(above.value)) break;
    if (volts >= upTo) return failure('bends-no-further', { percent: 100 * total, volts });
    below = above.value;
  }
  for (let i = 0; above.ok && below && i < CLOSING_STEPS && !isClose(above.value, percent); i++) {
    const next = await heard(levelBetween(below, above.value, percent));
    if (!next.ok) return next;
    if (enough(next.value)) above = next;
    else below = next.value;
  }
  return above.ok ? success({ freqHz, volts: above.value.volts, levels: above.value.levels, curve }) : above;
}

/** That a level bends by what was asked, as a share of it. */
const CLOSE = 5e-3;
const isClose = ({ total }: Tone, percent: number): boolean => 100 * total < (1 + CLOSE) * percent;

/**
 * Where a straight line through the logarithms of both comes to so much: distortion goes as a power of the level. A
 * little over, so that it closes in from above; never all the way to either end, and where one end is no number the
 * middle.
 */
function levelBetween(below: Tone & { volts: number }, above: Tone & { volts: number }, percent: number): number {
  const [low, high, wanted] = [below.total, above.total, ((1 + CLOSE / 2) * percent) / 100].map(Math.log);
  const share = (wanted - low) / (high - low);
  const within = Number.isFinite(share) ? Math.min(0.95, Math.max(0.05, share)) : 0.5;
  return below.volts * (above.volts / below.volts) ** within;
}

export const bendJob = defineJob(bendRequest, (request, { solver, context }) => runBend(request, solver, context));
