import { nJunctionFet } from '../../circuit/elements/junction-fet';
import { voltageSource } from '../../circuit/elements/voltage-source';
import { polynomialProduct } from '../../filter/rational';
import { CONTROL } from './control-current';
import { defineNetwork } from '../kit/define-network';
import type { BuildContext, PartSpec } from '../kit/define-topology';
import { across, type Drawing, type PlacedDevice, type PlacedPart, type Point } from '../kit/drawing';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const PARAMETERS: ParameterSpec[] = [
  { name: 'cutoffHz', label: 'turn of each, half way', kind: 'frequency', min: 1, max: 5e4, initial: 700 },
];
/** Pinch-off and the square law of a small JFET: typical, our own figures. V, A/V². */
const FET = { pinchOff: -2, beta: 1.2e-3 };
const REAL = [FET.pinchOff, FET.beta, 0.01, 1e-14, 4e-12, 3e-12];
const IDEAL = [FET.pinchOff, FET.beta, 0, 1e-18, 0, 0];
const GATE_OHM = 330;
const MIDDLE_AMPS = 180e-6;
const ALL_PASS_OHM = 22e3;
const FORMS = [4, 2, 6, 8, 10, 12];
const nameOf = (count: number) => `${count} stages`;
const stagesOf = (form: string): number[] => Array.from({ length: parseInt(form, 10) }, (_, i) => i + 1);

/**
 * A channel with no voltage along it is a resistance, R = 1/(2β(Vgs − Vp)) (Shichman and Hodges); the gate stands at Vp
 * + I1 R1. Ohm.
 */
const channelOhm = (v: PartValues): number => 1 / (2 * FET.beta * v.I1 * v.R1);

function measures(form: string, v: PartValues): Parameters {
  const stages = stagesOf(form);
  const farad = Math.exp(stages.reduce((s, k) => s + Math.log(v[`C${k}`]), 0) / stages.length);
  return { cutoffHz: 1 / (2 * Math.PI * channelOhm(v) * farad) };
}

function build({ form, input, output, reference, ideal, node, part, opAmp, element, current }: BuildContext): void {
  const gate = node('gate');
  const stages = stagesOf(form);
  const out = (k: number) => (k === 0 ? input : node(`o${k}`));
  part('R1', gate, node('pinch-off'));
  element('pinch', voltageSource, [node('pinch-off'), reference], [0, 0], { dc: FET.pinchOff });
  current('I1', reference, gate);
  for (const k of stages) {
    const [p, m] = [node(`p${k}`), node(`m${k}`)];
    part(`R${k}1`, out(k - 1), m);
    part(`R${k}2`, m, out(k));
    part(`C${k}`, out(k - 1), p);
    element(`Q${k}`, nJunctionFet, [p, gate, reference], ideal ? IDEAL : REAL);
    opAmp(`U${k}`, p, m, out(k));
  }
  part('R3', input, node('mix'));
  part('R4', out(stages.length), node('mix'));
  opAmp('U0', node('mix'), output, output);
}

const resistor = (name: string, role: string): PartSpec => ({ name, kind: 'resistor', role, leaveOut: 'open' });
const partsOf = (form: string): PartSpec[] => [
  resistor('R1', 'lifts the gates off their pinch-off'),
  ...stagesOf(form).flatMap((k): PartSpec[] => [
    resistor(`R${k}1`, 'turns it over'),
    resistor(`R${k}2`, 'turns it over'),
    { name: `C${k}`, kind: 'capacitor', role: `turns, with the channel of Q${k}`, leaveOut: 'open' },
  ]),
  resistor('R3', 'mixes the dry in'),
  resistor('R4', 'mixes the turned in'),
  CONTROL,
];

const CELL = 20;

