import type { Rational } from '../../filter/rational';
import { fromDecibels } from '../../units/quantity';
import { defineNetwork } from '../kit/define-network';
import type { PartSpec } from '../kit/define-topology';
import { across, down, type Drawing, type Point } from '../kit/drawing';
import type { ParameterSpec } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const PARAMETERS: ParameterSpec[] = [
  { name: 'peakDb', label: 'lift or cut', kind: 'decibel', min: 0.5, max: 24, initial: 9 },
  { name: 'centreHz', label: 'centre', kind: 'frequency', min: 1, max: 1e5, initial: 800 },
  { name: 'q', label: 'Q of the leg', kind: 'ratio', min: 0.5, max: 12, initial: 2 },
];
/** The gyrator's R3 over its R2: how much purer than R2 the coil is. */
const PURITY = 100;

/**
 * What the gyrator looks like at its input: R2 (1 + s R3 C2)/(1 + s R2 C2), a coil of R2 R3 C2 with R2 in series; with
 * C1, a resonant leg.
 */
const coil = ({ R2, R3, C2 }: PartValues): number => R2 * (R3 - R2) * C2;
function measures({ R1, R2, R3, C1, C2 }: PartValues) {
  const L = coil({ R2, R3, C2 });
  return {
    peakDb: 20 * Math.log10(1 + R1 / R2),
    centreHz: 1 / (2 * Math.PI * Math.sqrt(L * C1)),
    q: Math.sqrt(L / C1) / R2,
  };
}

/** Impedance of the leg, C1 and gyrator: [1 + s C2 R2 + s C1 R2 (1 + s R3 C2)] / [s C1 (1 + s R2 C2)]. */
function leg({ R2, R3, C1, C2 }: PartValues): Rational {
  return { numerator: [1, C2 * R2 + C1 * R2, C1 * R2 * R3 * C2], denominator: [0, C1, C1 * R2 * C2] };
}
/** Lift: 1 + R1/Z. Cut: Z/(R1 + Z). */
function transfer(form: string, v: PartValues): Rational {
  const { numerator, denominator } = leg(v);
  const whole = numerator.map((c, i) => c + v.R1 * (denominator[i] ?? 0));
  return form === 'lift' ? { numerator: whole, denominator: numerator } : { numerator, denominator: whole };
}

const PARTS: PartSpec[] = [
  { name: 'R1', kind: 'resistor', role: 'how much it lifts or cuts', leaveOut: 'open' },
  { name: 'C1', kind: 'capacitor', role: 'in series with the imitated coil: the centre', leaveOut: 'short' },
  { name: 'R2', kind: 'resistor', role: 'the coil’s resistance: how far', leaveOut: 'open' },
  { name: 'C2', kind: 'capacitor', role: 'imitates the coil', leaveOut: 'open' },
  { name: 'R3', kind: 'resistor', role: 'imitates the coil', leaveOut: 'open' },
];

function drawing(form: string): Drawing {
  const cut = form === 'cut';
  const y = 6;
  // The leg hangs from a node under the amplifier's input; the gyrator's follower stands at its foot.
  const x = cut ? 10 : 12;
  const wires: Point[][] = [];
  const dots: Point[] = [];
  const parts = [
    down('C1', 'capacitor', x, 17, 'left'),
    across('R2', 'resistor', x + 8, 22),
    across('C2', 'capacitor', x + 8, 28),
    down('R3', 'resistor', x + 13, 32.5, 'left'),
  ];
  wires.push(
    [
      [x, 19],
      [x, 22],
      [x + 6, 22],
    ],
    [
      [x, 22],
      [x, 28],
      [x + 6, 28],
    ],
    [
      [x + 10, 28],
      [x + 17, 28],
    ],
    [
      [x + 13, 28],
      [x + 13, 30.5],
    ],
    [
      [x + 10, 22],
      [x + 26, 22],
      [x + 26, 29.5],
      [x + 23, 29.5],
    ],
    [
      [x + 17, 31],
      [x + 16.4, 31],
      [x + 16.4, 33.5],
      [x + 26, 33.5],
      [x + 26, 29.5],
    ],
  );
  dots.push([x, 22], [x + 13, 28], [x + 26, 29.5]);
  if (cut) {
    parts.push(across('R1', 'resistor', 5, y));
    wires.push(
      [
        [0, y],
        [3, y],
      ],
      [
        [7, y],
        [18, y],
      ],
      [
        [x, y],
        [x, 15],
      ],
      [
        [18, y + 3],
        [17.4, y + 3],
        [17.4, y + 6],
        [27, y + 6],
        [27, y + 1.5],
      ],
      [
        [24, y + 1.5],
        [32, y + 1.5],
      ],
    );
    dots.push([x, y], [27, y + 1.5]);
  } else {
    parts.push(across('R1', 'resistor', 20, y + 7));
    wires.push(
      [
        [0, y],
        [17, y],
      ],
      [
        [17, y + 3],
        [x, y + 3],
        [x, 15],
      ],
      [
        [x, y + 7],
        [18, y + 7],
      ],
      [
        [22, y + 7],
        [27, y + 7],
        [27, y + 1.5],
      ],
      [
        [23, y + 1.5],
        [32, y + 1.5],
      ],
    );
    dots.push([x, y + 7], [27, y + 1.5]);
  }
  return {
    width: 40,
    height: 37,
    parts,
    opAmps: [
      { name: 'U1', at: [cut ? 21 : 20, y + 1.5], plusOnTop: true },
      { name: 'U2', at: [x + 20, 29.5], plusOnTop: true },
    ],
    wires,
    dots,
    grounds: [[x + 13, 34.5]],
    ports: [
      { label: 'in', at: [0, y], side: 'left' },
      { label: 'out', at: [32, y + 1.5], side: 'right' },
    ],
  };
}

