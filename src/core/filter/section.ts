import type { Rational } from './rational';
import { add, complex, divide, multiply, type Complex } from '../math/complex';

export type FilterResponse = 'lowpass' | 'highpass';

/** One or two poles of a prototype, relative to the cutoff. First order has no Q; second order may have a pair of zeros on the frequency axis, at ±j·zero. */
export type PrototypeSection = { readonly order: 1; readonly omega: number } | { readonly order: 2; readonly omega: number; readonly q: number; readonly zero?: number };

/** What a stage is asked for. `gain` is the size of its flat part: at 0 Hz for a low-pass, far above cutoff for a high-pass. */
export interface SectionTarget {
  readonly response: FilterResponse;
  /** Order 0 is a flat gain. */
  readonly order: 0 | 1 | 2;
  readonly freqHz: number;
  /** Only for second order. */
  readonly q: number;
  readonly gain: number;
}

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

/** Value of a section at s = j·2πf: the ideal a stage is compared with. */
export function sectionResponse(target: SectionTarget, freqHz: number): Complex {
  if (target.order === 0) return complex(target.gain);
  const s = complex(0, freqHz / target.freqHz);
  if (target.order === 1) {
    const top = target.response === 'lowpass' ? complex(target.gain) : multiply(s, complex(target.gain));
    return divide(top, add(s, complex(1)));
  }
  const square = multiply(s, s);
  const bottom = add(add(square, multiply(s, complex(1 / target.q))), complex(1));
  return divide(multiply(target.response === 'lowpass' ? complex(1) : square, complex(target.gain)), bottom);
}

/** The section as a ratio of polynomials in s. */
export function rationalOfSection({ response, order, freqHz, q, gain }: SectionTarget): Rational {
  const tau = 1 / (2 * Math.PI * freqHz);
  if (order === 0) return { numerator: [gain], denominator: [1] };
  if (order === 1) return { numerator: response === 'lowpass' ? [gain] : [0, gain * tau], denominator: [1, tau] };
  return { numerator: response === 'lowpass' ? [gain] : [0, 0, gain * tau * tau], denominator: [1, tau / q, tau * tau] };
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
