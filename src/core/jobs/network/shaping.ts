import * as z from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import { valuesOf, type DesignedNetwork } from '../../design/stages/stage-design';
import { passesRatioHz, rationalAt, type Rational } from '../../filter/rational';
import { sectionResponse, type FilterResponse } from '../../filter/section';
import { magnitude } from '../../math/complex';
import { failure, success, type Result } from '../../result';
import { polarityOf } from '../../topology/kit/define-topology';
import { feedbackRatio, hasBottom, hasTop } from '../../topology/op-amp/shaped-amplifier';
import { decibels, fromDecibels } from '../../units/quantity';
import { beginsBetween } from '../../math/search';

const shapingGoal = z.object({ keepHz: z.number(), loseHz: z.number(), loseDb: z.number() });
export type ShapingGoal = z.infer<typeof shapingGoal>;

/** What there is to know of an amplifier shaped by one or two capacitors, and how to ask it the other way round. */
const shapingRequest = requestOf('shaping', {
  ...ofVariant,
  stageId: z.string(),
  /** Keep the gain at one frequency, lose so many decibels by another. */
  goal: shapingGoal,
});
export type ShapingRequest = z.infer<typeof shapingRequest>;

/** One shelf: where it falls from the gain, and where it levels off at gain one, by the rule of thumb and exactly. */
export interface Shelf {
  readonly edge: 'top' | 'bottom';
  readonly fallsHz: number;
  /** Null for the inverting amplifier, which falls on. */
  readonly levels: {
    readonly ruleHz: number;
    readonly exactHz: number;
    readonly errorPct: number;
    /** Where the level is 3 dB above the shelf's floor. */ readonly threeAboveHz: number;
  } | null;
}

export interface Remedy {
  readonly id: 'capacitor' | 'first-order' | 'second-order';
  readonly cutoffHz: number;
  readonly keepLossDb: number;
  readonly loseDb: number;
  readonly parts: number;
  readonly opAmps: number;
}

export interface Shaping {
  readonly stageId: string;
  readonly inverting: boolean;
  readonly gainDb: number;
  readonly shelves: readonly Shelf[];
  /** Noise gain in the middle, and what the op-amp's bandwidth leaves of it; null for an ideal one. */
  readonly noiseGain: number;
  readonly ownTopHz: number | null;
  /** Gain (ratio) from which the rule of thumb is good to five per cent. */
  readonly ruleGoodFrom: number;
  /**
   * Output offset (V) from the op-amp's own, and from its bias current; with the bottom capacitor and without. Null for
   * an ideal op-amp.
   */
  readonly offset: { readonly volts: number; readonly withoutBottomVolts: number; readonly biasVolts: number } | null;
  /** The one corner that meets the goal, or the most that can be lost there. */
  readonly answer: { readonly parameter: 'topHz' | 'bottomHz'; readonly hz: number } | { readonly mostDb: number };
  /** Three ways to meet the goal, side by side. */
  readonly remedies: readonly Remedy[];
}

const RULE_GOOD = 0.05;

/** Fails with `no-such-stage`, or `not-shaped` for a stage of another kind. */
function runShaping({ design, variantId, stageId, goal }: ShapingRequest): Result<Shaping> {
  const variant = design.variants.find((v) => v.id === variantId);
  const built = variant ? compile(design, variant, AS_BUILT) : failure('no-such-variant', { variant: variantId });
  if (!built.ok) return built;
  const stage = built.value.ways[0].stages.find((s) => s.stage.id === stageId);
  if (!stage) return failure('no-such-stage', { stage: stageId });
  if (stage.role !== 'network' || !stage.topology.shelved) return failure('not-shaped', { stage: stageId });
  const { Rf, Ri } = valuesOf(stage, 'chosen');
  const inverting = polarityOf(stage.topology, stage.form) < 0;
  const noiseGain = 1 + Rf / Ri;
  const gainDb = decibels(inverting ? Rf / Ri : noiseGain);
  return success({
    stageId,
    inverting,
    gainDb,
    shelves: shelvesOf(stage, inverting),
    noiseGain,
    ownTopHz: stage.device ? stage.device.gainBandwidthHz / noiseGain : null,
    ruleGoodFrom: 1 + 1 / RULE_GOOD,
    offset: offsetOf(stage, noiseGain),
    answer: answerOf(gainDb, inverting, goal),
    remedies: remediesFor(gainDb, inverting, goal),
  });
}

