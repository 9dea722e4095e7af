import { decibels, fromDecibels } from '../../units/quantity';
import { defineNetwork } from '../kit/define-network';
import type { ParameterSpec } from '../kit/parameter';
import { across, down, type PlacedPart } from '../kit/drawing';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const PARAMETERS: ParameterSpec[] = [
  { name: 'rangeDb', label: 'lift and cut', kind: 'decibel', min: 6, max: 26, initial: 18 },
  { name: 'bassHz', label: 'bass from', kind: 'frequency', min: 1, max: 1e5, initial: 350 },
  { name: 'trebleHz', label: 'treble from', kind: 'frequency', min: 10, max: 1e6, initial: 2500 },
  { name: 'trackOhm', label: 'tracks', kind: 'resistance', min: 1e3, max: 1e8, initial: 100e3 },
];
/** Shares of the track: R1 and R3 this much of it, so that a pot turned up is hardly felt. */
const ARM_SHARE = 0.1;

/**
 * Bass: R1 over R2 sets the level in the middle, one R2/(R1 + R2) of the input; the track between them is shorted by C1
 * and C2 for all but the lows. Turned up, the lift begins where C2 is as large as R2. Treble: C3 over C4 from the other
 * pot, through R3 against the bass wiper; turned up, the lift begins where C3 carries as much as comes through R3: f =
 * (R2/(R1 + R2))/(2π R3 C3).
 */
function measures({ R1, R2, R3, C2, C3, P1 }: PartValues): Record<string, number> {
  const middle = R2 / (R1 + R2);
  return {
    rangeDb: -decibels(middle),
    bassHz: 1 / (2 * Math.PI * R2 * C2),
    trebleHz: middle / (2 * Math.PI * R3 * C3),
    trackOhm: P1,
  };
}

