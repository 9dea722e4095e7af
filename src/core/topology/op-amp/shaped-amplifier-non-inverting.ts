import { decibels, fromDecibels } from '../../units/quantity';
import { defineNetwork } from '../kit/define-network';
import type { WorkingLine } from '../kit/define-topology';
import { across, down, type Point } from '../kit/drawing';
import type { PartValues } from '../kit/part';
import {
  feedbackRatio,
  hasBottom,
  hasTop,
  SHAPED_PARAMETERS,
  SHAPES,
  shapedCorners,
  shapedDesign,
  shapedParts,
} from './shaped-amplifier';
import { format } from '../kit/working';

/** Gives the input its DC path, ohm. */
const BIAS_OHM = 1e6;
const parametersIn = (form: string) => SHAPED_PARAMETERS.filter((p) => !p.forms || p.forms.includes(form));
const measures = (form: string, parts: PartValues) => ({
  gainDb: decibels(1 + parts.Rf / parts.Ri),
  ...shapedCorners(form, parts),
});

/**
 * 1 + Zf/Zi. It shelves at gain one: each capacitor makes a pole and a zero. Cf alone: pole 1/(2π Rf Cf), zero 1/(2π
 * (Rf ∥ Ri) Cf). Ci alone: pole 1/(2π Ri Ci), zero 1/(2π (Rf + Ri) Ci). The rule of thumb takes the other resistor
 * alone for the zero.
 */
export const shapedAmplifierNonInverting = defineNetwork({
  id: 'shaped-amplifier-non-inverting',
  readAtPeak: (form) => form === 'both',
  shelved: true,
  name: 'Shaped amplifier, non-inverting',
  shortName: 'Shaped amp',
  words: [
    'gain stage',
    'preamplifier',
    'booster',
    'overdrive stage',
    'non-inverting amplifier',
    'bandwidth of an amplifier',
  ],
  family: 'op-amp',
  modes: SHAPES,
  parameters: SHAPED_PARAMETERS,
  opAmps: () => 1,
  reason:
    'A gain with its top, its bottom or both taken down by one capacitor each. It falls only to gain ' +
    'one: what there is to take away is the gain itself.',
  cautions: [
    'It shelves at gain one: with little gain there is little to remove.',
    'Cf brings the noise gain down to one at high frequencies: the op-amp must be stable there.',
    'The op-amp’s own top is its gain-bandwidth over 1 + Rf/Ri.',
  ],
  sources: ['W. G. Jung, IC Op-Amp Cookbook, 3rd ed., ch. 4; corners from 1 + Zf/Zi'],
  parts: (form) => [
    ...shapedParts(form),
    { name: 'Rb', kind: 'resistor', role: 'DC path of the input', leaveOut: 'open' },
  ],
  design(wanted, form, context) {
    const { parts, first } = shapedDesign(wanted, form, fromDecibels(wanted.gainDb) - 1, context);
    return context.meetParameters(
      parametersIn(form),
      wanted,
      { ...parts, Rb: context.resistor('Rb', BIAS_OHM) },
      [...first, 'Rb'],
      (values) => measures(form, values),
    );
  },
  measures,
  transfer(form, parts) {
    const { numerator, denominator } = feedbackRatio(form, parts);
    return { numerator: denominator.map((c, i) => c + (numerator[i] ?? 0)), denominator };
  },
  build(context) {
    const minus = context.node('m');
    context.part('Rb', context.input, context.reference);
    context.part('Rf', minus, context.output);
    if (context.has('Cf')) context.part('Cf', minus, context.output);
    const foot = context.has('Ci') ? context.node('i') : context.reference;
    context.part('Ri', minus, foot);
    if (context.has('Ci')) context.part('Ci', foot, context.reference);
    context.opAmp('U1', context.input, minus, context.output);
  },
  working(form, parts) {
    const { Rf, Ri, Cf, Ci } = parts;
    const hz = (ohm: number, farad: number) => format.hertz(1 / (2 * Math.PI * ohm * farad));
    const lines: WorkingLine[] = [
      { says: 'gain', tex: 'K = 1 + \\frac{R_f}{R_i}', value: `× ${format.ratio(1 + Rf / Ri)}` },
    ];
    if (hasTop(form))
      lines.push(
        { says: 'top falls above', tex: 'f = \\frac{1}{2\\pi R_f C_f}', value: hz(Rf, Cf) },
        {
          says: 'and levels off at',
          tex: 'f = \\frac{1}{2\\pi (R_f \\parallel R_i)\\, C_f}',
          value: hz((Rf * Ri) / (Rf + Ri), Cf),
        },
      );
    if (hasBottom(form))
      lines.push(
        { says: 'bottom falls below', tex: 'f = \\frac{1}{2\\pi R_i C_i}', value: hz(Ri, Ci) },
        { says: 'and levels off at', tex: 'f = \\frac{1}{2\\pi (R_f + R_i)\\, C_i}', value: hz(Rf + Ri, Ci) },
      );
    return lines;
  },
  drawing(form) {
    const [top, bottom] = [hasTop(form), hasBottom(form)];
    const feed = 17;
    const floor = top ? feed + 5 : feed;
    const ground: Point = [13, floor + (bottom ? 10 : 6)];
    return {
      width: 33,
      height: ground[1] + 3,
      parts: [
        down('Rb', 'resistor', 7, 10.5),
        across('Rf', 'resistor', 19.5, feed - 3.5),
        ...(top ? [across('Cf', 'capacitor', 19.5, feed + 1.5)] : []),
        down('Ri', 'resistor', 13, floor + 2),
        ...(bottom ? [down('Ci', 'capacitor', 13, floor + 6)] : []),
      ],
      opAmps: [{ name: 'U1', at: [19.5, 7.5], plusOnTop: true }],
      wires: [
        [
          [0, 6],
          [16.5, 6],
        ],
        [
          [7, 6],
          [7, 8.5],
        ],
        [
          [16.5, 9],
          [13, 9],
          [13, floor],
        ],
        [
          [13, feed - 3.5],
          [17.5, feed - 3.5],
        ],
        [
          [21.5, feed - 3.5],
          [26, feed - 3.5],
        ],
        [
          [22.5, 7.5],
          [30, 7.5],
        ],
        [
          [26, 7.5],
          [26, top ? feed + 1.5 : feed - 3.5],
        ],
        ...(top
          ? [
              [
                [13, feed + 1.5],
                [17.5, feed + 1.5],
              ] as Point[],
              [
                [21.5, feed + 1.5],
                [26, feed + 1.5],
              ] as Point[],
            ]
          : []),
      ],
      dots: [
        [7, 6],
        [13, feed - 3.5],
        [26, 7.5],
        ...(top ? [[13, feed + 1.5] as Point, [26, feed - 3.5] as Point] : []),
      ],
      grounds: [
        [7, 12.5],
        [13, bottom ? floor + 8 : floor + 4],
      ],
      ports: [
        { label: 'in', at: [0, 6], side: 'left' },
        { label: 'out', at: [30, 7.5], side: 'right' },
      ],
    };
  },
});