/** One all-pass under another, joined by the names of nets; at the foot the mix and what lifts the gates. */
function drawing(form: string): Drawing {
  const parts: PlacedPart[] = [];
  const devices: PlacedDevice[] = [];
  const opAmps: Drawing['opAmps'][number][] = [];
  const wires: Point[][] = [];
  const dots: Point[] = [];
  const grounds: Point[] = [];
  const ports: Drawing['ports'][number][] = [];
  const stages = stagesOf(form);
  const out = (k: number) => (k === 0 ? 'in' : `o${k}`);
  for (const k of stages) {
    const y = CELL * (k - 1) + 7;
    parts.push(
      across(`R${k}1`, 'resistor', 8, y),
      across(`R${k}2`, 'resistor', 22, y - 4.5),
      across(`C${k}`, 'capacitor', 8, y + 5),
    );
    opAmps.push({ name: `U${k}`, at: [22, y + 1.5], plusOnTop: false });
    devices.push({ name: `Q${k}`, symbol: 'n-jfet', at: [12.5, y + 8.5] });
    wires.push(
      [
        [0, y],
        [6, y],
      ],
      [
        [2, y],
        [2, y + 5],
        [6, y + 5],
      ],
      [
        [10, y],
        [19, y],
      ],
      [
        [17, y],
        [17, y - 4.5],
        [20, y - 4.5],
      ],
      [
        [24, y - 4.5],
        [28, y - 4.5],
        [28, y + 1.5],
      ],
      [
        [25, y + 1.5],
        [34, y + 1.5],
      ],
      [
        [10, y + 5],
        [17, y + 5],
        [17, y + 3],
        [19, y + 3],
      ],
      [
        [14, y + 5],
        [14, y + 6.5],
      ],
      [
        [6, y + 8.5],
        [10.5, y + 8.5],
      ],
    );
    dots.push([2, y], [17, y], [28, y + 1.5], [14, y + 5]);
    grounds.push([14, y + 10.5]);
    ports.push(
      { label: out(k - 1), at: [0, y], side: 'left', net: out(k - 1) },
      { label: out(k), at: [34, y + 1.5], side: 'right', net: out(k) },
      { label: 'gate', at: [6, y + 8.5], side: 'left', net: 'gate' },
    );
  }
  const y = CELL * stages.length + 2;
  parts.push(
    across('R3', 'resistor', 6, y + 4),
    across('R4', 'resistor', 6, y + 9),
    across('I1', 'current', 6, y + 15),
    across('R1', 'resistor', 21, y + 15),
  );
  opAmps.push({ name: 'U0', at: [22, y + 5.5], plusOnTop: true });
  wires.push(
    [
      [0, y + 4],
      [4, y + 4],
    ],
    [
      [8, y + 4],
      [19, y + 4],
    ],
    [
      [0, y + 9],
      [4, y + 9],
    ],
    [
      [8, y + 9],
      [13, y + 9],
      [13, y + 4],
    ],
    [
      [19, y + 7],
      [18, y + 7],
      [18, y + 9.5],
      [25.6, y + 9.5],
      [25.6, y + 5.5],
    ],
    [
      [25, y + 5.5],
      [34, y + 5.5],
    ],
    [
      [1.5, y + 15],
      [4, y + 15],
    ],
    [
      [8, y + 15],
      [19, y + 15],
    ],
    [
      [23, y + 15],
      [34, y + 15],
    ],
  );
  dots.push([13, y + 4], [25.6, y + 5.5]);
  grounds.push([1.5, y + 15]);
  ports.push(
    { label: 'in', at: [0, y + 4], side: 'left', net: 'in' },
    { label: out(stages.length), at: [0, y + 9], side: 'left', net: out(stages.length) },
    { label: 'out', at: [34, y + 5.5], side: 'right', net: 'out' },
    { label: 'gate', at: [11, y + 15], side: 'left', net: 'gate' },
    { label: 'pinch-off', at: [34, y + 15], side: 'right', net: 'pinch-off' },
  );
  return { width: 36, height: y + 20, parts, opAmps, devices, wires, dots, grounds, ports };
}

