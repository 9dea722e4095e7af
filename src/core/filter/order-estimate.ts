import { powerAt, type Alignment, type AlignmentOptions } from './alignments/define-alignment';
import type { PrototypeSection } from './section';
import { beginsBetween, leastBetween } from '../math/search';

/**
 * How far a prototype keeps what is to be kept, and from where on it loses what is to be lost; both in rad/s, of a
 * low-pass with its own cutoff at 1.
 */
export interface Reach {
  /** The ω up to which it is nowhere more than so many dB under its peak; 0 where it is so from the start. */
  keepsTo(db: number): number;
  /**
   * The ω from which on it is nowhere less than so many dB under its peak; infinite where it comes back above that for
   * ever.
   */
  losesFrom(db: number): number;
}

const [LOWEST, HIGHEST] = [1e-7, 1e7];
/** A bound is known to this share. */
const NEAR = 1e-10;
const LOBE_STEPS = 30;
/** Steps in which a pass band that ripples by more than is allowed is walked through to its first dip. */
const WALK = 400;

/** The reach of one prototype. Losses are taken from its own peak, as a brief's limits are. */
export function reachOf(alignment: Alignment, order: number, options: AlignmentOptions): Reach {
  const sections = alignment.prototype(order, options);
  const peakDb = -alignment.dcLevelDb(order, options);
  const lossDb = (omega: number) => peakDb - 10 * Math.log10(Math.max(1e-300, powerAt(sections, omega)));
  const nulls = nullsOf(sections);
  const firstNull = Math.min(HIGHEST, ...nulls);
  let lobes: ReturnType<typeof leastBeyond> | undefined;
  const pastRipple = alignment.hasRipple ? options.rippleDb : 0;
  return {
    keepsTo(db) {
      if (alignment.hasRipple && db < pastRipple - 1e-9) return firstDip(lossDb, db);
      // Past the edge of its ripple, or from the start, the loss only grows until the first null.
      return rising((omega) => lossDb(omega) > db + 1e-9, alignment.hasRipple ? 1 : LOWEST, firstNull);
    },
    losesFrom(db) {
      if (nulls.length === 0) return rising((omega) => lossDb(omega) >= db, alignment.hasRipple ? 1 : LOWEST, HIGHEST);
      const last = Math.max(...nulls);
      const lobe = (lobes ??= leastBeyond(lossDb, nulls));
      if (lobe.leastDb >= db - 1e-6)
        return rising((omega) => lossDb(omega) >= db, alignment.hasRipple ? 1 : LOWEST, firstNull);
      // It comes back above the limit between its nulls: only beyond the last lobe is it lost for good, if the response
      // goes on falling at all.
      if (lossDb(HIGHEST) < db) return Infinity;
      return rising((omega) => lossDb(omega) >= db, Math.max(last, lobe.lastAt), HIGHEST);
    },
  };
}

const nullsOf = (sections: readonly PrototypeSection[]): number[] =>
  sections.flatMap((s) => (s.order === 2 && s.zero !== undefined ? [s.zero] : []));

/** The ω from which on a condition holds; 0 or infinite where it does so from the start, or nowhere. */
function rising(holds: (omega: number) => boolean, from: number, to: number): number {
  if (holds(from)) return from === LOWEST ? 0 : from;
  if (!holds(to * (1 - 1e-12))) return to === HIGHEST ? Infinity : to;
  return beginsBetween(holds, from, to, NEAR);
}

function firstDip(lossDb: (omega: number) => number, db: number): number {
  if (lossDb(0) > db + 1e-9) return 0;
  for (let i = 1; i <= WALK; i++)
    if (lossDb(i / WALK) > db) return rising((omega) => lossDb(omega) > db, Math.max(LOWEST, (i - 1) / WALK), i / WALK);
  return 1;
}

/** The least loss on any lobe between two nulls and past the last, dB, and where the last lobe lies. */
function leastBeyond(lossDb: (omega: number) => number, nulls: readonly number[]): { leastDb: number; lastAt: number } {
  const sorted = [...nulls].sort((a, b) => a - b);
  const lobes = sorted.map((low, i) => lobeBetween(lossDb, low, sorted[i + 1] ?? HIGHEST));
  return { leastDb: Math.min(...lobes.map((l) => l.db)), lastAt: lobes[lobes.length - 1].at };
}

function lobeBetween(lossDb: (omega: number) => number, from: number, to: number): { at: number; db: number } {
  const { at, value } = leastBetween((log) => lossDb(Math.exp(log)), Math.log(from), Math.log(to), LOBE_STEPS);
  return { at: Math.exp(at), db: value };
}
