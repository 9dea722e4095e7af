import type { Way } from '../../design/document/schema';
import type { DesignedStage } from '../../design/stages/stage-design';
import { plansStanding } from '../../design/stages/targets';
import { alignmentById } from '../../filter/alignments/index';
import { bandEdges, isBand } from '../../filter/plan-sections';
import { nullRatio, type SectionTarget } from '../../filter/section';
import type { Rational } from '../../filter/rational';
import { valuesOf } from '../../design/stages/stage-design';

/** Where a way is declared to pass: 0 and infinity where nothing of it ends the band. */
export interface PassBand {
  readonly fromHz: number;
  readonly toHz: number;
}

const ALL: PassBand = { fromHz: 0, toHz: Infinity };

/**
 * The pass band that a way's plans and its stages with targets of their own declare; null where nothing on the path
 * declares any: circuits with parameters of their own alone.
 */
export function declaredPassBand(way: Way, stages: readonly DesignedStage[]): PassBand | null {
  const own = stages.flatMap((s) =>
    s.role === 'section' && s.stage.target.kind === 'own' && !s.stage.bypassed ? [s.target] : [],
  );
  const plans = plansStanding(way);
  if (plans.length + own.length === 0) return null;
  const declared = [...plans.map(passBandOfPlan), ...own.map(passBandOfSection)];
  // Sections tuned side by side widen a band; what is low or high in a row narrows it.
  const bands = declared.filter((b) => b.fromHz > 0 && b.toHz < Infinity);
  const wide: PassBand =
    bands.length === 0
      ? ALL
      : { fromHz: Math.min(...bands.map((b) => b.fromHz)), toHz: Math.max(...bands.map((b) => b.toHz)) };
  return declared
    .filter((b) => !bands.includes(b))
    .reduce((a, b) => ({ fromHz: Math.max(a.fromHz, b.fromHz), toHz: Math.min(a.toHz, b.toHz) }), wide);
}

function passBandOfPlan({ response, cutoffHz, bandwidthHz }: Way['plans'][number]): PassBand {
  if (response === 'lowpass') return { fromHz: 0, toHz: cutoffHz };
  if (response === 'highpass') return { fromHz: cutoffHz, toHz: Infinity };
  if (response !== 'bandpass') return ALL;
  const [fromHz, toHz] = bandEdges(cutoffHz, bandwidthHz);
  return { fromHz, toHz };
}

/** A notch whose null lies above its natural frequency is a low-pass with a null, below it a high-pass with one. */
function passBandOfSection(target: SectionTarget): PassBand {
  const { response, order, freqHz, q } = target;
  if (order === 0) return ALL;
  const ratio = response === 'notch' ? nullRatio(target) : 1;
  if (response === 'lowpass' || ratio > 1) return { fromHz: 0, toHz: freqHz };
  if (response === 'highpass' || ratio < 1) return { fromHz: freqHz, toHz: Infinity };
  if (response !== 'bandpass') return ALL;
  const [fromHz, toHz] = bandEdges(freqHz, freqHz / q);
  return { fromHz, toHz };
}

/**
 * Level (dB, 0 or below) of the flat end of a way's plans against the top of their ripple: what an even Chebyshev or
 * elliptic loses at 0 Hz.
 */
export const flatEndDb = (way: Way): number =>
  plansStanding(way).reduce(
    (sum, plan) =>
      isBand(plan.response) || plan.response === 'allpass'
        ? sum
        : sum + alignmentById(plan.alignment).dcLevelDb(plan.order, plan),
    0,
  );

/** Slopes far below and far above everything a way is about, in multiples of 6.02 dB/octave; null where not known. */
export interface Asymptotes {
  readonly below: number | null;
  readonly above: number | null;
}

/** By what its sections and the formulas of its circuits say: zeros at the origin, and poles over zeros. */
export function asymptotesOf(way: Way, stages: readonly DesignedStage[]): Asymptotes {
  let [below, above]: [number | null, number | null] = [0, 0];
  for (const designed of stages) {
    if (designed.stage.bypassed) continue;
    const own = designed.role === 'section' ? ofSection(designed.target) : ofNetwork(way, designed);
    below = below === null || own.below === null ? null : below + own.below;
    above = above === null || own.above === null ? null : above + own.above;
  }
  return { below, above };
}

function ofSection({ response, order }: SectionTarget): Asymptotes {
  if (response === 'lowpass') return { below: 0, above: -order };
  if (response === 'highpass') return { below: order, above: 0 };
  return response === 'bandpass' ? { below: 1, above: -1 } : { below: 0, above: 0 };
}

function ofNetwork(way: Way, designed: Extract<DesignedStage, { role: 'network' }>): Asymptotes {
  const { target } = designed.stage;
  if (target.kind === 'plan') {
    const plan = way.plans.find((p) => p.id === target.plan);
    if (!plan || isBand(plan.response)) return { below: null, above: null };
    const zeros = alignmentById(plan.alignment)
      .prototype(plan.order, plan)
      .reduce((sum, s) => sum + (s.order === 2 && s.zero !== undefined ? 2 : 0), 0);
    const fall = plan.order - zeros;
    return plan.response === 'highpass' ? { below: fall, above: 0 } : { below: 0, above: -fall };
  }
  const transfer = designed.topology.transfer?.(designed.form, valuesOf(designed, 'chosen'), designed.parameters);
  return transfer ? ofRational(transfer) : { below: null, above: null };
}

function ofRational({ numerator, denominator }: Rational): Asymptotes {
  const first = (p: readonly number[]) => p.findIndex((c) => c !== 0);
  const last = (p: readonly number[]) => p.findLastIndex((c) => c !== 0);
  return {
    below: first(numerator) - first(denominator),
    above: last(numerator) - last(denominator),
  };
}
