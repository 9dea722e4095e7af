import * as z from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import { LinearMotion, stretches } from '../../analysis/time/linear-motion';
import { runStep, settledWithin, stillAfter, timeToShare } from '../../analysis/time/step-response';
import { HALF_POWER_DB } from '../../analysis/curves/marks';
import { WAVE_IDS, type WaveId } from '../../analysis/time/periodic-waves';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile, type Compilation } from '../../design/compiled/compile';
import type { Design, Stage, Variant } from '../../design/document/schema';
import { withParts } from '../../design/document/with-parts';
import { failure, success, type Result } from '../../result';
import { driveOver, highestHz, lowestHz, nodeOver, repeated, steadyRows, type TimeCurve } from '../desk/time';
import { harmonicsThrough } from '../desk/harmonics';
import { anchoredTrace } from '../reading/phase-turn';
import { naturalOf, readWay, type WayReading } from '../reading/read-way';
import { partsAtWork, type PartAtWork, type SteadyStep } from './parts-at-work';

/** One cutoff seen four ways: for a wave of a frequency and height, and a switch of the same voltage. */
export const fourViewsRequest = requestOf('four-views', {
  ...ofVariant,
  stageId: z.string(),
  wave: z.enum(WAVE_IDS),
  freqHz: z.number(),
  /** Of the wave, and what is switched on: V. */
  peakVolts: z.number(),
  /** Another variant, on the same wave. */
  ghostVariantId: z.string().nullable().optional(),
  /**
   * While the switch is off this resistor is of another size (ohm): it charges through one and discharges through
   * another.
   */
  discharge: z
    .object({
      part: z.string(),
      ohm: z.number(),
    })
    .nullable(),
});
export type FourViewsRequest = z.infer<typeof fourViewsRequest>;

export interface FourViews {
  readonly stageId: string;
  readonly wave: WaveId;
  readonly freqHz: number;
  /** Of the wave, and of what is switched on, V: everything here is at this level. */
  readonly peakVolts: number;
  /**
   * Switched on for the first half and off for the second. Time constants (s): to 63.2 % of the way, each way; settled
   * within 1 % and within 1 cent of an octave per volt. Null for what does not go from one level to another.
   */
  readonly charge: TimeCurve & {
    readonly offAtS: number;
    readonly onTauS: number | null;
    readonly offTauS: number | null;
    readonly settled: { readonly onePctS: number; readonly centS: number } | null;
  };
  readonly through: TimeCurve & { readonly ghost: Float64Array | null };
  /**
   * At the frequency: level (dB) and phase (degrees, in the pass band's turn) of a sine, how late it comes (s), and
   * whether the pass band is turned over, which is no part of that.
   */
  readonly at: {
    readonly levelDb: number;
    readonly phaseDeg: number;
    readonly lateS: number;
    readonly turnedOver: boolean;
  };
  /** Peak of harmonics 1, 2 … before and after, and after the other variant, V. */
  readonly harmonics: {
    readonly before: Float64Array;
    readonly after: Float64Array;
    readonly ghost: Float64Array | null;
  };
  /** Where power is half what passes best, and where voltage is. */
  readonly half: readonly { readonly of: 'power' | 'voltage'; readonly freqHz: number; readonly falling: boolean }[];
  readonly parts: readonly PartAtWork[];
}

const CHARGE_POINTS = 160;
/** Each half of the switch's time, in time constants of the lowest corner, of a circuit that never settles. */
const CHARGE_TAUS = 6;
/** The switch is turned off when no more than this share of the way is left: six time constants. */
const STILL = Math.exp(-6);
const ONE_TAU = 1 - Math.exp(-1);
/** A cent is this share of an octave; a control voltage of 1 V an octave that moves by 1 V must come so near. */
const CENT = 1 / 1200;

/** Fails as the design does, with `no-such-variant`, `no-such-stage`, or with `no-unique-solution`. */
function runFourViews(request: FourViewsRequest, solver: AcSolver): Result<FourViews> {
  const { design, variantId, stageId, wave, freqHz, peakVolts } = request;
  const scaled = (ofOneVolt: Float64Array) => ofOneVolt.map((v) => v * peakVolts);
  const variant = design.variants.find((v) => v.id === variantId);
  const built = variant ? compile(design, variant, AS_BUILT) : failure('no-such-variant', { variant: variantId });
  if (!built.ok) return built;
  if (!variant || !built.value.ways[0].stages.some((s) => s.stage.id === stageId))
    return failure('no-such-stage', { stage: stageId });
  const charge = chargeCurve(design, variant, built.value, request);
  if (!charge.ok) return charge;
  const steps: SteadyStep[] = [];
  const rows = steadyRows(built.value, wave, freqHz, (h, before, after) =>
    steps.push({ h, before: scaled(before), after: scaled(after) }),
  );
  if (!rows.ok) return rows;
  const { output } = built.value.ways[0];
  const passed = harmonicsThrough(built.value, { wave, freqHz }, solver);
  if (!passed.ok) return passed;
  const { before, after, response: h } = passed.value;
  const ghost = ghostOf(request, solver);
  const drive = driveOver(wave, freqHz);
  const read = readWay(built.value, variant.ways[0], built.value.ways[0], solver, { fromHz: freqHz, toHz: freqHz });
  if (!read.ok) return read;
  // From the pass band's own turn: an inversion, and whole turns, are no delay.
  const [phaseDeg] = anchoredTrace(Float64Array.of(freqHz), h.slice(0, 2), read.value).phaseDeg;
  const [passDeg] = anchoredTrace(
    Float64Array.of(read.value.reference.freqHz),
    read.value.reader.responseAt(read.value.reference.freqHz),
    read.value,
  ).phaseDeg;
  const turnedOver = Math.abs(passDeg) > 90;
  return success({
    stageId,
    wave,
    freqHz,
    peakVolts,
    charge: { ...charge.value, drive: scaled(charge.value.drive), output: scaled(charge.value.output) },
    through: {
      ...drive,
      drive: scaled(drive.drive),
      output: scaled(repeated(nodeOver(built.value, rows.value, output))),
      ghost: ghost && scaled(ghost.output),
    },
    at: { levelDb: levelsDb(h)[0], phaseDeg, lateS: -(phaseDeg - (turnedOver ? 180 : 0)) / 360 / freqHz, turnedOver },
    harmonics: {
      before: scaled(before),
      after: scaled(after),
      ghost: ghost && scaled(ghost.harmonics),
    },
    half: halves(read.value),
    parts: partsAtWork(built.value, steps, stageId),
  });
}