export const toneControl = defineNetwork({
  id: 'tone-control',
  name: 'Passive bass and treble control',
  shortName: 'Tone control',
  words: ['bass', 'treble', 'tone stack', 'tone controls', 'bass and treble', 'Baxandall', 'James', 'passive tone'],
  family: 'rc',
  parameters: PARAMETERS,
  reason:
    'Two pots tilt bass and treble about a middle that stands still, with no supply; what can be lifted ' +
    'is first taken away from all.',
  cautions: [
    'It loses its whole range in the middle: plan a stage that gives it back, and mind its noise.',
    'Log pots put flat near half turn; linear ones put it near a tenth.',
    'It wants a low source and a load ten times its tracks.',
  ],
  sources: ['E. J. James, Simple Tone Control Circuit, Wireless World 55, February 1949'],
  parts: () => [
    { name: 'R1', kind: 'resistor', role: 'bass, upper leg', leaveOut: 'short' },
    { name: 'P1', kind: 'potentiometer', role: 'bass', leaveOut: 'short' },
    {
      name: 'C1',
      kind: 'capacitor',
      role: 'bass, shorts the upper part of the track for the middle',
      leaveOut: 'open',
    },
    { name: 'C2', kind: 'capacitor', role: 'bass, shorts the lower part', leaveOut: 'open' },
    { name: 'R2', kind: 'resistor', role: 'bass, lower leg: the level of the middle', leaveOut: 'short' },
    { name: 'R3', kind: 'resistor', role: 'keeps bass and treble apart', leaveOut: 'short' },
    { name: 'C3', kind: 'capacitor', role: 'treble, upper leg', leaveOut: 'open' },
    { name: 'P2', kind: 'potentiometer', role: 'treble', leaveOut: 'open' },
    { name: 'C4', kind: 'capacitor', role: 'treble, lower leg', leaveOut: 'open' },
  ],
  design(wanted, _form, context) {
    const ratio = fromDecibels(wanted.rangeDb) - 1;
    const P1 = wanted.trackOhm;
    const R1 = ARM_SHARE * P1;
    const R2 = R1 / ratio;
    const R3 = R1;
    const C2 = 1 / (2 * Math.PI * R2 * wanted.bassHz);
    const C3 = 1 / ((ratio + 1) * 2 * Math.PI * R3 * wanted.trebleHz);
    const parts = { R1, P1, C1: C2 / ratio, C2, R2, R3, C3, P2: P1, C4: C3 * ratio };
    return context.meetParameters(PARAMETERS, wanted, parts, [], measures);
  },
  measures: (_form, parts) => measures(parts),
  build({ input, output, reference, node, part, pot }) {
    const [top, wiper, bottom, high, low] = ['top', 'wiper', 'bottom', 'high', 'low'].map(node);
    part('R1', input, top);
    pot('P1', bottom, wiper, top);
    part('C1', top, wiper);
    part('C2', wiper, bottom);
    part('R2', bottom, reference);
    part('R3', wiper, output);
    part('C3', input, high);
    pot('P2', low, output, high);
    part('C4', low, reference);
  },
  working(_form, parts) {
    const got = measures(parts);
    return [
      { says: 'level of the middle', tex: '\\frac{R_2}{R_1 + R_2}', value: format.decibel(-got.rangeDb) },
      { says: 'bass lifts below', tex: 'f_b = \\frac{1}{2\\pi R_2 C_2}', value: format.hertz(got.bassHz) },
      { says: 'bass cut mirrors it', tex: 'R_1 C_1 = R_2 C_2', value: format.second(parts.R1 * parts.C1) },
      {
        says: 'treble lifts above',
        tex: 'f_t = \\frac{R_2}{R_1 + R_2} \\cdot \\frac{1}{2\\pi R_3 C_3}',
        value: format.hertz(got.trebleHz),
      },
      {
        says: 'treble cut mirrors it',
        tex: '\\frac{C_4}{C_3} = \\frac{R_1}{R_2}',
        value: format.ratio(parts.C4 / parts.C3),
      },
    ];
  },
  drawing() {
    const pot = (part: string, x: number, wiper: 'left' | 'right'): PlacedPart => ({
      part,
      kind: 'potentiometer',
      at: [x, 15],
      vertical: true,
      label: 'left',
      wiper,
    });
    return {
      width: 42,
      height: 33,
      parts: [
        down('R1', 'resistor', 12, 7),
        { ...pot('P1', 12, 'right'), label: 'left' },
        down('C1', 'capacitor', 17, 12, 'right'),
        down('C2', 'capacitor', 17, 18, 'right'),
        down('R2', 'resistor', 12, 25),
        across('R3', 'resistor', 27, 15),
        down('C3', 'capacitor', 36, 7),
        { ...pot('P2', 36, 'left'), label: 'right' },
        down('C4', 'capacitor', 36, 25),
      ],
      opAmps: [],
      wires: [
        [
          [0, 3],
          [36, 3],
          [36, 5],
        ],
        [
          [12, 3],
          [12, 5],
        ],
        [
          [12, 9],
          [12, 13],
        ],
        [
          [12, 10],
          [17, 10],
        ],
        [
          [14, 15],
          [25, 15],
        ],
        [
          [17, 14],
          [17, 16],
        ],
        [
          [12, 17],
          [12, 23],
        ],
        [
          [12, 20],
          [17, 20],
        ],
        [
          [12, 27],
          [12, 29],
        ],
        [
          [29, 15],
          [34, 15],
        ],
        [
          [36, 9],
          [36, 13],
        ],
        [
          [36, 17],
          [36, 23],
        ],
        [
          [36, 27],
          [36, 29],
        ],
        [
          [31, 15],
          [31, 21],
          [40, 21],
        ],
      ],
      dots: [
        [12, 3],
        [12, 10],
        [17, 15],
        [12, 20],
        [31, 15],
      ],
      grounds: [
        [12, 29],
        [36, 29],
      ],
      ports: [
        { label: 'in', at: [0, 3], side: 'left' },
        { label: 'out', at: [40, 21], side: 'right' },
      ],
    };
  },
});
