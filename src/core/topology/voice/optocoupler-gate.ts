import { currentSource } from '../../circuit/elements/current-source';
import { cellOhmOf, optocouplerBent } from '../../circuit/elements/optocoupler';
import { photocellValues, type Photocell } from '../../device/photocell';
import { CONTROL } from './control-current';
import { defineNetwork } from '../kit/define-network';
import type { BuildContext, PartSpec } from '../kit/define-topology';
import { across, down, type Drawing, type PlacedPart, type Point } from '../kit/drawing';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import { CELL, type PartValues } from '../kit/part';
import { format } from '../kit/working';
import { beginsBetween } from '../../math/search';

const [FILTER, GATE, BOTH] = ['filter', 'gate', 'both at once'];
const PARAMETERS: ParameterSpec[] = [
  { name: 'cellOhm', label: 'cell, half way', kind: 'resistance', min: 200, max: 1e6, initial: 12e3 },
  { name: 'cutoffHz', label: 'cutoff there', kind: 'frequency', min: 5, max: 5e4, initial: 900, forms: [FILTER, BOTH] },
  { name: 'q', label: 'Q', kind: 'ratio', min: 0.5, max: 30, initial: 1, forms: [FILTER, BOTH] },
  { name: 'shuntOhm', label: 'shunt', kind: 'resistance', min: 100, max: 1e6, initial: 4700, forms: [GATE, BOTH] },
];

/** The lamp current (A) at which a cell has a resistance: halved, since the law falls all along. */
function lampAmps(cell: Photocell, ohm: number): number {
  const { values } = photocellValues(cell);
  return beginsBetween((amps) => cellOhmOf(values, 1000 * amps) <= ohm, 1e-9, 1);
}
const ohmAt = (cell: Photocell, amps: number): number => cellOhmOf(photocellValues(cell).values, 1000 * amps);

/** Of the Q asked for, what the capacitors make by themselves. */
const OWN_SHARE = 0.7;
const MOST_OWN_Q = 1;
const ROUND_OHM = 10e3;

/** What the second op-amp gives back for what comes out. */
const backGain = ({ R5, R6 }: PartValues): number => 1 + R5 / R6;
/**
 * Two equal cells, C1 driven by K of the output: D = 1 + sR(2 C2 + C1(1 − K)) + s²R² C1 C2 (own node equations); no
 * damping is left at K = 1 + 2 C2/C1.
 */
const singsAtGain = ({ C1, C2 }: PartValues): number => 1 + (2 * C2) / C1;

/** @param ohm of each cell. */
function measures(v: PartValues, ohm: number): Parameters {
  const filtered: Parameters =
    v.C1 === undefined
      ? {}
      : {
          cutoffHz: 1 / (2 * Math.PI * ohm * Math.sqrt(v.C1 * v.C2)),
          q: Math.sqrt(v.C1 * v.C2) / (2 * v.C2 + v.C1 * (1 - backGain(v))),
        };
  return { cellOhm: ohm, ...filtered, ...(v.R3 === undefined ? {} : { shuntOhm: v.R3 }) };
}

function build({ input, output, reference, cell, has, node, part, opAmp, element, value }: BuildContext): void {
  const { values, bends } = photocellValues(cell);
  const lampAndCell = optocouplerBent(bends);
  const [n1, n2, lamps, between] = [node('n1'), node('n2'), node('lamps'), node('between')];
  element('D1', lampAndCell, [lamps, between, input, n1, node('light1')], values);
  element('D2', lampAndCell, [between, reference, n1, n2, node('light2')], values);
  part('I1', reference, lamps);
  element('I1.source', currentSource, [reference, lamps], [0, 0], { dc: value('I1') });
  if (has('C1')) {
    const [foot, g] = [node('foot'), node('g')];
    part('C1', n1, foot);
    part('R5', foot, g);
    part('R6', g, reference);
    opAmp('U2', output, g, foot);
  }
  if (has('C2')) part('C2', n2, reference);
  if (has('R3')) part('R3', n2, reference);
  part('C3', n1, reference);
  opAmp('U1', n2, output, output);
}

