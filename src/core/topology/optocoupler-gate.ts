import { currentSource } from '../circuit/elements/current-source';
import { cellOhmOf, optocouplerBent } from '../circuit/elements/optocoupler';
import { photocellValues, type Photocell } from '../device/photocell';
import { CONTROL } from './control-current';
import { defineNetwork } from './define-network';
import type { BuildContext, PartSpec } from './define-topology';
import { across, down, type Drawing, type PlacedPart, type Point } from './drawing';
import type { ParameterSpec, Parameters } from './parameter';
import { CELL, type PartValues } from './part';
import { format } from './working';

const [FILTER, GATE, BOTH] = ['filter', 'gate', 'both at once'];
const PARAMETERS: ParameterSpec[] = [
  { name: 'cellOhm', label: 'cell, half way', kind: 'resistance', min: 200, max: 1e6, initial: 12e3 },
  { name: 'cutoffHz', label: 'cutoff there', kind: 'frequency', min: 5, max: 5e4, initial: 900, forms: [FILTER, BOTH] },
  { name: 'q', label: 'Q', kind: 'ratio', min: 0.5, max: 5, initial: 1, forms: [FILTER, BOTH] },
  { name: 'shuntOhm', label: 'shunt', kind: 'resistance', min: 100, max: 1e6, initial: 4700, forms: [GATE, BOTH] },
];

/** The lamp current (A) at which a cell has a resistance: halved, since the law falls all along. */
function lampAmps(cell: Photocell, ohm: number): number {
  const { values } = photocellValues(cell);
  let [low, high] = [1e-9, 1];
  for (let i = 0; i < 100; i++) {
    const middle = Math.sqrt(low * high);
    if (cellOhmOf(values, 1000 * middle) > ohm) low = middle;
    else high = middle;
  }
  return Math.sqrt(low * high);
}
const ohmAt = (cell: Photocell, amps: number): number => cellOhmOf(photocellValues(cell).values, 1000 * amps);

/** @param ohm of each cell. */
function measures(v: PartValues, ohm: number): Parameters {
  return { cellOhm: ohm, ...(v.C1 === undefined ? {} : { cutoffHz: 1 / (2 * Math.PI * ohm * Math.sqrt(v.C1 * v.C2)), q: 0.5 * Math.sqrt(v.C1 / v.C2) }), ...(v.R3 === undefined ? {} : { shuntOhm: v.R3 }) };
}

function build({ input, output, reference, cell, has, node, part, opAmp, element, value }: BuildContext): void {
  const { values, bends } = photocellValues(cell);
  const lampAndCell = optocouplerBent(bends);
  const [n1, n2, lamps, between] = [node('n1'), node('n2'), node('lamps'), node('between')];
  element('D1', lampAndCell, [lamps, between, input, n1, node('light1')], values);
  element('D2', lampAndCell, [between, reference, n1, n2, node('light2')], values);
  part('I1', reference, lamps);
  element('I1.source', currentSource, [reference, lamps], [0, 0], { dc: value('I1') });
  if (has('C1')) part('C1', n1, output);
  if (has('C2')) part('C2', n2, reference);
  if (has('R3')) part('R3', n2, reference);
  part('C3', n1, reference);
  opAmp('U1', n2, output, output);
}

const has = (form: string, what: typeof FILTER): boolean => form === what || form === BOTH;
const partsOf = (form: string): PartSpec[] => [
  ...(has(form, FILTER) ? [{ name: 'C1', kind: 'capacitor' as const, role: 'brings the output back', leaveOut: 'open' as const }, { name: 'C2', kind: 'capacitor' as const, role: 'to ground', leaveOut: 'open' as const }] : []),
  ...(has(form, GATE) ? [{ name: 'R3', kind: 'resistor' as const, role: 'shunts what the cells let through: closed, it is silent', leaveOut: 'open' as const }] : []),
  { name: 'C3', kind: 'capacitor', role: 'the small one at the first cell, left out of every hand analysis', leaveOut: 'open' },
  { ...CONTROL, role: 'lamp current' },
];
const SMALL_FARAD = 220e-12;

