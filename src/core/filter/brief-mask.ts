import { failure, success, type Result } from '../result';
import { ALIGNMENTS } from './alignments/index';
import type { Alignment } from './alignments/define-alignment';
import { reachOf, type Reach } from './order-estimate';
import { prototypesOfBands } from './plan-sections';
import { greatestBetween } from '../math/search';

/** A limit as a brief has it: at most, or at least, so many dB down from a frequency on, to one side. */
export interface BriefLimit {
  readonly kind: 'at-most' | 'at-least';
  readonly freqHz: number;
  readonly side: 'below' | 'above';
  /** How far down: at most, or at least. */
  readonly db: number;
  /** Of a pass limit, how far above the pass band's level the curve may lie, dB; as far as below when absent. */
  readonly upDb?: number;
}

/** How far above its reference a pass limit lets a curve lie, dB. */
export const upOf = ({ db, upDb }: Pick<BriefLimit, 'db' | 'upDb'>): number => upDb ?? db;

/** A plan that meets every limit of a brief with the smallest order its alignment can. */
export interface BriefMatch {
  readonly response: 'lowpass' | 'highpass' | 'bandpass' | 'bandstop';
  readonly alignment: string;
  readonly order: number;
  readonly cutoffHz: number;
  readonly bandwidthHz: number;
  readonly rippleDb: number;
  readonly attenuationDb: number;
  /** The pass band, Hz; open ends are a decade away. */
  readonly passHz: readonly [number, number];
}

/**
 * A pass limit speaks for the decade next to its frequency, no further than the limits on its other side: a band need
 * not pass what its other slope takes.
 */
const PASS_REACH = 10;

/**
 * Between which frequencies (Hz) a limit holds, the first being its own; a stop limit without end goes to 0 or
 * infinity. Of two stop limits that face one another, with something kept beyond each, both hold between them alone: a
 * band-stop.
 */
export function limitSpan(limit: BriefLimit, all: readonly BriefLimit[]): readonly [number, number] {
  const { kind, side, freqHz } = limit;
  const above = side === 'above';
  const beyond = (l: BriefLimit) => (above ? l.freqHz > freqHz : l.freqHz < freqHz);
  if (kind === 'at-least') {
    const facing = all.filter((l) => l.kind === 'at-least' && l.side !== side && beyond(l) && keptBeyond(l, all));
    const ends = keptBeyond(limit, all) ? facing.map((l) => l.freqHz) : [];
    return above ? [freqHz, Math.min(Infinity, ...ends)] : [Math.max(0, ...ends), freqHz];
  }
  // What ends it: the pass band's other edge, or where something is to be lost.
  const ends = all
    .filter((l) => (l.kind === 'at-most' ? l.side !== side : l.side === side) && beyond(l))
    .map((l) => l.freqHz);
  return above ? [freqHz, Math.min(freqHz * PASS_REACH, ...ends)] : [Math.max(freqHz / PASS_REACH, ...ends), freqHz];
}

/** Whether what lies on the open side of a stop limit's frequency is to be kept: it ends a stop band there. */
const keptBeyond = ({ side, freqHz }: BriefLimit, all: readonly BriefLimit[]): boolean =>
  all.some(
    (l) => l.kind === 'at-most' && l.side !== side && (side === 'above' ? l.freqHz < freqHz : l.freqHz > freqHz),
  );

/** What a search may choose besides the cutoff. */
interface Looks {
  readonly rippleDb: number;
  readonly attenuationDb: number;
}
const RIPPLE_DB = [0.01, 3] as const;
const ATTENUATION_DB = [10, 140] as const;
const USUAL: Looks = { rippleDb: 0.5, attenuationDb: 50 };

/**
 * Of a prototype laid over the limits: where it stands best, and the room there: the largest cutoff (or narrowest band)
 * that is allowed over the least; 1 or more when all are met.
 */
interface Fit {
  readonly room: number;
  readonly cutoffHz: number;
  readonly bandwidthHz: number;
}
type FitOf = (reach: Reach) => Fit;

/** Rounding must not turn down what just fits. */
const JUST = 1e-7;

/**
 * The smallest order of every alignment that meets all of a brief's limits, whatever cutoff, ripple and attenuation it
 * takes: one side kept and the other lost is a low-pass or a high-pass, a middle kept and both sides lost a band-pass,
 * a middle lost and both sides kept a band-stop.
 * A prototype gives for every limit a bound on its cutoff; where the highest that the pass limits ask for lies under
 * the lowest that the stop limits allow, it fits; ripple and attenuation are searched for where they leave the most
 * room. Of a band-pass the centre too. Fails with `no-mask` (`why`: what is missing) or `mask-crossed` when something
 * is to be kept where it is to be lost.
 */