export const junctionFetPhaser = defineNetwork({
  id: 'junction-fet-phaser',
  name: 'JFET phaser',
  shortName: 'Phaser',
  words: ['phaser', 'phase shifter', 'all-pass', 'FET', 'swirl', 'sweep', 'stages', 'voltage-controlled resistor'],
  family: 'voltage-controlled',
  modes: FORMS.map(nameOf),
  parameters: PARAMETERS,
  opAmps: (form) => parseInt(form, 10) + 1,
  outlet: () => ({ kind: 'source', count: 1 }),
  reason:
    'All-passes with a JFET for their resistor, mixed with what came in: a notch for every two of them, ' +
    'all moved by one gate voltage.',
  cautions: [
    'JFETs of one pinch-off: pick them, or the notches fill and close one after another.',
    'A channel bends beyond some hundred millivolts along it: keep the signal small.',
    'Trim the foot of the gate resistor to the pinch-off, until the sweep only just closes; it drifts with heat.',
  ],
  sources: [
    'H. Shichman, D. Hodges, Modeling and Simulation of Insulated-Gate Field-Effect Transistor Switching ' +
      'Circuits, IEEE J. Solid-State Circuits 3, 1968',
    'own derivation of the all-pass and the mix',
  ],
  parts: partsOf,
  design(wanted, form, context) {
    const R1 = context.resistor('R1', GATE_OHM);
    const omega = 2 * Math.PI * wanted.cutoffHz;
    const C = context.capacitor('C1', (2 * FET.beta * MIDDLE_AMPS * R1) / omega);
    const R = context.resistor('R3', ALL_PASS_OHM);
    const stages = stagesOf(form);
    const parts: PartValues = {
      R1,
      ...Object.fromEntries(
        stages.flatMap((k) => [
          [`R${k}1`, R],
          [`R${k}2`, R],
          [`C${k}`, C],
        ]),
      ),
      R3: R,
      R4: R,
      I1: (omega * C) / (2 * FET.beta * R1),
    };
    return context.meetParameters(
      PARAMETERS,
      wanted,
      parts,
      Object.keys(parts).filter((name) => name !== 'I1'),
      (v) => measures(form, v),
    );
  },
  measures,
  transfer(form, v) {
    const R = channelOhm(v);
    let [wet, denominator]: [number[], number[]] = [[1], [1]];
    for (const k of stagesOf(form)) {
      wet = polynomialProduct(wet, [-v[`R${k}2`] / v[`R${k}1`], R * v[`C${k}`]]);
      denominator = polynomialProduct(denominator, [1, R * v[`C${k}`]]);
    }
    const dry = v.R4 / (v.R3 + v.R4);
    return { numerator: denominator.map((d, i) => dry * d + (1 - dry) * wet[i]), denominator };
  },
  figures: [{ label: 'channel', kind: 'resistance', of: (_form, v) => channelOhm(v) }],
  build,
  working: (form, v) => [
    { says: 'each channel', tex: 'R = \\frac{1}{2\\beta I_1 R_1}', value: format.ohm(channelOhm(v)) },
    {
      says: 'each turns a quarter at',
      tex: 'f = \\frac{1}{2\\pi R C_1}',
      value: format.hertz(measures(form, v).cutoffHz),
    },
    {
      says: 'notches at',
      tex: '\\frac{f_i}{f} = \\tan\\frac{(2i - 1)\\,90^\\circ}{N}',
      value: notchesHz(form, v).map(format.hertz).join(', '),
    },
  ],
  drawing,
});

/** Where the turned one lies an odd number of half turns off the dry: N (180° − 2 atan(f/f0)) = 180° (2i − 1). Hz. */
export function notchesHz(form: string, v: PartValues): number[] {
  const { cutoffHz } = measures(form, v);
  const count = parseInt(form, 10);
  return Array.from({ length: count / 2 }, (_, i) => cutoffHz * Math.tan(((2 * i + 1) * Math.PI) / (2 * count)));
}
