import { CONTROL, MIDDLE_AMPS, transconductance } from './control-current';
import { defineNetwork } from '../kit/define-network';
import type { BuildContext, PartSpec } from '../kit/define-topology';
import { across, down } from '../kit/drawing';
import { otaCells, type Pieces } from './ota-cell';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import type { Rational } from '../../filter/rational';
import { format } from '../kit/working';

const PARAMETERS: ParameterSpec[] = [
  { name: 'cutoffHz', label: 'cutoff, control half way', kind: 'frequency', min: 1, max: 1e5, initial: 800 },
  { name: 'q', label: 'Q', kind: 'ratio', min: 1.05, max: 60, initial: 4 },
];
const IN_OHM = 22e3;
const LEG_OHM = 220;
const ROUND_OHM = 10e3;

const stage = (k: 1 | 2, v: PartValues) => {
  const [a, b, c, d] = [v[`R${k}1`], v[`R${k}2`], v[`R${k}3`], v[`R${k}4`]];
  const gm = transconductance(v.I1);
  return { forward: (gm * b) / (a + b), back: (gm * d) / (c + d), farad: v[`C${k}`] };
};

/**
 * Two OTA poles, with the foot of the first one’s capacitor on K times the output instead of ground: with f and b the
 * conductances forward and back of each stage, y = f1 f2 x / ((b1 + sC1)(b2 + sC2) − sC1 K f2), by the node equations.
 * Equal stages: Q = 1/(2 − K), singing at K = 2.
 */
function transfer(v: PartValues): Rational {
  const [one, two] = [stage(1, v), stage(2, v)];
  const K = 1 + v.R5 / v.R6;
  return {
    numerator: [one.forward * two.forward],
    denominator: [
      one.back * two.back,
      one.back * two.farad + two.back * one.farad - one.farad * K * two.forward,
      one.farad * two.farad,
    ],
  };
}

function measures(v: PartValues): Parameters {
  const [c, b, a] = transfer(v).denominator;
  return { cutoffHz: Math.sqrt(c / a) / (2 * Math.PI), q: Math.sqrt(a * c) / b };
}

function build({ input, output, reference, node, part, opAmp, ota }: BuildContext): void {
  const foot = node('foot');
  for (const k of [1, 2] as const) {
    const [p, m, n, out] = [node(`p${k}`), node(`m${k}`), node(`n${k}`), k === 1 ? node('o1') : output];
    part(`R${k}1`, k === 1 ? input : node('o1'), p);
    part(`R${k}2`, p, reference);
    part(`R${k}3`, out, m);
    part(`R${k}4`, m, reference);
    part(`C${k}`, n, k === 1 ? foot : reference);
    ota(`U${k}`, p, m, n);
    opAmp(`B${k}`, n, out, out);
  }
  part('R5', foot, node('g'));
  part('R6', node('g'), reference);
  opAmp('B3', output, node('g'), foot);
}

const resistor = (name: string, role: string): PartSpec => ({ name, kind: 'resistor', role, leaveOut: 'open' });
const PARTS: PartSpec[] = [
  ...([1, 2] as const).flatMap((k): PartSpec[] => [
    resistor(`R${k}1`, 'divides the input'),
    resistor(`R${k}2`, 'divides the input'),
    resistor(`R${k}3`, 'divides what comes back'),
    resistor(`R${k}4`, 'divides what comes back'),
    {
      name: `C${k}`,
      kind: 'capacitor',
      role: k === 1 ? 'first pole, standing on what comes round' : 'second pole',
      leaveOut: 'open',
    },
  ]),
  resistor('R5', 'gain round: resonance'),
  resistor('R6', 'gain round'),
  CONTROL,
];

/** What drives the first capacitor's foot. */
const ROUND: Pieces = {
  parts: [across('R5', 'resistor', 24, 11), down('R6', 'resistor', 12, 11.5, 'left')],
  opAmps: [{ name: 'B3', at: [22, 5.5], plusOnTop: true }],
  wires: [
    [
      [8, 4],
      [19, 4],
    ],
    [
      [19, 7],
      [12, 7],
      [12, 9.5],
    ],
    [
      [17, 7],
      [17, 11],
      [22, 11],
    ],
    [
      [26, 11],
      [30, 11],
      [30, 5.5],
    ],
    [
      [25, 5.5],
      [36, 5.5],
    ],
  ],
  dots: [
    [17, 7],
    [30, 5.5],
  ],
  grounds: [[12, 13.5]],
  ports: [
    { label: 'out', at: [8, 4], side: 'left', net: 'out' },
    { label: 'foot', at: [36, 5.5], side: 'right', net: 'foot' },
  ],
};

