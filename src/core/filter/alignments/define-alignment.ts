import type { PrototypeSection } from '../section';
import { beginsBetween } from '../../math/search';

export interface AlignmentOptions {
  /** Pass-band ripple, dB, for alignments that have one. */
  readonly rippleDb: number;
  /** Stop-band attenuation, dB, for alignments that have one. */
  readonly attenuationDb?: number;
  /** Sections of the maker's own, for the alignment that takes them as they are. */
  readonly custom?: readonly PrototypeSection[];
  /**
   * Where schools differ on what the cutoff is: the half-power point, or the alignment's own mark (ripple edge, DC
   * delay).
   */
  readonly cutoffAt: 'own' | '-3db';
}

/** A family of low-pass prototypes. */
export interface Alignment {
  readonly id: string;
  readonly name: string;
  /** Why one would choose it, in a sentence. */
  readonly reason: string;
  readonly orders: readonly number[];
  readonly hasRipple: boolean;
  /** It has a stop-band attenuation of its own, and with it nulls. */
  readonly hasAttenuation: boolean;
  /** What `cutoffAt: 'own'` means, when it differs from −3 dB. */
  readonly ownCutoff?: string;
  /** How far under the pass band its own cutoff lies, dB, where that is not half power and the same for every order. */
  readonly ownCutoffDb?: number;
  readonly defaultCutoffAt: AlignmentOptions['cutoffAt'];
  /**
   * Sections with the cutoff at 1 rad/s, in order of rising Q (a first-order section first), each of unity gain at DC.
   */
  prototype(order: number, options: AlignmentOptions): PrototypeSection[];
  /** Level at DC against the pass-band peak, dB: minus the ripple for a Chebyshev of even order, else 0. */
  dcLevelDb(order: number, options: AlignmentOptions): number;
}

/** Up to this order prototypes are designed; a band has twice as many poles. */
export const HIGHEST_ORDER = 12;
export const ordersUpTo = (highest: number): number[] => Array.from({ length: highest }, (_, i) => i + 1);

/** Power gain of a prototype at ω (rad/s), 1 at DC. */
export function powerAt(sections: readonly PrototypeSection[], omega: number): number {
  let power = 1;
  for (const section of sections) {
    const u = (omega / section.omega) ** 2;
    power *= section.order === 1 ? 1 / (1 + u) : 1 / ((1 - u) ** 2 + u / section.q ** 2);
    if (section.order === 2 && section.zero !== undefined) power *= (1 - (omega / section.zero) ** 2) ** 2;
  }
  return power;
}

/** An inverse Chebyshev of order 1 that is 140 dB down at 1 rad/s has fallen by 3 dB at 1e-7 of it. */
const LOWEST_OMEGA = 1e-9;
const HIGHEST_OMEGA = 1e6;

/**
 * The ω where a prototype has fallen to half of its peak power (`peak`, relative to DC), by bisection in the logarithm:
 * the first such ω, which is the only one of a response that falls, and below the first zero of one that comes back.
 */
export function halfPowerOmega(sections: readonly PrototypeSection[], peak = 1): number {
  const zeros = sections.flatMap((s) => (s.order === 2 && s.zero !== undefined ? [s.zero] : []));
  return beginsBetween(
    (omega) => powerAt(sections, omega) <= peak / 2,
    LOWEST_OMEGA,
    Math.min(HIGHEST_OMEGA, ...zeros),
  );
}

/**
 * Gives zeros (rad/s) to second-order sections: the highest Q takes the nearest, the next the nearest of the rest,
 * which keeps each section's peak low.
 */
export function withZeros(sections: readonly PrototypeSection[], zeros: readonly number[]): PrototypeSection[] {
  const left = [...zeros].sort((a, b) => a - b);
  return [...sections]
    .reverse()
    .map((section) => {
      if (section.order === 1 || left.length === 0) return section;
      const nearest = left.reduce(
        (best, z, i) =>
          Math.abs(Math.log(z / section.omega)) < Math.abs(Math.log(left[best] / section.omega)) ? i : best,
        0,
      );
      return { ...section, zero: left.splice(nearest, 1)[0] };
    })
    .reverse();
}

export const scaleSections = (sections: readonly PrototypeSection[], factor: number): PrototypeSection[] =>
  sections.map((section) =>
    section.order === 2 && section.zero !== undefined
      ? { ...section, omega: section.omega * factor, zero: section.zero * factor }
      : { ...section, omega: section.omega * factor },
  );
