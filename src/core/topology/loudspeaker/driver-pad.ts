import { fromDecibels } from '../../units/quantity';
import { defineNetwork } from '../kit/define-network';
import { buildLadder, drawLadder, inLine, toGround } from '../kit/ladder';
import { lossOf, parallel } from '../network/pad';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const LIFTED = ['two resistors, top lifted', 'one resistor, top lifted'];
const MODES = ['two resistors', 'one resistor', ...LIFTED];
const PARAMETERS: ParameterSpec[] = [
  { name: 'lossDb', label: 'loss', kind: 'decibel', min: 0.1, max: 40, initial: 4 },
  { name: 'ohm', label: 'driver', kind: 'resistance', min: 0.5, max: 1000, initial: 8 },
  { name: 'liftHz', label: 'lift begins', kind: 'frequency', min: 100, max: 2e5, initial: 9000, forms: LIFTED },
];
/** Ears set a level within a few decibels: more reach is a coarser knob. */
const POT_REACH = 2.5;
const isPair = (form: string): boolean => form.startsWith('two');
const isLifted = (form: string): boolean => LIFTED.includes(form);
const armsOf = (form: string) => [
  isLifted(form) ? inLine('R1', 'C1') : inLine('R1'),
  ...(isPair(form) ? [toGround('R2')] : []),
];
const behind = ({ R2 }: PartValues, ohm: number): number => (R2 === undefined ? ohm : parallel(R2, ohm));

function measures(form: string, v: PartValues, { ohm }: Parameters): Parameters {
  const leg = behind(v, ohm);
  return {
    lossDb: lossOf(leg / (v.R1 + leg)),
    ohm: isPair(form) ? v.R1 + leg : ohm,
    ...(isLifted(form) ? { liftHz: 1 / (2 * Math.PI * v.R1 * v.C1) } : {}),
  };
}

/** Where ears hear what a bypass capacitor does, Hz. */
const LIFT_AT = [10e3, 20e3];

/** How much more than at low frequencies comes through at one, dB: (1 + jx)/(1 + jx/k), k = 1 + R1/(what follows). */
function liftDb(v: PartValues, ohm: number, freqHz: number): number {
  const x = 2 * Math.PI * freqHz * v.R1 * v.C1;
  const k = 1 + v.R1 / behind(v, ohm);
  return 10 * Math.log10((1 + x ** 2) / (1 + (x / k) ** 2));
}

/** What of the power that comes in turns to heat in either leg, and at worst while a rotating pad is turned. */
function heatOf(v: PartValues, { ohm }: Parameters) {
  const leg = behind(v, ohm);
  const whole = v.R1 + leg;
  const per = (share: number) => `${format.ratio(100 * share)}\u202f%`;
  return [
    { says: 'of the power, in line', tex: '1 - \\frac1K', value: per(v.R1 / whole) },
    {
      says: 'of the power, across; a quarter at worst, at 6 dB',
      tex: '\\frac1K\\left(1 - \\frac1K\\right)',
      value: per((leg / whole) * (leg / v.R2)),
    },
  ];
}

export const driverPad = defineNetwork({
  id: 'driver-pad',
  name: 'Level pad for a driver',
  shortName: 'Pad',
  words: ['attenuator', 'tweeter level', 'L-pad', 'pad', 'rotating pad', 'bypass capacitor'],
  usualWay: 'highest',
  family: 'loudspeaker',
  modes: MODES,
  parameters: PARAMETERS,
  load: ({ ohm }) => ({ ohm }),
  reason:
    'Brings a loud driver down to its neighbour. Two resistors keep what the network sees; one is ' +
    'cheaper and moves the corner with it. A small capacitor across the first gives the very top back.',
  cautions: [
    'Give both resistors their watts: they get hot.',
    'A pot in one leg does not hold the load constant over its travel; the network’s corner and damping go with it.',
    'A single resistor before the network raises what feeds it and damps it; after the network it raises what it sees.',
  ],
  sources: ['F. E. Terman, Radio Engineers’ Handbook, 1943, sec. 3: attenuators'],
  parts: (form) => [
    { name: 'R1', kind: 'resistor', role: 'in line', leaveOut: 'short', potReach: POT_REACH },
    ...(isPair(form)
      ? [
          {
            name: 'R2',
            kind: 'resistor' as const,
            role: 'across the driver',
            leaveOut: 'open' as const,
            potReach: POT_REACH,
          },
        ]
      : []),
    ...(isLifted(form)
      ? [{ name: 'C1', kind: 'capacitor' as const, role: 'passes the very top', leaveOut: 'open' as const }]
      : []),
  ],
  design(wanted, form, context) {
    const k = fromDecibels(wanted.lossDb);
    const R1 = isPair(form) ? wanted.ohm * (1 - 1 / k) : wanted.ohm * (k - 1);
    const parts = {
      R1,
      ...(isPair(form) ? { R2: wanted.ohm / (k - 1) } : {}),
      ...(isLifted(form) ? { C1: 1 / (2 * Math.PI * wanted.liftHz * R1) } : {}),
    };
    const specs = PARAMETERS.filter((p) => (p.forms ?? [form]).includes(form) && (isPair(form) || p.name !== 'ohm'));
    return context.meetParameters(specs, wanted, parts, [], (values) => measures(form, values, wanted));
  },
  measures,
  transfer(_form, v, { ohm }) {
    const leg = behind(v, ohm);
    return v.C1 === undefined
      ? { numerator: [leg], denominator: [v.R1 + leg] }
      : { numerator: [leg, leg * v.R1 * v.C1], denominator: [v.R1 + leg, leg * v.R1 * v.C1] };
  },
  arms: armsOf,
  build: (context) => buildLadder(context, armsOf(context.form)),
  working(form, v, wanted) {
    const got = measures(form, v, wanted);
    return [
      {
        says: 'voltage ratio',
        tex: `K = 10^{${format.ratio(wanted.lossDb)}/20}`,
        value: format.ratio(fromDecibels(wanted.lossDb)),
      },
      {
        says: 'in line',
        tex: isPair(form) ? 'R_1 = Z\\left(1 - \\frac1K\\right)' : 'R_1 = Z(K - 1)',
        value: format.ohm(v.R1),
      },
      ...(isPair(form)
        ? [
            { says: 'across', tex: 'R_2 = \\frac{Z}{K - 1}', value: format.ohm(v.R2) },
            { says: 'seen by the network', tex: 'R_1 + R_2 \\parallel Z', value: format.ohm(got.ohm) },
          ]
        : [{ says: 'seen by the network', tex: 'R_1 + Z', value: format.ohm(v.R1 + wanted.ohm) }]),
      ...(isPair(form) ? heatOf(v, wanted) : []),
      ...(isLifted(form)
        ? [
            { says: 'lift begins', tex: 'f = \\frac{1}{2\\pi R_1 C_1}', value: format.hertz(got.liftHz) },
            ...LIFT_AT.map((hz) => ({
              says: `lift at ${format.hertz(hz)}`,
              tex: '10\\lg\\frac{1 + (2\\pi f R_1 C_1)^2}{1 + (2\\pi f R_1 C_1/K)^2}',
              value: format.decibel(liftDb(v, wanted.ohm, hz)),
            })),
          ]
        : []),
    ];
  },
  drawing: (form) => drawLadder(armsOf(form)),
});
