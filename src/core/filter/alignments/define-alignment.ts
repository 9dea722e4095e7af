import type { PrototypeSection } from '../section';

export interface AlignmentOptions {
  /** Pass-band ripple, dB, for alignments that have one. */
  readonly rippleDb: number;
  /** Where schools differ on what the cutoff is: the half-power point, or the alignment's own mark (ripple edge, DC delay). */
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
  /** What `cutoffAt: 'own'` means, when it differs from −3 dB. */
  readonly ownCutoff?: string;
  readonly defaultCutoffAt: AlignmentOptions['cutoffAt'];
  /** Pole sections with the cutoff at 1 rad/s, all-pole, in order of rising Q (a first-order section first). */
  prototype(order: number, options: AlignmentOptions): PrototypeSection[];
  /** Level at DC against the pass-band peak, dB: minus the ripple for a Chebyshev of even order, else 0. */
  dcLevelDb(order: number, options: AlignmentOptions): number;
}

export const ordersUpTo = (highest: number): number[] => Array.from({ length: highest }, (_, i) => i + 1);

/** Power gain of an all-pole prototype at ω (rad/s), 1 at DC. */
export function powerAt(sections: readonly PrototypeSection[], omega: number): number {
  let power = 1;
  for (const section of sections) {
    const u = (omega / section.omega) ** 2;
    power *= section.order === 1 ? 1 / (1 + u) : 1 / ((1 - u) ** 2 + u / section.q ** 2);
  }
  return power;
}

/** The ω where a prototype that falls from 1 at DC has lost half its power, by bisection in the logarithm. */
export function halfPowerOmega(sections: readonly PrototypeSection[]): number {
  let [low, high] = [1e-3, 1e3];
  for (let i = 0; i < 200 && high / low > 1 + 1e-15; i++) {
    const middle = Math.sqrt(low * high);
    if (powerAt(sections, middle) > 0.5) low = middle;
    else high = middle;
  }
  return Math.sqrt(low * high);
}

export const scaleSections = (sections: readonly PrototypeSection[], factor: number): PrototypeSection[] =>
  sections.map((section) => ({ ...section, omega: section.omega * factor }));