const has = (form: string, what: typeof FILTER): boolean => form === what || form === BOTH;
const partsOf = (form: string): PartSpec[] => [
  ...(has(form, FILTER)
    ? [
        { name: 'C1', kind: 'capacitor' as const, role: 'brings it back', leaveOut: 'open' as const },
        { name: 'C2', kind: 'capacitor' as const, role: 'to ground', leaveOut: 'open' as const },
        {
          name: 'R5',
          kind: 'resistor' as const,
          role: 'resonance: how much more than the output comes back',
          leaveOut: 'short' as const,
        },
        { name: 'R6', kind: 'resistor' as const, role: 'resonance', leaveOut: 'open' as const },
      ]
    : []),
  ...(has(form, GATE)
    ? [
        {
          name: 'R3',
          kind: 'resistor' as const,
          role: 'shunts what the cells let through: closed, it is silent',
          leaveOut: 'open' as const,
        },
      ]
    : []),
  {
    name: 'C3',
    kind: 'capacitor',
    role: 'the small one at the first cell, left out of every hand analysis',
    leaveOut: 'open',
  },
  { ...CONTROL, role: 'lamp current' },
];
const SMALL_FARAD = 220e-12;

function drawing(form: string): Drawing {
  const y = 10.6;
  const parts: PlacedPart[] = [across('I1', 'current', 4, 7.4), down('C3', 'capacitor', 15, 14.5)];
  const wires: Point[][] = [
    [
      [0, y],
      [7.5, y],
    ],
    [
      [12.5, y],
      [17.5, y],
    ],
    [
      [22.5, y],
      [35, y],
    ],
    [
      [1, 7.4],
      [2, 7.4],
    ],
    [
      [6, 7.4],
      [7.5, 7.4],
    ],
    [
      [12.5, 7.4],
      [17.5, 7.4],
    ],
    [
      [22.5, 7.4],
      [24.5, 7.4],
    ],
    [
      [15, y],
      [15, 12.5],
    ],
    [
      [35, 13.6],
      [34, 13.6],
      [34, 16.5],
      [41, 16.5],
      [41, 12.1],
    ],
  ];
  const filter = has(form, FILTER);
  const dots: Point[] = [
    [15, y],
    [41, 12.1],
  ];
  const grounds: Point[] = [
    [1, 7.4],
    [24.5, 7.4],
    [15, 16.5],
  ];
  if (filter) {
    // The second op-amp stands behind the first and drives the capacitor’s far end.
    parts.push(
      across('C1', 'capacitor', 20, 2.5),
      down('C2', 'capacitor', 24.5, 14.5),
      across('R5', 'resistor', 49, 19),
      down('R6', 'resistor', 45, 22.5, 'right'),
    );
    wires.push(
      [
        [13.5, y],
        [13.5, 2.5],
        [18, 2.5],
      ],
      [
        [22, 2.5],
        [54, 2.5],
        [54, 19],
        [51, 19],
      ],
      [
        [24.5, y],
        [24.5, 12.5],
      ],
      [
        [41, 12.1],
        [46, 12.1],
      ],
      [
        [46, 15.1],
        [45, 15.1],
        [45, 20.5],
      ],
      [
        [45, 19],
        [47, 19],
      ],
      [
        [52, 13.6],
        [54, 13.6],
      ],
      [
        [43, 12.1],
        [43, 7],
        [57, 7],
      ],
    );
    dots.push([13.5, y], [24.5, y], [43, 12.1], [45, 19], [54, 13.6]);
    grounds.push([24.5, 16.5], [45, 24.5]);
  }
  if (!filter)
    wires.push([
      [41, 12.1],
      [45, 12.1],
    ]);
  if (has(form, GATE)) {
    parts.push(down('R3', 'resistor', 27.5, 14.5, 'right'));
    wires.push([
      [27.5, y],
      [27.5, 12.5],
    ]);
    dots.push([27.5, y]);
    grounds.push([27.5, 16.5]);
  }
  return {
    width: filter ? 58 : 46,
    height: filter ? 27 : 20,
    parts,
    opAmps: [
      { name: 'U1', at: [38, 12.1], plusOnTop: true },
      ...(filter ? [{ name: 'U2', at: [49, 13.6] as Point, plusOnTop: true }] : []),
    ],
    devices: [
      { name: 'D1', symbol: 'optocoupler', at: [10, 9] },
      { name: 'D2', symbol: 'optocoupler', at: [20, 9] },
    ],
    wires,
    dots,
    grounds,
    ports: [
      { label: 'in', at: [0, y], side: 'left' },
      { label: 'out', at: filter ? [57, 7] : [45, 12.1], side: 'right' },
    ],
    nodes: [{ node: 'lamps', at: [0.2, 4.4], side: 'right' }],
  };
}

