import { nJunctionFet } from '../circuit/elements/junction-fet';
import { currentSource } from '../circuit/elements/current-source';
import { voltageSource } from '../circuit/elements/voltage-source';
import { polynomialProduct } from '../filter/rational';
import { CONTROL } from './control-current';
import { defineNetwork } from './define-network';
import type { BuildContext, PartSpec } from './define-topology';
import { drawnFromBuild } from './named-nets';
import type { ParameterSpec, Parameters } from './parameter';
import type { PartValues } from './part';
import { format } from './working';

const PARAMETERS: ParameterSpec[] = [{ name: 'cutoffHz', label: 'turn of each, half way', kind: 'frequency', min: 1, max: 5e4, initial: 700 }];
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

/** A channel with no voltage along it is a resistance, R = 1/(2β(Vgs − Vp)) (Shichman and Hodges); the gate stands at Vp + I1 R1. Ohm. */
const channelOhm = (v: PartValues): number => 1 / (2 * FET.beta * v.I1 * v.R1);

function measures(form: string, v: PartValues): Parameters {
  const stages = stagesOf(form);
  const farad = Math.exp(stages.reduce((s, k) => s + Math.log(v[`C${k}`]), 0) / stages.length);
  return { cutoffHz: 1 / (2 * Math.PI * channelOhm(v) * farad) };
}

function build({ form, input, output, reference, ideal, node, part, opAmp, element, value }: BuildContext): void {
  const gate = node('gate');
  const stages = stagesOf(form);
  const out = (k: number) => (k === 0 ? input : node(`o${k}`));
  part('R1', gate, node('pinch-off'));
  element('pinch', voltageSource, [node('pinch-off'), reference], [0, 0], { dc: FET.pinchOff });
  part('I1', reference, gate);
  element('I1.source', currentSource, [reference, gate], [0, 0], { dc: value('I1') });
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
  ...stagesOf(form).flatMap((k): PartSpec[] => [resistor(`R${k}1`, 'turns it over'), resistor(`R${k}2`, 'turns it over'), { name: `C${k}`, kind: 'capacitor', role: `turns, with the channel of Q${k}`, leaveOut: 'open' }]),
  resistor('R3', 'mixes the dry in'), resistor('R4', 'mixes the turned in'),
  CONTROL,
];

export const junctionFetPhaser = defineNetwork({
  id: 'junction-fet-phaser',
  name: 'JFET phaser',
  shortName: 'Phaser',
  family: 'voltage-controlled',
  modes: FORMS.map(nameOf),
  parameters: PARAMETERS,
  opAmps: (form) => parseInt(form, 10) + 1,
  reason: 'All-passes with a JFET for their resistor, mixed with what came in: a notch for every two of them, all moved by one gate voltage.',
  cautions: ['JFETs of one pinch-off: pick them, or the notches fill and close one after another.', 'A channel bends beyond some hundred millivolts along it: keep the signal small.', 'Trim the foot of the gate resistor to the pinch-off, until the sweep only just closes; it drifts with heat.'],
  sources: ['H. Shichman, D. Hodges, Modeling and Simulation of Insulated-Gate Field-Effect Transistor Switching Circuits, IEEE J. Solid-State Circuits 3, 1968', 'own derivation of the all-pass and the mix'],
  parts: partsOf,
  design(wanted, form, context) {
    const R1 = context.resistor('R1', GATE_OHM);
    const omega = 2 * Math.PI * wanted.cutoffHz;
    const C = context.capacitor('C1', (2 * FET.beta * MIDDLE_AMPS * R1) / omega);
    const R = context.resistor('R3', ALL_PASS_OHM);
    const stages = stagesOf(form);
    const parts: PartValues = { R1, ...Object.fromEntries(stages.flatMap((k) => [[`R${k}1`, R], [`R${k}2`, R], [`C${k}`, C]])), R3: R, R4: R, I1: (omega * C) / (2 * FET.beta * R1) };
    return context.meetParameters(PARAMETERS, wanted, parts, Object.keys(parts).filter((name) => name !== 'I1'), (v) => measures(form, v));
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
    { says: 'each turns a quarter at', tex: 'f = \\frac{1}{2\\pi R C_1}', value: format.hertz(measures(form, v).cutoffHz) },
    { says: 'notches at', tex: '\\frac{f_i}{f} = \\tan\\frac{(2i - 1)\\,90^\\circ}{N}', value: notchesHz(form, v).map(format.hertz).join(', ') },
  ],
  drawing: (form, parts) => drawnFromBuild(build, form, parts),
});

/** Where the turned one lies an odd number of half turns off the dry: N (180° − 2 atan(f/f0)) = 180° (2i − 1). Hz. */
export function notchesHz(form: string, v: PartValues): number[] {
  const { cutoffHz } = measures(form, v);
  const count = parseInt(form, 10);
  return Array.from({ length: count / 2 }, (_, i) => cutoffHz * Math.tan(((2 * i + 1) * Math.PI) / (2 * count)));
}
