import { passesRatioHz, polynomialProduct, type Rational } from '../../filter/rational';
import type { DesignContext } from '../kit/design-context';
import type { PartSpec } from '../kit/define-topology';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import { follower, inLine, kindOf, openLadder, toGround } from '../kit/ladder';
import type { Arm } from '../kit/arm';
import type { PartValues } from '../kit/part';

/** What the two families of equal RC sections share: forms, parts, the half-power point of the whole. */
const FORMS: Readonly<Record<string, { readonly count: number; readonly low: boolean }>> = {
  'two low-pass': { count: 2, low: true },
  'three low-pass': { count: 3, low: true },
  'four low-pass': { count: 4, low: true },
  'two high-pass': { count: 2, low: false },
  'three high-pass': { count: 3, low: false },
  'four high-pass': { count: 4, low: false },
};
export const SECTION_FORMS = Object.keys(FORMS);
export const sectionCount = (form: string): number => FORMS[form].count;
const isLow = (form: string): boolean => FORMS[form].low;
const numbers = (form: string) => Array.from({ length: sectionCount(form) }, (_, k) => k + 1);

export const CUTOFF: ParameterSpec = {
  name: 'cutoffHz',
  label: 'cutoff, −3 dB',
  kind: 'frequency',
  min: 1e-3,
  max: 1e8,
  initial: 1000,
};

export function sectionParts(form: string): PartSpec[] {
  const [s, p] = isLow(form) ? ['R', 'C'] : ['C', 'R'];
  return numbers(form).flatMap((k): PartSpec[] => [
    { name: `${s}${k}`, kind: kindOf(s), role: 'in line', leaveOut: 'short' },
    { name: `${p}${k}`, kind: kindOf(p), role: 'to ground', leaveOut: 'open' },
  ]);
}

export function sectionArms(form: string, isolated: boolean): Arm[] {
  const [s, p] = isLow(form) ? ['R', 'C'] : ['C', 'R'];
  return numbers(form).flatMap((k, i) => [
    ...(isolated && i > 0 ? [follower(`U${i}`)] : []),
    inLine(`${s}${k}`),
    toGround(`${p}${k}`),
  ]);
}

/** H(s) of the row, loaded (a ladder) or isolated (a product). */
export function sectionsTransfer(form: string, parts: PartValues, isolated: boolean): Rational {
  const order = numbers(form);
  const [r, c] = [order.map((k) => parts[`R${k}`]), order.map((k) => parts[`C${k}`])];
  if (isLow(form)) {
    const denominator = isolated
      ? order.reduce((product, _, i) => polynomialProduct(product, [1, r[i] * c[i]]), [1])
      : openLadder(r, c);
    return { numerator: [1], denominator };
  }
  // In 1/s; turned round it is in s.
  const inverse = isolated
    ? order.reduce((product, _, i) => polynomialProduct(product, [1, 1 / (r[i] * c[i])]), [1])
    : openLadder(
        c.map((v) => 1 / v),
        r.map((v) => 1 / v),
      );
  return { numerator: [...order.map(() => 0), 1], denominator: [...inverse].reverse() };
}

/** Where the whole row is 3 dB down, Hz. */
export function sectionsCutoffHz(form: string, parts: PartValues, isolated: boolean): number {
  const one = 1 / (2 * Math.PI * parts.R1 * parts.C1);
  return passesRatioHz(sectionsTransfer(form, parts, isolated), Math.SQRT1_2, one / 1e5, one * 1e5);
}

/**
 * The cutoff of n equal sections over the cutoff of one: 0.3742 for two loaded, 0.6436 for two isolated; its inverse
 * for high-passes.
 */
export function sectionsFactor(form: string, isolated: boolean): number {
  const unit = Object.fromEntries(
    numbers(form).flatMap((k) => [
      [`R${k}`, 1],
      [`C${k}`, 1 / (2 * Math.PI)],
    ]),
  );
  return sectionsCutoffHz(form, unit, isolated);
}

/** Equal parts: one capacitor that can be had, and resistors that bring the whole row to its cutoff. */
export function sectionsDesign(
  { cutoffHz }: Parameters,
  form: string,
  context: DesignContext,
  isolated: boolean,
): Record<string, number> {
  const single = cutoffHz / sectionsFactor(form, isolated);
  const capacitor = context.capacitorsFirst
    ? context.capacitor('C1', context.capacitorLevel(single))
    : 1 / (2 * Math.PI * single * context.resistor('R1', 10e3));
  const resistor = 1 / (2 * Math.PI * single * capacitor);
  return Object.fromEntries(
    numbers(form).flatMap((k) => [
      [`R${k}`, resistor],
      [`C${k}`, capacitor],
    ]),
  );
}

/** Parts chosen before the others are computed. */
export const chosenFirst = (form: string, context: DesignContext): string[] =>
  numbers(form).map((k) => `${context.capacitorsFirst ? 'C' : 'R'}${k}`);