export const optocouplerGate = defineNetwork({
  id: 'optocoupler-gate',
  name: 'Optocoupler gate and filter',
  shortName: 'Gate',
  family: 'voltage-controlled',
  modes: [FILTER, GATE, BOTH],
  parameters: PARAMETERS,
  opAmps: (form) => (has(form, FILTER) ? 2 : 1),
  resonance: () => 'R5',
  reason:
    'Two cells lit by one current in a follower’s network: a low-pass with resonance, a gate, or both at once, with the cells’ own slow rise and slower fall.',
  cautions: [
    'Cells differ by half from sample to sample, drift with heat, and remember the light they had: choose pairs.',
    'The fall is many times slower than the rise: that is its sound, not a fault.',
    'A lamp bears some tens of milliamperes: put a resistor before it.',
  ],
  sources: [
    'R. P. Sallen, E. L. Key, A Practical Method of Designing RC Active Filters, IRE Trans. CT-2, 1955',
    'own cell law: a table, straight between its points on logarithms',
  ],
  combines: { whole: BOTH, of: [FILTER, GATE] },
  loop: (form) => (has(form, FILTER) ? { part: 'C1', drivenBy: 'foot', path: ['n1', 'n2', 'out', 'foot'] } : null),
  parts: partsOf,
  design(wanted, form, context) {
    const ohm = wanted.cellOhm;
    const root = 1 / (2 * Math.PI * wanted.cutoffHz * ohm);
    const own = Math.min(MOST_OWN_Q, OWN_SHARE * wanted.q);
    const C2 = context.capacitor('C2', root / (2 * own));
    const C1 = has(form, FILTER) ? (2 * own) ** 2 * C2 : 0;
    const R6 = context.resistor('R6', ROUND_OHM);
    // 1/Q = 1/Q0 − 2 Q0 (K − 1).
    const R5 = (R6 * (1 / own - 1 / wanted.q)) / (2 * own);
    const cell = has(form, FILTER) ? 1 / (2 * Math.PI * wanted.cutoffHz * Math.sqrt(C1 * C2)) : ohm;
    const parts: PartValues = {
      ...(has(form, FILTER) ? { C1, C2, R5, R6 } : {}),
      ...(has(form, GATE) ? { R3: wanted.shuntOhm } : {}),
      C3: SMALL_FARAD,
      I1: lampAmps(context.photocell, cell),
    };
    const specs = PARAMETERS.filter((p) => (p.forms ?? [form]).includes(form));
    return context.meetParameters(specs, wanted, parts, ['C3', 'R6'], (v) =>
      measures(v, ohmAt(context.photocell, v.I1)),
    );
  },
  celled: true,
  measures: (_form, v) => measures(v, v[CELL]),
  figures: [{ label: 'lamp current', kind: 'current', of: (_form, v) => v.I1 }],
  build,
  working: (form, v) => [
    { says: 'cell, from its table', tex: 'R = R(I_1)', value: format.ohm(v[CELL]) },
    ...(has(form, FILTER)
      ? [
          {
            says: 'cutoff',
            tex: 'f = \\frac{1}{2\\pi R\\sqrt{C_1 C_2}}',
            value: format.hertz(measures(v, v[CELL]).cutoffHz),
          },
          {
            says: 'quality',
            tex: 'Q = \\frac{\\sqrt{C_1 C_2}}{2 C_2 - C_1 R_5/R_6}',
            value: format.ratio(measures(v, v[CELL]).q),
          },
          { says: 'comes back', tex: 'K = 1 + \\frac{R_5}{R_6}', value: format.ratio(backGain(v)) },
          {
            says: 'sings at',
            tex: 'K = 1 + 2\\,\\frac{C_2}{C_1}',
            value: `K = ${format.ratio(singsAtGain(v))}, R5 = ${format.ohm(v.R6 * (singsAtGain(v) - 1))}`,
          },
        ]
      : []),
    ...(has(form, GATE)
      ? [
          {
            says: 'open',
            tex: '\\frac{R_3}{R_3 + 2R}',
            value: `${format.ratio(20 * Math.log10(v.R3 / (v.R3 + 2 * v[CELL])))} dB`,
          },
        ]
      : []),
  ],
  drawing,
});
