import { polynomialProduct, type Rational } from '../../filter/rational';

import type { DesignContext } from '../kit/design-context';
import { LEVEL_OHM } from '../kit/design-context';
import type { PartSpec } from '../kit/define-topology';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import type { PartValues } from '../kit/part';

/**
 * What the two amplifiers shaped by one or two capacitors share: a gain, and the poles that Rf with Cf, and Ri with Ci,
 * make.
 */
export const SHAPES = ['both', 'top', 'bottom', 'plain'] as const;
export const hasTop = (form: string): boolean => form === 'both' || form === 'top';
export const hasBottom = (form: string): boolean => form === 'both' || form === 'bottom';

export const SHAPED_PARAMETERS: ParameterSpec[] = [
  { name: 'gainDb', label: 'gain', kind: 'decibel', min: 0.5, max: 66, initial: 26 },
  {
    name: 'bottomHz',
    label: 'bottom falls below',
    kind: 'frequency',
    min: 1e-3,
    max: 1e7,
    initial: 40,
    forms: ['both', 'bottom'],
  },
  {
    name: 'topHz',
    label: 'top falls above',
    kind: 'frequency',
    min: 1e-3,
    max: 1e8,
    initial: 12e3,
    forms: ['both', 'top'],
  },
];

export const shapedParts = (form: string): PartSpec[] => [
  { name: 'Rf', kind: 'resistor', role: 'fed back', leaveOut: 'short' },
  { name: 'Ri', kind: 'resistor', role: 'sets the gain', leaveOut: 'open' },
  ...(hasTop(form)
    ? [{ name: 'Cf', kind: 'capacitor', role: 'across Rf: takes the top down', leaveOut: 'open' } as const]
    : []),
  ...(hasBottom(form)
    ? [
        {
          name: 'Ci',
          kind: 'capacitor',
          role: 'in series with Ri: takes the bottom down, and DC with it',
          leaveOut: 'short',
        } as const,
      ]
    : []),
];

/** Corners of the two capacitors, Hz: those of their poles. */
export function shapedCorners(form: string, { Rf, Ri, Cf, Ci }: PartValues): Parameters {
  return {
    ...(hasBottom(form) ? { bottomHz: 1 / (2 * Math.PI * Ri * Ci) } : {}),
    ...(hasTop(form) ? { topHz: 1 / (2 * Math.PI * Rf * Cf) } : {}),
  };
}

/**
 * Rf and Ri for a ratio between them, Cf and Ci for the corners. Capacitors first: Cf is one that can be had and Rf
 * follows; otherwise, or without Cf, Ci, or Ri and Rf themselves, set the level.
 */
export function shapedDesign(
  wanted: Parameters,
  form: string,
  ratio: number,
  context: DesignContext,
): { parts: PartValues; first: string[] } {
  const sized = (freqHz: number, ohm: number) => 1 / (2 * Math.PI * freqHz * ohm);
  let Rf: number;
  let first: string;
  if (hasTop(form) && context.capacitorsFirst) {
    first = 'Cf';
    const Cf = context.capacitor('Cf', Math.max(47e-12, sized(wanted.topHz, 4 * LEVEL_OHM)));
    Rf = sized(wanted.topHz, Cf);
  } else if (hasBottom(form) && context.capacitorsFirst) {
    first = 'Ci';
    Rf = ratio * sized(wanted.bottomHz, context.capacitor('Ci', sized(wanted.bottomHz, LEVEL_OHM / 5)));
  } else {
    first = 'Ri';
    Rf = ratio * context.resistor('Ri', LEVEL_OHM / 5);
  }
  const Ri = Rf / ratio;
  return {
    parts: {
      Rf,
      Ri,
      ...(hasTop(form) ? { Cf: sized(wanted.topHz, Rf) } : {}),
      ...(hasBottom(form) ? { Ci: sized(wanted.bottomHz, Ri) } : {}),
    },
    first: [first],
  };
}

/** Zf/Zi = (Rf/Ri) · s Ri Ci/(1 + s Ri Ci) · 1/(1 + s Rf Cf), the capacitors that are not there left out. */
export function feedbackRatio(form: string, { Rf, Ri, Cf, Ci }: PartValues): Rational {
  const [top, bottom] = [hasTop(form) ? [1, Rf * Cf] : [1], hasBottom(form) ? [1, Ri * Ci] : [1]];
  return { numerator: hasBottom(form) ? [0, Rf * Ci] : [Rf / Ri], denominator: polynomialProduct(top, bottom) };
}