export const otaSallenKey = defineNetwork({
  id: 'ota-sallen-key',
  name: 'OTA Sallen-Key, two poles',
  shortName: 'OTA Sallen-Key',
  words: ['VCF', 'transconductance', 'two poles', '12 dB/oct', 'voltage-controlled filter', 'resonance'],
  family: 'voltage-controlled',
  modes: ['low-pass'],
  parameters: PARAMETERS,
  opAmps: () => 3,
  outlet: () => ({ kind: 'pins', count: 2 }),
  reason:
    'Two OTA poles and a little gain round the first capacitor: a resonant pair that keeps its level in ' +
    'the pass band however hard it rings.',
  cautions: [
    'The gain round is between 1 and 2: near 2 a per cent of it is half of Q.',
    'The foot of the first capacitor swings as far as the gain round says: it clips before the output does.',
    'The OTAs bend from some tens of millivolts: the dividers keep them there.',
  ],
  sources: [
    'R. P. Sallen, E. L. Key, A Practical Method of Designing RC Active Filters, IRE Trans. CT-2, 1955',
    'P. R. Gray, R. G. Meyer, Analysis and Design of Analog Integrated Circuits, 3.5',
    'own node equations',
  ],
  loop: () => ({ part: 'C1', drivenBy: 'foot', path: ['n1', 'o1', 'out', 'foot'] }),
  resonance: () => 'R5',
  parts: () => PARTS,
  design(wanted, _form, context) {
    const [Rin, leg, R6] = [
      context.resistor('R11', IN_OHM),
      context.resistor('R12', LEG_OHM),
      context.resistor('R6', ROUND_OHM),
    ];
    const share = leg / (Rin + leg);
    const omega = 2 * Math.PI * wanted.cutoffHz;
    const C = context.capacitor('C1', (transconductance(MIDDLE_AMPS) * share) / omega);
    const I1 = (omega * C) / share / transconductance(1);
    const parts: PartValues = {
      R11: Rin,
      R12: leg,
      R13: Rin,
      R14: leg,
      R21: Rin,
      R22: leg,
      R23: Rin,
      R24: leg,
      C1: C,
      C2: C,
      R5: R6 * (1 - 1 / wanted.q),
      R6,
      I1,
    };
    return context.meetParameters(
      PARAMETERS,
      wanted,
      parts,
      Object.keys(parts).filter((name) => name !== 'R5' && name !== 'I1'),
      measures,
    );
  },
  measures: (_form, v) => measures(v),
  transfer: (_form, v) => transfer(v),
  figures: [{ label: 'gain round, oscillates at 2', kind: 'ratio', of: (_form, v) => 1 + v.R5 / v.R6 }],
  build,
  working: (_form, v) => [
    {
      says: 'each pole',
      tex: 'f = \\frac{I_1}{4\\pi V_T C_1}\\,\\frac{R_{14}}{R_{13} + R_{14}}',
      value: format.hertz(stage(1, v).back / v.C1 / (2 * Math.PI)),
    },
    { says: 'gain round', tex: 'K = 1 + \\frac{R_5}{R_6}', value: format.ratio(1 + v.R5 / v.R6) },
    {
      says: 'quality, equal stages',
      tex: 'Q = \\frac{1}{2 - K} = \\frac{1}{1 - R_5/R_6}',
      value: format.ratio(measures(v).q),
    },
  ],
  drawing: () =>
    otaCells(
      ([1, 2] as const).map((k) => ({
        ota: `U${k}`,
        follower: `B${k}`,
        input: k === 1 ? 'in' : 'o1',
        output: k === 1 ? 'o1' : 'out',
        forward: [`R${k}1`, `R${k}2`],
        back: [`R${k}3`, `R${k}4`],
        backFrom: null,
        capacitor: `C${k}`,
        capacitorTo: k === 1 ? 'foot' : null,
      })),
      'I1',
      { pieces: ROUND, height: 16 },
    ),
});
