import { npn } from '../circuit/elements/bipolar';
import { currentSource } from '../circuit/elements/current-source';
import { CONTROL, THERMAL_VOLTS } from './control-current';
import { defineNetwork } from './define-network';
import type { BuildContext, PartSpec } from './define-topology';
import { drawnFromBuild } from './named-nets';
import type { ParameterSpec, Parameters } from './parameter';
import type { PartValues } from './part';
import { format } from './working';

const PARAMETERS: ParameterSpec[] = [
  { name: 'cutoffHz', label: 'cutoff, control half way', kind: 'frequency', min: 1, max: 1e5, initial: 800 },
  { name: 'feedback', label: 'feedback, sings at 4', kind: 'ratio', min: 0.05, max: 6, initial: 2 },
];
/** Tail current in the middle of its control, A. */
const TAIL_AMPS = 60e-6;
const SMALL_NPN = [1e-14, 300, 4, 1, 1, 1 / 100, 0, 8e-12, 4e-12, 0.4e-9];
/** Nothing but the exponential. */
const IDEAL_NPN = [1e-14, 1e7, 1e7, 1, 1, 0, 0, 0, 0, 0];

/**
 * A driven pair under four pairs of emitters with a capacitor across each: every pair is a resistance of 4 Vt/I between its emitters, so each capacitor makes a pole at
 * I/(4 Vt C). The top pair’s difference, times R6/R5 and R10/(R9 + R10), comes back to the other base: the loop sings at a gain of 4, own derivation from re = Vt/(I/2).
 */
function measures(v: PartValues): Parameters {
  return { cutoffHz: v.I1 / (4 * THERMAL_VOLTS * v.C1) / (2 * Math.PI), feedback: ((v.R6 / v.R5) * v.R10) / (v.R9 + v.R10) };
}

function build({ input, output, reference, plus, minus, ideal, node, part, opAmp, element, value }: BuildContext): void {
  const model = ideal ? IDEAL_NPN : SMALL_NPN;
  const [b1, b2, tail] = [node('b1'), node('b2'), node('tail')];
  const side = (letter: 'a' | 'd', k: number) => (k === 4 ? plus : node(`${letter}${k}`));
  part('R1', input, b1);
  part('R2', b1, reference);
  part('R9', output, b2);
  part('R10', b2, reference);
  part('I1', tail, minus);
  element('I1.source', currentSource, [tail, minus], [0, 0], { dc: value('I1') });
  element('Q1', npn, [side('a', 0), b1, tail], model);
  element('Q2', npn, [side('d', 0), b2, tail], model);
  for (let k = 0; k < 4; k++) {
    part(`C${k + 1}`, side('a', k), side('d', k));
    element(`Q${3 + 2 * k}`, npn, [side('a', k + 1), node(`k${k}`), side('a', k)], model);
    element(`Q${4 + 2 * k}`, npn, [side('d', k + 1), node(`k${k}`), side('d', k)], model);
  }
  part('R11', plus, node('k3'));
  part('R12', node('k3'), node('k2'));
  part('R13', node('k2'), node('k1'));
  part('R14', node('k1'), node('k0'));
  part('R15', node('k0'), reference);
  // Followers keep the difference amplifier off the top pair, whose resistance is the filter’s.
  opAmp('U2', side('a', 3), node('fa'), node('fa'));
  opAmp('U3', side('d', 3), node('fd'), node('fd'));
  part('R5', node('fa'), node('x'));
  part('R6', node('x'), output);
  part('R7', node('fd'), node('y'));
  part('R8', node('y'), reference);
  opAmp('U1', node('y'), node('x'), output);
}

const resistor = (name: string, role: string): PartSpec => ({ name, kind: 'resistor', role, leaveOut: 'open' });
const PARTS: PartSpec[] = [
  resistor('R1', 'divides the input'), resistor('R2', 'divides the input'), ...[1, 2, 3, 4].map((k): PartSpec => ({ name: `C${k}`, kind: 'capacitor', role: `pole ${k}`, leaveOut: 'open' })),
  resistor('R5', 'takes the difference'), resistor('R6', 'around the last op-amp'), resistor('R7', 'takes the difference'), resistor('R8', 'takes the difference'), resistor('R9', 'brings it round: resonance'), resistor('R10', 'divides what comes round'),
  resistor('R11', 'bases’ string'), resistor('R12', 'bases’ string'), resistor('R13', 'bases’ string'), resistor('R14', 'bases’ string'), resistor('R15', 'bases’ string'),
  { ...CONTROL, role: 'tail current' },
];

export const transistorLadder = defineNetwork({
  id: 'transistor-ladder',
  name: 'Transistor ladder, four poles',
  shortName: 'Ladder',
  family: 'voltage-controlled',
  modes: ['low-pass'],
  parameters: PARAMETERS,
  opAmps: () => 3,
  reason: 'Ten transistors and four capacitors: 24 dB an octave from one current, bending softly, singing cleanly.',
  cautions: ['Pairs want to be alike: what one base has over the other is a thump when the cutoff moves.', 'At feedback 4 it sings; its level falls by 1 + feedback on the way.', 'Its input bears some tens of millivolts between the bases before it bends.'],
  sources: ['P. R. Gray, R. G. Meyer, Analysis and Design of Analog Integrated Circuits, 3.5: the pair', 'own derivation of the four equal poles and of the loop'],
  resonance: () => 'R9',
  parts: () => PARTS,
  design(wanted, _form, context) {
    const omega = 2 * Math.PI * wanted.cutoffHz;
    const C = context.capacitor('C1', TAIL_AMPS / (4 * THERMAL_VOLTS * omega));
    const I1 = 4 * THERMAL_VOLTS * omega * C;
    const [R1, R2] = [context.resistor('R1', 10e3), context.resistor('R2', 220)];
    const R5 = context.resistor('R5', 47e3);
    // What the divider takes is given back, so that without resonance the gain is one.
    const R6 = (R5 * (R1 + R2)) / R2;
    const R10 = context.resistor('R10', 220);
    const R9 = R10 * (R6 / R5 / wanted.feedback - 1);
    const parts: PartValues = { R1, R2, C1: C, C2: C, C3: C, C4: C, R5, R6, R7: R5, R8: R6, R9, R10, R11: 3900, R12: 390, R13: 390, R14: 390, R15: 1000, I1 };
    return context.meetParameters(PARAMETERS, wanted, parts, Object.keys(parts).filter((name) => name !== 'R9' && name !== 'I1'), measures);
  },
  measures: (_form, v) => measures(v),
  figures: [{ label: 'level lost to resonance', kind: 'decibel', of: (_form, v) => 20 * Math.log10(1 + measures(v).feedback) }],
  build,
  working: (_form, v) => [
    { says: 'each pole', tex: 'f = \\frac{I_1}{8\\pi V_T C_1}', value: format.hertz(measures(v).cutoffHz) },
    { says: 'feedback', tex: 'k = \\frac{R_6}{R_5}\\,\\frac{R_{10}}{R_9 + R_{10}}', value: format.ratio(measures(v).feedback) },
    { says: 'sings at', tex: '(1 + s/\\omega)^4 + k = 0 \\Rightarrow k = 4', value: `R9 = ${format.ohm(v.R10 * (v.R6 / v.R5 / 4 - 1))}` },
  ],
  drawing: (form, parts) => drawnFromBuild(build, form, parts),
});