function shelvesOf({ form, ...stage }: DesignedNetwork, inverting: boolean): Shelf[] {
  const parts = valuesOf(stage, 'chosen');
  const { Rf, Ri, Cf, Ci } = parts;
  const hz = (ohm: number, farad: number) => 1 / (2 * Math.PI * ohm * farad);
  const shelves: Shelf[] = [];
  const levels = (edge: Shelf['edge'], ruleHz: number, exactHz: number): Shelf['levels'] => {
    if (inverting) return null;
    const far = edge === 'top' ? [exactHz * 1e-3, exactHz * 1e3] : [exactHz * 1e3, exactHz * 1e-3];
    return {
      ruleHz,
      exactHz,
      errorPct: 100 * (ruleHz / exactHz - 1),
      threeAboveHz: passesRatioHz(shelfAlone(edge, parts), Math.SQRT2, Math.min(...far), Math.max(...far)),
    };
  };
  if (hasBottom(form))
    shelves.push({ edge: 'bottom', fallsHz: hz(Ri, Ci), levels: levels('bottom', hz(Rf, Ci), hz(Rf + Ri, Ci)) });
  if (hasTop(form))
    shelves.push({
      edge: 'top',
      fallsHz: hz(Rf, Cf),
      levels: levels('top', hz(Ri, Cf), hz((Rf * Ri) / (Rf + Ri), Cf)),
    });
  return shelves;
}

/** 1 + Zf/Zi with only one of the capacitors. */
function shelfAlone(edge: Shelf['edge'], parts: Readonly<Record<string, number>>): Rational {
  const { numerator, denominator } = feedbackRatio(edge, parts);
  return { numerator: denominator.map((c, i) => c + (numerator[i] ?? 0)), denominator };
}

/**
 * Offset times the noise gain at DC; the bias current through Rf (the drop at the other input is left to its source).
 */
function offsetOf({ device, form, ...stage }: DesignedNetwork, noiseGain: number): Shaping['offset'] {
  if (!device) return null;
  const { Rf } = valuesOf(stage, 'chosen');
  return {
    volts: device.offsetVolts * (hasBottom(form) ? 1 : noiseGain),
    withoutBottomVolts: device.offsetVolts * noiseGain,
    biasVolts: device.biasAmps * Rf,
  };
}

/** Level of a shaped amplifier with one corner, dB below its gain, at a frequency. */
function lossDb(gainDb: number, inverting: boolean, edge: Shelf['edge'], cornerHz: number, freqHz: number): number {
  const ratio = inverting ? fromDecibels(gainDb) : fromDecibels(gainDb) - 1;
  const pole = 1 / (2 * Math.PI * cornerHz);
  // Rf = ratio, Ri = 1: a capacitor each of the size that makes the corner.
  const feedback = feedbackRatio(edge, { Rf: ratio, Ri: 1, Cf: pole / ratio, Ci: pole });
  const whole = inverting
    ? feedback
    : {
        numerator: feedback.denominator.map((c, i) => c + (feedback.numerator[i] ?? 0)),
        denominator: feedback.denominator,
      };
  return gainDb - decibels(magnitude(rationalAt(whole, freqHz)));
}

function answerOf(gainDb: number, inverting: boolean, { keepHz, loseHz, loseDb }: ShapingGoal): Shaping['answer'] {
  const edge = loseHz > keepHz ? 'top' : 'bottom';
  // The shelf's floor is gain one: nothing below it can be lost, and the very floor is never reached.
  if (!inverting && loseDb >= gainDb - 1e-6) return { mostDb: gainDb };
  const enough = (cornerHz: number) => lossDb(gainDb, inverting, edge, cornerHz, loseHz) >= loseDb;
  return {
    parameter: edge === 'top' ? 'topHz' : 'bottomHz',
    hz: beginsBetween((cornerHz) => enough(cornerHz) !== (edge === 'top'), loseHz * 1e-9, loseHz * 1e9),
  };
}

function remediesFor(gainDb: number, inverting: boolean, goal: ShapingGoal): Remedy[] {
  const { keepHz, loseHz, loseDb } = goal;
  const edge = loseHz > keepHz ? 'top' : 'bottom';
  const response: FilterResponse = edge === 'top' ? 'lowpass' : 'highpass';
  const remedies: Remedy[] = [];
  const answer = answerOf(gainDb, inverting, goal);
  if ('hz' in answer)
    remedies.push({
      id: 'capacitor',
      cutoffHz: answer.hz,
      keepLossDb: lossDb(gainDb, inverting, edge, answer.hz, keepHz),
      loseDb,
      parts: 1,
      opAmps: 0,
    });
  for (const [id, order, parts] of [
    ['first-order', 1, 2],
    ['second-order', 2, 4],
  ] as const) {
    const ratio = (10 ** (loseDb / 10) - 1) ** (1 / (2 * order));
    const cutoffHz = edge === 'top' ? loseHz / ratio : loseHz * ratio;
    const target = { response, order, freqHz: cutoffHz, q: Math.SQRT1_2, gain: 1 };
    remedies.push({
      id,
      cutoffHz,
      keepLossDb: -decibels(magnitude(sectionResponse(target, keepHz))),
      loseDb,
      parts,
      opAmps: 1,
    });
  }
  return remedies;
}

export const shapingJob = defineJob(shapingRequest, (request) => runShaping(request));