export const gyratorEqualiser = defineNetwork({
  id: 'gyrator-equaliser',
  name: 'Peaking equaliser, gyrator coil',
  shortName: 'Gyrator peak',
  words: [
    'graphic equaliser',
    'peaking',
    'bell',
    'boost',
    'cut',
    'presence',
    'gyrator',
    'simulated coil',
    'EQ',
    'parametric',
  ],
  family: 'op-amp',
  modes: ['lift', 'cut'],
  parameters: PARAMETERS,
  opAmps: () => 2,
  reason: 'One hump lifted or cut, by a resonant leg whose coil is an op-amp, a capacitor and two resistors.',
  cautions: [
    'The imitated coil ends at ground and swings with its op-amp: it cannot take more than the rails.',
    'Far above the centre the imitation is a resistor of R3, and no coil.',
  ],
  sources: [
    'R. H. S. Riordan, Simulated Inductors Using Differential Amplifiers, Electronics Letters 3, 1967',
    'D. F. Berndt, S. C. Dutta Roy, Inductor Simulation Using a Single Unity Gain Amplifier, IEEE J. ' +
      'Solid-State Circuits SC-4, 1969',
  ],
  parts: () => PARTS,
  design(wanted, _form, context) {
    const omega = 2 * Math.PI * wanted.centreHz;
    const ratio = fromDecibels(wanted.peakDb) - 1;
    // A leg of 1 kΩ or so, unless the capacitor is given: R2 = 1/(ω Q C1).
    const C1 = context.capacitorsFirst
      ? context.capacitor('C1', 1 / (omega * wanted.q * 1e3))
      : 1 / (omega * wanted.q * context.resistor('R2', 1e3));
    const R2 = 1 / (omega * wanted.q * C1);
    const R3 = context.resistor('R3', PURITY * R2);
    const L = 1 / (omega * omega * C1);
    return context.meetParameters(
      PARAMETERS,
      wanted,
      { R1: ratio * R2, C1, R2, C2: L / (R2 * (R3 - R2)), R3 },
      [context.capacitorsFirst ? 'C1' : 'R2', 'R3'],
      measures,
    );
  },
  measures: (_form, parts) => measures(parts),
  figures: [{ label: 'coil imitated', kind: 'inductance', of: (_form, parts) => coil(parts) }],
  transfer,
  build({ form, input, output, reference, node, part, opAmp }) {
    const [x, a, p, v] = [node('x'), node('a'), node('p'), node('v')];
    if (form === 'lift') {
      part('R1', x, output);
      opAmp('U1', input, x, output);
    } else {
      part('R1', input, x);
      opAmp('U1', x, output, output);
    }
    part('C1', x, a);
    part('R2', a, v);
    part('C2', a, p);
    part('R3', p, reference);
    opAmp('U2', p, v, v);
  },
  working: (_form, parts) => [
    { says: 'coil imitated', tex: 'L = R_2 (R_3 - R_2) C_2', value: format.henry(coil(parts)) },
    { says: 'centre', tex: 'f_0 = \\frac{1}{2\\pi\\sqrt{L C_1}}', value: format.hertz(measures(parts).centreHz) },
    { says: 'lift or cut', tex: '1 + \\frac{R_1}{R_2}', value: format.decibel(measures(parts).peakDb) },
    { says: 'Q of the leg', tex: 'Q = \\frac{1}{R_2}\\sqrt{\\frac{L}{C_1}}', value: format.ratio(measures(parts).q) },
  ],
  drawing,
});
