import type { Rational } from './rational';
import { complex, divide, multiply, type Complex } from '../math/complex';

export const FILTER_RESPONSES = ['lowpass', 'highpass', 'bandpass', 'notch', 'allpass'] as const;
export type FilterResponse = (typeof FILTER_RESPONSES)[number];

/**
 * One or two poles of a prototype, relative to the cutoff. First order has no Q; second order may have a pair of zeros
 * on the frequency axis, at ±j·zero.
 */
export type PrototypeSection =
  | { readonly order: 1; readonly omega: number }
  | { readonly order: 2; readonly omega: number; readonly q: number; readonly zero?: number };

/**
 * What a stage is asked for. `gain` is the size of its flat part: at 0 Hz for a low-pass, far above cutoff for a
 * high-pass, at the centre of a band-pass, anywhere of an all-pass, and of a notch on that side where it passes more
 * (at 0 Hz where both are alike).
 */
export interface SectionTarget {
  readonly response: FilterResponse;
  /** Order 0 is a flat gain. */
  readonly order: 0 | 1 | 2;
  readonly freqHz: number;
  /** Only for second order. */
  readonly q: number;
  readonly gain: number;
  /** Where a notch has its null; at `freqHz` when absent. */
  readonly zeroHz?: number;
}

/** A notch's null over its natural frequency: above 1 it is a low-pass with a null, below 1 a high-pass with one. */
export const nullRatio = ({ zeroHz, freqHz }: Pick<SectionTarget, 'zeroHz' | 'freqHz'>): number =>
  (zeroHz ?? freqHz) / freqHz;

/** A conjugate pole pair −a ± jb (b may be 0) as a section. */
export function sectionOfPair(pole: Complex): PrototypeSection {
  const omega = Math.hypot(pole.re, pole.im);
  return { order: 2, omega, q: omega / (-2 * pole.re) };
}

/** Sections of a set of poles in the left half plane, lowest Q first: conjugate pairs, and real ones each by itself. */
export function sectionsOfPoles(poles: readonly Complex[]): PrototypeSection[] {
  const isReal = ({ re, im }: Complex) => Math.abs(im) <= 1e-9 * Math.abs(re);
  const sections: PrototypeSection[] = poles.filter((p) => p.im > 0 && !isReal(p)).map(sectionOfPair);
  sections.push(...poles.filter(isReal).map(({ re }) => ({ order: 1 as const, omega: -re })));
  return sections.sort((a, b) => (a.order === 1 ? 0 : a.q) - (b.order === 1 ? 0 : b.q));
}

/** Numerator of a section in s over its natural frequency, lowest power first. */
function numeratorOf(target: SectionTarget): readonly [number, number, number] {
  const { response, order, q, gain } = target;
  if (order === 0) return [gain, 0, 0];
  if (order === 1)
    return response === 'highpass' ? [0, gain, 0] : response === 'allpass' ? [gain, -gain, 0] : [gain, 0, 0];
  switch (response) {
    case 'lowpass':
      return [gain, 0, 0];
    case 'highpass':
      return [0, 0, gain];
    case 'bandpass':
      return [0, gain / q, 0];
    case 'allpass':
      return [gain, -gain / q, gain];
    case 'notch': {
      const square = nullRatio(target) ** 2;
      return square >= 1 ? [gain, 0, gain / square] : [gain * square, 0, gain];
    }
  }
}

const denominatorOf = ({ order, q }: SectionTarget): readonly [number, number, number] =>
  order === 0 ? [1, 0, 0] : order === 1 ? [1, 1, 0] : [1, 1 / q, 1];

/** Value of a section at s = j·2πf: the ideal a stage is compared with. */
export function sectionResponse(target: SectionTarget, freqHz: number): Complex {
  const u = freqHz / target.freqHz;
  const at = ([a, b, c]: readonly [number, number, number]) => complex(a - c * u * u, b * u);
  return divide(at(numeratorOf(target)), at(denominatorOf(target)));
}

/** The section as a ratio of polynomials in s. */
export function rationalOfSection(target: SectionTarget): Rational {
  const tau = 1 / (2 * Math.PI * target.freqHz);
  const inSeconds = (polynomial: readonly number[]) =>
    polynomial.slice(0, target.order + 1).map((c, i) => c * tau ** i);
  return { numerator: inSeconds(numeratorOf(target)), denominator: inSeconds(denominatorOf(target)) };
}

/** Product of sections over a grid, interleaved re, im. */
export function cascadeResponse(targets: readonly SectionTarget[], frequenciesHz: Float64Array): Float64Array {
  const out = new Float64Array(2 * frequenciesHz.length);
  frequenciesHz.forEach((f, i) => {
    let product = complex(1);
    for (const target of targets) product = multiply(product, sectionResponse(target, f));
    out[2 * i] = product.re;
    out[2 * i + 1] = product.im;
  });
  return out;
}
