import { failure, success, type Result } from '../result';
import { alignmentById } from './alignments/index';
import { bandEdges } from './plan-sections';
import { smallestOrders, type Mask, type OrderEstimate } from './order-estimate';

/** A limit as a brief has it: at most, or at least, so many dB down from a frequency on, to one side. */
export interface BriefLimit {
  readonly kind: 'at-most' | 'at-least';
  readonly freqHz: number;
  readonly side: 'below' | 'above';
  readonly db: number;
}

/** A plan that meets a brief with the smallest order its alignment can. */
export interface BriefMatch {
  readonly response: 'lowpass' | 'highpass' | 'bandpass';
  readonly alignment: string;
  readonly order: number;
  readonly cutoffHz: number;
  readonly bandwidthHz: number;
  readonly rippleDb: number;
  readonly attenuationDb: number;
  /** The pass band, Hz; open ends are a decade away. */
  readonly passHz: readonly [number, number];
}

const MOST_RIPPLE_DB = 3;
const LEAST_RIPPLE_DB = 0.01;

/**
 * The smallest order of every alignment that meets a brief's limits: one side kept and the other lost is a low-pass or a high-pass, a middle kept and both sides lost a
 * band-pass, whose edges and tighter side make its prototype's mask (R. Schaumann, H. Xiao, M. Van Valkenburg, Design of Analog Filters, 9.3).
 * Fails with `no-mask` (`why`: what is missing) or `mask-crossed` when something is to be kept where it is to be lost.
 */
export function matchBrief(limits: readonly BriefLimit[]): Result<BriefMatch[], 'no-mask' | 'mask-crossed'> {
  const of = (kind: BriefLimit['kind'], side: BriefLimit['side']) => limits.filter((l) => l.kind === kind && l.side === side);
  const [keptBelow, keptAbove, lostBelow, lostAbove] = [of('at-most', 'below'), of('at-most', 'above'), of('at-least', 'below'), of('at-least', 'above')];
  if (keptBelow.length + keptAbove.length === 0) return failure('no-mask', { why: 'keep' });
  if (lostBelow.length + lostAbove.length === 0) return failure('no-mask', { why: 'lose' });
  const high = keptBelow.length > 0 ? Math.max(...keptBelow.map((l) => l.freqHz)) : null;
  const low = keptAbove.length > 0 ? Math.min(...keptAbove.map((l) => l.freqHz)) : null;
  const passLossDb = Math.min(MOST_RIPPLE_DB, ...[...keptBelow, ...keptAbove].map((l) => l.db));
  if (lostAbove.length > 0 && lostBelow.length > 0) return bandPass(low, high, lostBelow, lostAbove, passLossDb);
  if (lostAbove.length > 0) return high === null ? failure('no-mask', { why: 'keep-below' }) : oneSided('lowpass', high, lostAbove, passLossDb);
  return low === null ? failure('no-mask', { why: 'keep-above' }) : oneSided('highpass', low, lostBelow, passLossDb);
}

/** The mask in frequencies relative to the pass edge; of several stop limits each is met by some order, and the largest counts. */
function oneSided(response: 'lowpass' | 'highpass', passHz: number, stops: readonly BriefLimit[], passLossDb: number): ReturnType<typeof matchBrief> {
  const masks = stops.map((l): Mask => ({ passHz: 1, passLossDb, stopHz: response === 'lowpass' ? l.freqHz / passHz : passHz / l.freqHz, stopLossDb: l.db }));
  if (masks.some((m) => m.stopHz <= 1)) return failure('mask-crossed');
  const passBand: readonly [number, number] = response === 'lowpass' ? [passHz / 100, passHz] : [passHz, passHz * 100];
  return success(worstOf(masks).map((estimate) => ({
    response, alignment: estimate.alignment.id, order: estimate.order, cutoffHz: response === 'lowpass' ? passHz * estimate.cutoffHz : passHz / estimate.cutoffHz, bandwidthHz: passHz, ...looksOf(estimate, masks), passHz: passBand,
  })));
}

function bandPass(low: number | null, high: number | null, lostBelow: readonly BriefLimit[], lostAbove: readonly BriefLimit[], passLossDb: number): ReturnType<typeof matchBrief> {
  if (low === null || high === null) return failure('no-mask', { why: low === null ? 'keep-above' : 'keep-below' });
  if (low >= high) return failure('mask-crossed');
  const [centre, width] = [Math.sqrt(low * high), high - low];
  const masks = [...lostBelow, ...lostAbove].map((l): Mask => ({ passHz: 1, passLossDb, stopHz: Math.abs(l.freqHz ** 2 - centre ** 2) / (width * l.freqHz), stopLossDb: l.db }));
  if (masks.some((m) => m.stopHz <= 1) || lostBelow.some((l) => l.freqHz >= low) || lostAbove.some((l) => l.freqHz <= high)) return failure('mask-crossed');
  return success(worstOf(masks).map((estimate) => ({
    response: 'bandpass', alignment: estimate.alignment.id, order: 2 * estimate.order, cutoffHz: centre, bandwidthHz: width * estimate.cutoffHz, ...looksOf(estimate, masks), passHz: bandEdges(centre, width),
  })));
}

/** Of every alignment the highest order that any of the masks asks for; one that cannot meet them all is left out. */
function worstOf(masks: readonly Mask[]): OrderEstimate[] {
  const lists = masks.map((mask) => smallestOrders(mask));
  return lists[0].flatMap((first) => {
    const all = lists.map((list) => list.find((e) => e.alignment.id === first.alignment.id));
    return all.every((e) => e !== undefined) ? [all.reduce((a, b) => (b.order > a.order ? b : a), first)] : [];
  });
}

/** What the alignment was estimated with: its ripple is the loss allowed, its attenuation what must go. */
const looksOf = ({ alignment }: OrderEstimate, masks: readonly Mask[]): Pick<BriefMatch, 'rippleDb' | 'attenuationDb'> => ({
  rippleDb: Math.max(LEAST_RIPPLE_DB, masks[0].passLossDb), attenuationDb: alignmentById(alignment.id).hasAttenuation ? Math.max(10, ...masks.map((m) => m.stopLossDb)) : 50,
});
