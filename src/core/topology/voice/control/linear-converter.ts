import { npn } from '../../../circuit/elements/bipolar';
import { diode } from '../../../circuit/elements/diode';
import { down } from '../../kit/drawing';
import { sketch, type Sketch } from '../../kit/drawing-blocks';
import type { BuildContext, PartSpec } from '../../kit/define-topology';
import { SPAN, wiperKey, wiperOf, type PartValues } from '../../kit/part';
import { format } from '../../kit/working';
import { IDEAL_TRANSISTOR, SMALL_NPN } from '../stage/small-transistor';
import { DRAWN, TRACK_OHM, type ControlChain } from './control-chain';
import { BUS_X, drawInputs, footAt, INPUT_PARTS, INPUT_ROLES, INTO_Y, placeInputs } from './inputs';

const INPUT_OHM = 100e3;
/** Keeps a negative sum from turning the base over: IS (A), emission, F; typical. */
const GUARD = [2e-9, 1.75, 3e-12];
/** Of the conductance of all inputs, what the adding point has to its foot. */
const FOOT_SHARE = 0.5;
const SLEEVES = 'sleeves';

/** Conductance of each input (S), with the pots where they stand. */
function inputs(v: PartValues): { pitch: number; depth: number; knob: number } {
  const [knob, depth] = [wiperOf(v, 'Pc1'), wiperOf(v, 'Pc2')];
  return {
    pitch: 1 / v.Rc1,
    depth: 1 / (v.Rc2 + depth * (1 - depth) * v.Pc2),
    knob: 1 / (v.Rc3 + knob * (1 - knob) * v.Pc1),
  };
}

/** Where inputs add up, V over the jacks' sleeves. */
function added(v: PartValues): number {
  const { pitch, depth, knob } = inputs(v);
  return (
    ((v.Jc1 ?? 0) * pitch + (v.Jc2 ?? 0) * wiperOf(v, 'Pc2') * depth + wiperOf(v, 'Pc1') * v[SPAN] * knob) /
    (pitch + depth + knob + 1 / v.Rc4)
  );
}

function build(context: BuildContext, drawn: string): void {
  const { common, ideal, node, part, opAmp, element } = context;
  const [sum, base, e] = ['sum', 'base', 'e'].map((n) => node(`cv-${n}`));
  placeInputs(context, sum, common, common);
  part('Rc4', sum, common);
  opAmp('Uc1', sum, e, base);
  element('Qc1', npn, [drawn, base, e], ideal ? IDEAL_TRANSISTOR : SMALL_NPN);
  element('Dc1', diode, [e, base], GUARD);
  part('Rc5', e, common);
}

const resistor = (name: string, role: string): PartSpec => ({ name, kind: 'resistor', role, leaveOut: 'open' });

export const linearConverter: ControlChain = {
  id: 'linear-converter',
  name: 'Amperes per volt: adder and current source',
  reason:
    'The current follows the volts as they are: what lamps and diodes are moved by, and what is played by ear ' +
    'rather than in tune.',
  cautions: [
    'It begins at nothing: below zero volts in sum the current is off.',
    'On one supply the op-amp must reach down to a volt over its minus: take one that does.',
  ],
  sources: ['own node equations: an op-amp holds the emitter at what the inputs add up to'],
  forms: ['normal'],
  parameters: [
    { name: 'doubleVolts', label: 'at the jack, for the middle again', kind: 'voltage', min: 0.1, max: 10, initial: 2 },
  ],
  opAmps: 1,
  ...INPUT_ROLES,
  usualFor: ['source'],
  trimmed: [{ part: 'Rc5', sets: 'scale' }],
  law: 'amperes',
  jacks: { Jc1: { fromVolts: 0, toVolts: 5 }, Jc2: { fromVolts: 0, toVolts: 5 } },
  heldAtC: () => null,
  parts: () => [...INPUT_PARTS, resistor('Rc4', 'foot of the adder'), resistor('Rc5', 'volts to amperes')],
  design({ doubleVolts }, _form, amps, context) {
    const whole = context.spanVolts;
    const [Pc1, Pc2] = [context.pinned('Pc1') ?? TRACK_OHM, context.pinned('Pc2') ?? TRACK_OHM];
    const Rc3 = context.resistor('Rc3', INPUT_OHM);
    // At the pitch jack so many volts add as much as the knob half way.
    const knob = Rc3 + Pc1 / 4;
    const Rc1 = context.resistor('Rc1', (knob * doubleVolts) / (whole / 2));
    const Rc2 = context.resistor('Rc2', Rc1);
    const in_ = inputs({ Rc1, Rc2, Rc3, Pc1, Pc2 });
    const Rc4 = context.resistor('Rc4', 1 / (FOOT_SHARE * (in_.pitch + in_.depth + in_.knob)));
    const parts = { Jc1: 0, Jc2: 0, Pc1, Pc2, Rc1, Rc2, Rc3, Rc4 };
    const begun = { ...parts, [SPAN]: whole, [wiperKey('Pc2')]: 0 };
    return {
      ...parts,
      Rc5: context.pinned('Rc5') ?? added(begun) / amps,
    };
  },
  amps: (_form, v) => Math.max(0, added(v)) / v.Rc5,
  build,
  working: (_form, v) => [
    { says: 'added up', tex: 'V_e = \\frac{\\sum V_k/R_k}{\\sum 1/R_k + 1/R_{c4}}', value: format.volts(added(v)) },
    { says: 'current', tex: 'I = \\frac{V_e}{R_{c5}}', value: format.amps(Math.max(0, added(v)) / v.Rc5) },
  ],
  draw() {
    const into = sketch();
    drawInputs(into, SLEEVES, 'sleeve');
    drawSource(into);
    return { pieces: into, height: 37 };
  },
};

function drawSource(into: Sketch): void {
  const { parts, opAmps, devices, wires, dots, ports } = into;
  parts.push(down('Rc4', 'resistor', BUS_X, 29, 'right'), down('Rc5', 'resistor', 43.5, 26.5, 'right'));
  opAmps.push({ name: 'Uc1', at: [32, 16.5], plusOnTop: true });
  devices.push({ name: 'Qc1', symbol: 'npn', at: [42, 16.5] }, { name: 'Dc1', symbol: 'diode', at: [48, 22] });
  wires.push(
    [
      [BUS_X, INTO_Y],
      [29, INTO_Y],
    ],
    [
      [BUS_X, 25],
      [BUS_X, 27],
    ],
    [
      [35, 16.5],
      [40, 16.5],
    ],
    [
      [29, 18],
      [28, 18],
      [28, 22],
      [46, 22],
    ],
    [
      [43.5, 18.5],
      [43.5, 24.5],
    ],
    [
      [50, 22],
      [52, 22],
      [52, 11],
      [37.5, 11],
      [37.5, 16.5],
    ],
    [
      [43.5, 14.5],
      [43.5, 7],
      [47, 7],
    ],
  );
  dots.push([BUS_X, 25], [37.5, 16.5], [43.5, 22]);
  footAt(into, BUS_X, 31, SLEEVES);
  footAt(into, 43.5, 28.5, SLEEVES);
  ports.push({ label: DRAWN, at: [47, 7], side: 'right' });
}