export function matchBrief(given: readonly BriefLimit[]): Result<BriefMatch[], 'no-mask' | 'mask-crossed'> {
  // To be lost by nothing is no limit: any cutoff would do.
  const limits = given.filter((l) => l.kind === 'at-most' || l.db > 0);
  const of = (kind: BriefLimit['kind'], side: BriefLimit['side']) =>
    limits.filter((l) => l.kind === kind && l.side === side);
  const [keptBelow, keptAbove, lostBelow, lostAbove] = [
    of('at-most', 'below'),
    of('at-most', 'above'),
    of('at-least', 'below'),
    of('at-least', 'above'),
  ];
  if (keptBelow.length + keptAbove.length === 0) return failure('no-mask', { why: 'keep' });
  if (lostBelow.length + lostAbove.length === 0) return failure('no-mask', { why: 'lose' });
  const high = keptBelow.length > 0 ? Math.max(...keptBelow.map((l) => l.freqHz)) : null;
  const low = keptAbove.length > 0 ? Math.min(...keptAbove.map((l) => l.freqHz)) : null;
  if (lostAbove.length > 0 && lostBelow.length > 0) {
    if (low === null || high === null) return failure('no-mask', { why: low === null ? 'keep-above' : 'keep-below' });
    if (low > high) return matchBandStop(limits, high, low);
    const crossed = low >= high || lostBelow.some((l) => l.freqHz >= low) || lostAbove.some((l) => l.freqHz <= high);
    return crossed
      ? failure('mask-crossed')
      : success(matches('bandpass', [low, high], (reach) => fitBand(reach, limits, low, high)));
  }
  if (lostAbove.length > 0) {
    if (high === null) return failure('no-mask', { why: 'keep-below' });
    if (lostAbove.some((l) => l.freqHz <= high)) return failure('mask-crossed');
    return success(
      matches('lowpass', [high / PASS_REACH, high], (reach) => fitEdge(reach, keptBelow, lostAbove, false)),
    );
  }
  if (low === null) return failure('no-mask', { why: 'keep-above' });
  if (lostBelow.some((l) => l.freqHz >= low)) return failure('mask-crossed');
  return success(matches('highpass', [low, low * PASS_REACH], (reach) => fitEdge(reach, keptAbove, lostBelow, true)));
}

/** Kept up to one frequency and from another on, lost between them. */
function matchBandStop(
  limits: readonly BriefLimit[],
  keptTo: number,
  keptFrom: number,
): Result<BriefMatch[], 'mask-crossed'> {
  const lost = limits.filter((l) => l.kind === 'at-least');
  const [from, to] = (['above', 'below'] as const).map((side) =>
    lost.filter((l) => l.side === side).map((l) => l.freqHz),
  );
  const crossed = from.some((f) => f <= keptTo || f >= keptFrom) || to.some((f) => f <= keptTo || f >= keptFrom);
  if (crossed || Math.min(...from) >= Math.max(...to)) return failure('mask-crossed');
  return success(
    matches('bandstop', [keptTo / PASS_REACH, keptTo], (reach) => fitStop(reach, limits, keptTo, keptFrom)),
  );
}

function matches(response: BriefMatch['response'], passHz: readonly [number, number], fitOf: FitOf): BriefMatch[] {
  return ALIGNMENTS.filter((a) => a.id !== 'custom')
    .flatMap((alignment: Alignment): BriefMatch[] => {
      const orders =
        response === 'bandpass' || response === 'bandstop' ? prototypesOfBands(alignment) : alignment.orders;
      for (const order of orders) {
        const found = bestLooks(alignment, (looks) =>
          fitOf(reachOf(alignment, order, { ...looks, cutoffAt: alignment.defaultCutoffAt })),
        );
        if (found.fit.room < 1 - JUST) continue;
        return [
          {
            response,
            alignment: alignment.id,
            order: response === 'bandpass' || response === 'bandstop' ? 2 * order : order,
            cutoffHz: found.fit.cutoffHz,
            bandwidthHz: found.fit.bandwidthHz,
            ...found.looks,
            passHz,
          },
        ];
      }
      return [];
    })
    .sort((a, b) => a.order - b.order);
}

/** A low-pass, or mirrored a high-pass, between the bounds that the limits set its cutoff. */
function fitEdge(reach: Reach, kept: readonly BriefLimit[], lost: readonly BriefLimit[], mirrored: boolean): Fit {
  // In u = f/fc, or fc/f: kept up to u, lost from u on.
  const [least, most] = [
    Math.max(...kept.map((l) => (mirrored ? 1 / l.freqHz : l.freqHz) / reach.keepsTo(l.db))),
    Math.min(...lost.map((l) => (mirrored ? 1 / l.freqHz : l.freqHz) / reach.losesFrom(l.db))),
  ];
  const middle = Math.sqrt(least * most);
  const cutoffHz = mirrored ? 1 / middle : middle;
  return { room: most / least, cutoffHz, bandwidthHz: cutoffHz };
}