/** The same wave of 1 V peak through another variant; null when there is none, or it has no answer. */
function ghostOf(
  { design, ghostVariantId, wave, freqHz }: FourViewsRequest,
  solver: AcSolver,
): { output: Float64Array; harmonics: Float64Array } | null {
  const variant = design.variants.find((v) => v.id === ghostVariantId);
  const built = variant ? compile(design, variant, AS_BUILT) : null;
  if (!built?.ok) return null;
  const rows = steadyRows(built.value, wave, freqHz);
  const passed = harmonicsThrough(built.value, { wave, freqHz }, solver);
  if (!rows.ok || !passed.ok) return null;
  return {
    output: repeated(nodeOver(built.value, rows.value, built.value.ways[0].output)),
    harmonics: passed.value.after,
  };
}

function chargeCurve(
  design: Design,
  variant: Variant,
  built: Compilation,
  { stageId, discharge }: FourViewsRequest,
): Result<FourViews['charge']> {
  /** Of another size while it is off, whatever holds it before. */
  const discharging = (parts: Stage['parts']): Stage['parts'] =>
    discharge ? { ...parts, [discharge.part]: { use: { kind: 'single', values: [discharge.ohm] } } } : parts;
  const off = discharge ? compile(design, withParts(variant, stageId, discharging), AS_BUILT) : success(built);
  if (!off.ok) return off;
  const { output } = built.ways[0];
  const up = runStep(built.circuit, output, naturalOf(built));
  const down = up.ok
    ? runStep(off.value.circuit, off.value.ways[0].output, naturalOf(off.value), 0, up.value.endState)
    : up;
  // Either way is given the longer of the two times, so that it has gone where it goes.
  const offAtS =
    up.ok && down.ok
      ? Math.max(...[up.value, down.value].map((run) => stillAfter(run, STILL)))
      : CHARGE_TAUS / (2 * Math.PI * lowestHz(built));
  const drawn = switchedCurve(built, off.value, offAtS);
  if (!drawn.ok) return drawn;
  const [onePctS, centS] = [0.01, CENT].map((band) => (up.ok ? settledWithin(up.value, band) : null));
  return success({
    ...drawn.value,
    offAtS,
    onTauS: up.ok ? timeToShare(up.value, ONE_TAU) : null,
    offTauS: down.ok ? timeToShare(down.value, ONE_TAU) : null,
    settled: onePctS === null || centS === null ? null : { onePctS, centS },
  });
}

/** The curve of a switch of 1 V: on for a time, then off for as long. Fails with `no-unique-solution`. */
function switchedCurve(on: Compilation, off: Compilation, offAtS: number): Result<TimeCurve> {
  const [charging, discharging] = [new LinearMotion(on.circuit), new LinearMotion(off.circuit)];
  const rising = charging.run(
    new Float64Array(charging.size),
    stretches(0, offAtS, CHARGE_POINTS, [0], highestHz(on)),
    () => 1,
  );
  if (!rising.ok) return rising;
  const falling = discharging.run(
    rising.value[CHARGE_POINTS],
    stretches(offAtS, 2 * offAtS, CHARGE_POINTS, [offAtS], highestHz(off)),
    () => 0,
  );
  if (!falling.ok) return falling;
  const up = nodeOver(on, rising.value, on.ways[0].output);
  const down = nodeOver(off, falling.value, off.ways[0].output);
  const timeS = Float64Array.from({ length: 2 * CHARGE_POINTS + 1 }, (_, i) => (i * offAtS) / CHARGE_POINTS);
  return success({
    timeS,
    drive: timeS.map((_, i) => (i < CHARGE_POINTS ? 1 : 0)),
    output: timeS.map((_, i) => (i < CHARGE_POINTS ? up[i] : down[i - CHARGE_POINTS])),
  });
}

function halves(read: WayReading): FourViews['half'] {
  // The pass band goes on beyond where the curve was sampled.
  const best = Math.max(read.reader.highest().levelDb, read.reference.levelDb);
  return (['power', 'voltage'] as const).flatMap((of) =>
    read.reader
      .crossings(best + (of === 'power' ? HALF_POWER_DB : 2 * HALF_POWER_DB))
      .map((crossing) => ({ of, ...crossing })),
  );
}

export const fourViewsJob = defineJob(fourViewsRequest, (request, { solver }) => runFourViews(request, solver));
