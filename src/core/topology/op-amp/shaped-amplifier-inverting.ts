import { decibels, fromDecibels } from '../../units/quantity';
import { defineNetwork } from '../kit/define-network';
import type { WorkingLine } from '../kit/define-topology';
import { across, type Point } from '../kit/drawing';
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

const parametersIn = (form: string) => SHAPED_PARAMETERS.filter((p) => !p.forms || p.forms.includes(form));
const measures = (form: string, parts: PartValues) => ({
  gainDb: decibels(parts.Rf / parts.Ri),
  ...shapedCorners(form, parts),
});

/** −Zf/Zi: it falls for ever, where the non-inverting one shelves. */
export const shapedAmplifierInverting = defineNetwork({
  id: 'shaped-amplifier-inverting',
  readAtPeak: (form) => form === 'both',
  shelved: true,
  name: 'Shaped amplifier, inverting',
  shortName: 'Inverting amp',
  words: ['gain stage', 'preamplifier', 'inverting amplifier', 'bandwidth of an amplifier', 'mixer stage'],
  family: 'op-amp',
  modes: SHAPES,
  parameters: SHAPED_PARAMETERS,
  polarity: -1,
  opAmps: () => 1,
  reason: 'The same capacitors without the shelf: top and bottom fall on at 6 dB an octave, past gain one.',
  cautions: [
    'Ri is what the source sees: a high source wants the non-inverting circuit.',
    'It turns the signal over: count the inversions of the whole path.',
    'Cf brings the noise gain down to one at high frequencies: the op-amp must be stable there.',
  ],
  sources: ['W. G. Jung, IC Op-Amp Cookbook, 3rd ed., ch. 4; corners from −Zf/Zi'],
  parts: shapedParts,
  design(wanted, form, context) {
    const { parts, first } = shapedDesign(wanted, form, fromDecibels(wanted.gainDb), context);
    return context.meetParameters(parametersIn(form), wanted, parts, first, (values) => measures(form, values));
  },
  measures,
  transfer(form, parts) {
    const { numerator, denominator } = feedbackRatio(form, parts);
    return { numerator: numerator.map((c) => -c), denominator };
  },
  build(context) {
    const minus = context.node('m');
    const foot = context.has('Ci') ? context.node('i') : context.input;
    if (context.has('Ci')) context.part('Ci', context.input, foot);
    context.part('Ri', foot, minus);
    context.part('Rf', minus, context.output);
    if (context.has('Cf')) context.part('Cf', minus, context.output);
    context.opAmp('U1', context.reference, minus, context.output);
  },
  working(form, parts) {
    const { Rf, Ri, Cf, Ci } = parts;
    const hz = (ohm: number, farad: number) => format.hertz(1 / (2 * Math.PI * ohm * farad));
    const lines: WorkingLine[] = [{ says: 'gain', tex: 'K = -\\frac{R_f}{R_i}', value: `× −${format.ratio(Rf / Ri)}` }];
    if (hasTop(form)) lines.push({ says: 'top falls above', tex: 'f = \\frac{1}{2\\pi R_f C_f}', value: hz(Rf, Cf) });
    if (hasBottom(form))
      lines.push({ says: 'bottom falls below', tex: 'f = \\frac{1}{2\\pi R_i C_i}', value: hz(Ri, Ci) });
    return lines;
  },
  drawing(form) {
    const [top, bottom] = [hasTop(form), hasBottom(form)];
    const y = top ? 14 : 9;
    return {
      width: 38,
      height: y + 8,
      parts: [
        ...(bottom ? [across('Ci', 'capacitor', 4, y)] : []),
        across('Ri', 'resistor', bottom ? 11.5 : 5, y),
        across('Rf', 'resistor', 23, y - 5),
        ...(top ? [across('Cf', 'capacitor', 23, y - 10)] : []),
      ],
      opAmps: [{ name: 'U1', at: [23, y + 1.5], plusOnTop: false }],
      wires: [
        ...(bottom
          ? [
              [
                [0, y],
                [2, y],
              ] as Point[],
              [
                [6, y],
                [9.5, y],
              ] as Point[],
              [
                [13.5, y],
                [20, y],
              ] as Point[],
            ]
          : [
              [
                [0, y],
                [3, y],
              ] as Point[],
              [
                [7, y],
                [20, y],
              ] as Point[],
            ]),
        [
          [17, y],
          [17, top ? y - 10 : y - 5],
        ],
        [
          [17, y - 5],
          [21, y - 5],
        ],
        [
          [25, y - 5],
          [29, y - 5],
        ],
        [
          [29, top ? y - 10 : y - 5],
          [29, y + 1.5],
        ],
        [
          [26, y + 1.5],
          [35, y + 1.5],
        ],
        [
          [20, y + 3],
          [18.5, y + 3],
          [18.5, y + 5],
        ],
        ...(top
          ? [
              [
                [17, y - 10],
                [21, y - 10],
              ] as Point[],
              [
                [25, y - 10],
                [29, y - 10],
              ] as Point[],
            ]
          : []),
      ],
      dots: [[17, y], [29, y + 1.5], ...(top ? [[17, y - 5] as Point, [29, y - 5] as Point] : [])],
      grounds: [[18.5, y + 5]],
      ports: [
        { label: 'in', at: [0, y], side: 'left' },
        { label: 'out', at: [35, y + 1.5], side: 'right' },
      ],
    };
  },
});