function drawing(form: string): Drawing {
  const y = 10.6;
  const parts: PlacedPart[] = [across('I1', 'current', 4, 7.4), down('C3', 'capacitor', 15, 14.5)];
  const wires: Point[][] = [
    [[0, y], [7.5, y]], [[12.5, y], [17.5, y]], [[22.5, y], [35, y]], [[1, 7.4], [2, 7.4]], [[6, 7.4], [7.5, 7.4]], [[12.5, 7.4], [17.5, 7.4]], [[22.5, 7.4], [24.5, 7.4]], [[15, y], [15, 12.5]],
    [[35, 13.6], [34, 13.6], [34, 16.5], [41, 16.5], [41, 12.1]], [[41, 12.1], [45, 12.1]],
  ];
  const dots: Point[] = [[15, y], [41, 12.1]];
  const grounds: Point[] = [[1, 7.4], [24.5, 7.4], [15, 16.5]];
  if (has(form, FILTER)) {
    parts.push(across('C1', 'capacitor', 20, 2.5), down('C2', 'capacitor', 24.5, 14.5));
    wires.push([[13.5, y], [13.5, 2.5], [18, 2.5]], [[22, 2.5], [41, 2.5], [41, 12.1]], [[24.5, y], [24.5, 12.5]]);
    dots.push([13.5, y], [24.5, y]);
    grounds.push([24.5, 16.5]);
  }
  if (has(form, GATE)) {
    parts.push(down('R3', 'resistor', 27.5, 14.5, 'right'));
    wires.push([[27.5, y], [27.5, 12.5]]);
    dots.push([27.5, y]);
    grounds.push([27.5, 16.5]);
  }
  return {
    width: 46, height: 20, parts, opAmps: [{ name: 'U1', at: [38, 12.1], plusOnTop: true }], devices: [{ name: 'D1', symbol: 'optocoupler', at: [10, 9] }, { name: 'D2', symbol: 'optocoupler', at: [20, 9] }], wires, dots, grounds,
    ports: [{ label: 'in', at: [0, y], side: 'left' }, { label: 'out', at: [45, 12.1], side: 'right' }],
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
  opAmps: () => 1,
  reason: 'Two cells lit by one current in a follower’s network: a low-pass, a gate, or both at once, with the cells’ own slow rise and slower fall.',
  cautions: ['Cells differ by half from sample to sample, drift with heat, and remember the light they had: choose pairs.', 'The fall is many times slower than the rise: that is its sound, not a fault.', 'A lamp bears some tens of milliamperes: put a resistor before it.'],
  sources: ['R. P. Sallen, E. L. Key, A Practical Method of Designing RC Active Filters, IRE Trans. CT-2, 1955', 'own cell law: a table, straight between its points on logarithms'],
  combines: { whole: BOTH, of: [FILTER, GATE] },
  loop: (form) => (has(form, FILTER) ? { part: 'C1', drivenBy: 'out', path: ['n1', 'n2', 'out'] } : null),
  parts: partsOf,
  design(wanted, form, context) {
    const ohm = wanted.cellOhm;
    const root = 1 / (2 * Math.PI * wanted.cutoffHz * ohm);
    const C2 = context.capacitor('C2', root / (2 * wanted.q));
    const C1 = has(form, FILTER) ? (2 * wanted.q) ** 2 * C2 : 0;
    const cell = has(form, FILTER) ? 1 / (2 * Math.PI * wanted.cutoffHz * Math.sqrt(C1 * C2)) : ohm;
    const parts: PartValues = { ...(has(form, FILTER) ? { C1, C2 } : {}), ...(has(form, GATE) ? { R3: wanted.shuntOhm } : {}), C3: SMALL_FARAD, I1: lampAmps(context.photocell, cell) };
    const specs = PARAMETERS.filter((p) => (p.forms ?? [form]).includes(form));
    return context.meetParameters(specs, wanted, parts, ['C3'], (v) => measures(v, ohmAt(context.photocell, v.I1)));
  },
  celled: true,
  measures: (_form, v) => measures(v, v[CELL]),
  figures: [{ label: 'lamp current', kind: 'current', of: (_form, v) => v.I1 }],
  build,
  working: (form, v) => [
    { says: 'cell, from its table', tex: 'R = R(I_1)', value: format.ohm(v[CELL]) },
    ...(has(form, FILTER) ? [{ says: 'cutoff', tex: 'f = \\frac{1}{2\\pi R\\sqrt{C_1 C_2}}', value: format.hertz(measures(v, v[CELL]).cutoffHz) }, { says: 'quality', tex: 'Q = \\frac12\\sqrt{\\frac{C_1}{C_2}}', value: format.ratio(measures(v, v[CELL]).q) }] : []),
    ...(has(form, GATE) ? [{ says: 'open', tex: '\\frac{R_3}{R_3 + 2R}', value: `${format.ratio(20 * Math.log10(v.R3 / (v.R3 + 2 * v[CELL])))} dB` }] : []),
  ],
  drawing,
});