const CENTRES = 48;
const GOLDEN_STEPS = 14;
const RIPPLE_STEPS = 14;
const ATTENUATION_STEPS = 26;
/**
 * Where the best point of the grid leaves less room than this, none between its points meets the limits: room changes
 * by less from one to the next.
 */
const IN_GRASP = 0.8;

/**
 * A band-pass: for every centre the bandwidth is bounded from both sides; the centre that leaves most room is looked
 * for.
 */
function fitBand(reach: Reach, limits: readonly BriefLimit[], low: number, high: number): Fit {
  // What is kept is kept at both ends of where its limit holds, whichever side of the centre they lie.
  const reaches = limits.flatMap((l) => {
    const omega = l.kind === 'at-most' ? reach.keepsTo(l.db) : reach.losesFrom(l.db);
    return l.kind === 'at-least' ? [{ ...l, omega }] : limitSpan(l, limits).map((freqHz) => ({ ...l, freqHz, omega }));
  });
  const at = (logCentre: number): Fit => {
    const centre = Math.exp(logCentre);
    let [least, most] = [0, Infinity];
    for (const { kind, side, freqHz, omega } of reaches) {
      const over = (freqHz ** 2 - centre ** 2) / freqHz;
      if (kind === 'at-most') least = Math.max(least, Math.abs(over) / omega);
      // A stop limit on the wrong side of the centre cannot be met at all.
      else most = Math.min(most, Math.max(0, side === 'above' ? over : -over) / omega);
    }
    return { room: most / least, cutoffHz: centre, bandwidthHz: Math.sqrt(least * most) };
  };
  return climb(at, Math.log(low), Math.log(high), CENTRES);
}

/**
 * A band-stop: s → bandwidth·s/(s² + centre²) puts what is kept at most at a prototype's ω, what is lost at least, so
 * that the bounds on the bandwidth are those of a band-pass the other way round.
 */
function fitStop(reach: Reach, limits: readonly BriefLimit[], low: number, high: number): Fit {
  const reaches = limits.flatMap((l) =>
    limitSpan(l, limits)
      .filter((freqHz) => freqHz > 0 && freqHz < Infinity)
      .map((freqHz) => ({ ...l, freqHz, omega: l.kind === 'at-most' ? reach.keepsTo(l.db) : reach.losesFrom(l.db) })),
  );
  const at = (logCentre: number): Fit => {
    const centre = Math.exp(logCentre);
    let [least, most] = [0, Infinity];
    for (const { kind, side, freqHz, omega } of reaches) {
      const over = (freqHz ** 2 - centre ** 2) / freqHz;
      // What is kept on the wrong side of the centre cannot be.
      if (kind === 'at-most') most = Math.min(most, omega * Math.max(0, side === 'above' ? over : -over));
      else least = Math.max(least, omega * Math.abs(over));
    }
    return { room: most / least, cutoffHz: centre, bandwidthHz: Math.sqrt(least * most) };
  };
  return climb(at, Math.log(low), Math.log(high), CENTRES);
}

/** The best of a function of one number: on a grid, then by golden section about the best point of it. */
function climb<T extends { readonly room: number }>(at: (x: number) => T, from: number, to: number, steps: number): T {
  const step = (to - from) / steps;
  const value = (x: number) => at(Math.min(to, Math.max(from, x)));
  let [best, where] = [value(from), from];
  for (let i = 1; i <= steps; i++) {
    const next = value(from + i * step);
    if (next.room > best.room) [best, where] = [next, from + i * step];
  }
  if (best.room < IN_GRASP) return best;
  const sharp = value(greatestBetween((x) => value(x).room, where - step, where + step, GOLDEN_STEPS).at);
  return sharp.room > best.room ? sharp : best;
}

interface Found {
  readonly looks: Looks;
  readonly fit: Fit;
  readonly room: number;
}

/** Ripple and attenuation, where an alignment has them, that leave the most room. */
function bestLooks(alignment: Alignment, fitOf: (looks: Looks) => Fit): Found {
  const of = (looks: Looks): Found => {
    const fit = fitOf(looks);
    return { looks, fit, room: Number.isFinite(fit.room) ? fit.room : 0 };
  };
  const overRipple = (attenuationDb: number): Found =>
    alignment.hasRipple
      ? climb(
          (x) => of({ rippleDb: Math.exp(x), attenuationDb }),
          Math.log(RIPPLE_DB[0]),
          Math.log(RIPPLE_DB[1]),
          RIPPLE_STEPS,
        )
      : of({ ...USUAL, attenuationDb });
  return alignment.hasAttenuation
    ? climb(overRipple, ATTENUATION_DB[0], ATTENUATION_DB[1], ATTENUATION_STEPS)
    : overRipple(USUAL.attenuationDb);
}
