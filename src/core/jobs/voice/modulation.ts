import * as z from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import type { AcSolver } from '../../analysis/ac/solver';
import { failure, success, type Result } from '../../result';
import { builtVariant, type BuiltVariant } from '../reading/built-variant';
import type { JobContext } from '../job-context';
import { mainCutoff, marksOf } from '../reading/way-marks';
import { readWay } from '../reading/read-way';
import { harmonicOf, settledAt, sine, type Settled } from './settled-tone';

/** From what level on the sound itself moves the cutoff. */
const modulationRequest = requestOf('modulation', {
  ...ofVariant,
  /** How far it may move, cents. */
  cents: z.number(),
});
export type ModulationRequest = z.infer<typeof modulationRequest>;

export interface Modulation {
  /** The −3 dB point that is watched, Hz, and the loud tone below it. */
  readonly cutoffHz: number;
  readonly toneHz: number;
  /** How far the cutoff is moved by the tone: V peak at the source, cents. */
  readonly curve: readonly { readonly volts: number; readonly cents: number }[];
  /** Where it has moved so far, V peak; null where the loudest tone does not move it as much. */
  readonly volts: number | null;
}

/** The loud tone lies two octaves under the cutoff; what a faint one at the cutoff does beside it is read. */
const PROBE_HARMONIC = 4;
const PROBE_VOLTS = 1e-4;
const LEVELS = 11;
const FIRST_VOLTS = 0.01;
const LAST_VOLTS = 10;

/**
 * A loud tone and, at the cutoff, a faint one: what the faint one comes out as, less the same without it, is how the
 * circuit stands to it while the loud one sounds. Its change over the slope of the curve there is how far the cutoff
 * has moved. Fails as the design does, `nothing-bends`, `no-cutoff`, or `cancelled`.
 */
export async function runModulation(
  { design, variantId, cents }: ModulationRequest,
  solver: AcSolver,
  context: JobContext,
): Promise<Result<Modulation>> {
  const built = builtVariant(design, variantId);
  if (!built.ok) return built;
  const { live, ways } = built.value;
  if (!live) return failure('nothing-bends');
  const cutoff = cutoffOf(built.value, solver);
  if (!cutoff) return failure('no-cutoff');
  const out = live.circuit.structure.nodeOf(ways[0].output) ?? -1;
  const toneHz = cutoff.freqHz / PROBE_HARMONIC;
  const tones = settledAt(live.circuit, out, toneHz);
  if (!tones.ok) return tones;
  const still = faint(tones.value, 0);
  const curve: { volts: number; cents: number }[] = [];
  for (let i = 0; i < LEVELS; i++) {
    const volts = FIRST_VOLTS * (LAST_VOLTS / FIRST_VOLTS) ** (i / (LEVELS - 1));
    context.progress(i / LEVELS);
    await context.pause();
    if (context.signal.aborted) return failure('cancelled');
    const moved = (-1200 * 20 * Math.log10(faint(tones.value, volts) / still)) / cutoff.slopeDbPerOctave;
    if (!Number.isFinite(moved)) break;
    curve.push({ volts, cents: moved });
    if (Math.abs(moved) > MOST_CENTS) break;
  }
  const over = curve.findIndex((p) => Math.abs(p.cents) >= cents);
  return success({
    cutoffHz: cutoff.freqHz,
    toneHz,
    curve,
    volts: over < 0 ? null : over === 0 ? curve[0].volts : between(curve[over - 1], curve[over], cents),
  });
}

/** Further, the slope says nothing any more. */
const MOST_CENTS = 2400;

/** On a straight line through the logarithms. */
function between(a: { volts: number; cents: number }, b: { volts: number; cents: number }, cents: number): number {
  const [la, lb] = [Math.log(Math.max(1e-6, Math.abs(a.cents))), Math.log(Math.abs(b.cents))];
  return a.volts * (b.volts / a.volts) ** ((Math.log(cents) - la) / (lb - la));
}

/** Size of the faint tone at the output, over what it is at the input, while a loud one sounds. */
function faint(settled: Settled, volts: number): number {
  const loud = sine(volts);
  const probe = sine(PROBE_VOLTS, PROBE_HARMONIC);
  const without = settled(loud);
  const both = settled(loud.map((v, i) => v + probe[i]));
  return (
    harmonicOf(
      both.map((v, i) => v - without[i]),
      PROBE_HARMONIC,
    ) / PROBE_VOLTS
  );
}

const STEP = 1.02;

/** The cutoff that moves: the falling one, or with none the rising one; with the curve's slope there. */
function cutoffOf(built: BuiltVariant, solver: AcSolver): { freqHz: number; slopeDbPerOctave: number } | null {
  const [way] = built.variant.ways;
  const read = readWay(built, way, built.ways[0], solver);
  if (!read.ok) return null;
  const at = mainCutoff(marksOf(read.value, way));
  if (!at) return null;
  const { levelAt } = read.value.reader;
  return {
    freqHz: at.freqHz,
    slopeDbPerOctave: (levelAt(at.freqHz * STEP) - levelAt(at.freqHz / STEP)) / (2 * Math.log2(STEP)),
  };
}

export const modulationJob = defineJob(modulationRequest, (request, { solver, context }) =>
  runModulation(request, solver, context),
);
