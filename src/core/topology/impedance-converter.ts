import { defineSection } from './define-section';
import type { FilterResponse, SectionTarget } from '../filter/section';
import type { PartSpec, SectionTopology } from './define-topology';
import { LEVEL_OHM, type DesignContext } from './design-context';
import { across, down, type Drawing, type PlacedPart, type Point } from './drawing';
import type { ClosedForm, PartKind, PartValues } from './part';
import { format } from './working';

/**
 * Two op-amps hold three nodes of a chain Z1 … Z5 at one voltage, so that it looks like Z1 Z3 Z5/(Z2 Z4): with Z2 a capacitor a coil L = R1 R3 R5 C2/R4, with Z1 and Z3 capacitors a
 * resistance that falls with the square of frequency, D = C1 C3 R2 R4/R5. Damped by Rq (or Cq) that is a resonator; the output is the op-amp's, 1 + R4/R5 times the node's.
 * A. Antoniou, Realisation of Gyrators Using Operational Amplifiers, Proc. IEE 116, 1969; N. Fliege, A New Class of Second-Order RC-Active Filters with Two Operational Amplifiers, NTZ 26, 1973;
 * L. T. Bruton, Network Transfer Functions Using the Concept of Frequency-Dependent Negative Resistance, IEEE Trans. Circuit Theory CT-16, 1969.
 */
function closedForm(response: FilterResponse, v: PartValues): ClosedForm {
  const twice = 1 + v.R4 / v.R5;
  if (response === 'lowpass') {
    const { whole, share } = divided(v.R0, v.R0b);
    const D = (v.C1 * v.C3 * v.R2 * v.R4) / v.R5;
    return { freqHz: 1 / (2 * Math.PI * Math.sqrt(whole * D)), q: Math.sqrt(whole * D) / (whole * v.Cq), gain: twice * share };
  }
  const L = (v.R1 * v.R3 * v.R5 * v.C2) / v.R4;
  if (response === 'highpass') {
    const C = v.C1 + (v.C1b ?? 0);
    return { freqHz: 1 / (2 * Math.PI * Math.sqrt(L * C)), q: v.Rq * Math.sqrt(C / L), gain: (twice * v.C1) / C };
  }
  const { whole, share } = divided(v.Rq, v.Rqb);
  return { freqHz: 1 / (2 * Math.PI * Math.sqrt(L * v.C1)), q: whole * Math.sqrt(v.C1 / L), gain: twice * share };
}

/** A resistor from the input with a leg to ground, as what is behind it sees them. */
const divided = (first: number, leg: number | undefined): { whole: number; share: number } => (leg === undefined ? { whole: first, share: 1 } : { whole: (first * leg) / (first + leg), share: leg / (first + leg) });

const split = (whole: number, share: number, name: string): Record<string, number> => (share > 1 - 1e-9 ? { [name]: whole } : { [name]: whole / share, [`${name}b`]: whole / (1 - share) });

/** All capacitors alike and all resistors of the chain alike, R = 1/(ω0 C); Rq = Q R, or Cq = C/Q. */
function design(target: SectionTarget, context: DesignContext): ReturnType<SectionTopology['design']> {
  const { response, freqHz, q, gain } = target;
  const omega = 2 * Math.PI * freqHz;
  const low = response === 'lowpass';
  const C = context.capacitorsFirst ? context.capacitor('C1', context.capacitorLevel(freqHz)) : 1 / (omega * context.resistor(low ? 'R0' : 'R1', LEVEL_OHM));
  const R = 1 / (omega * C);
  const share = gain / 2;
  const chain: Record<string, number> = low ? { C1: C, R2: R, C3: C, R4: R, R5: R } : { R1: R, C2: C, R3: R, R4: R, R5: R };
  const ends: Record<string, number> = low
    ? { ...split(R, share, 'R0'), Cq: C / q }
    : response === 'highpass'
      ? { C1: share * C, ...(share < 1 - 1e-9 ? { C1b: (1 - share) * C } : {}), Rq: q * R }
      : { ...split(q * R, share, 'Rq'), C1: C };
  return context.meet(target, { ...ends, ...chain }, context.capacitorsFirst ? ['C1', 'C2', 'C3'] : ['R0', 'R1'], (v) => closedForm(response, v));
}

/** The chain's five places, and what stands at its head: in line from the input, its leg, and what damps or resonates. */
function placesOf(response: FilterResponse): { chain: readonly [string, PartKind][]; inLine: [string, PartKind]; leg: string; shunt: [string, PartKind] } {
  const coil: readonly [string, PartKind][] = [['R1', 'resistor'], ['C2', 'capacitor'], ['R3', 'resistor'], ['R4', 'resistor'], ['R5', 'resistor']];
  if (response === 'lowpass') return { chain: [['C1', 'capacitor'], ['R2', 'resistor'], ['C3', 'capacitor'], ['R4', 'resistor'], ['R5', 'resistor']], inLine: ['R0', 'resistor'], leg: 'R0b', shunt: ['Cq', 'capacitor'] };
  if (response === 'highpass') return { chain: coil, inLine: ['C1', 'capacitor'], leg: 'C1b', shunt: ['Rq', 'resistor'] };
  return { chain: coil, inLine: ['Rq', 'resistor'], leg: 'Rqb', shunt: ['C1', 'capacitor'] };
}

function partsOf(response: FilterResponse): PartSpec[] {
  const { chain, inLine, leg, shunt } = placesOf(response);
  return [
    { name: inLine[0], kind: inLine[1], role: response === 'bandpass' ? 'in line, from the input: sets Q' : 'in line, from the input', leaveOut: 'open' },
    { name: leg, kind: inLine[1], role: 'divider leg that takes gain away', leaveOut: 'open' },
    { name: shunt[0], kind: shunt[1], role: response === 'bandpass' ? 'resonates with the imitated coil' : 'damps: sets Q', leaveOut: 'open' },
    ...chain.map(([name, kind], i): PartSpec => ({ name, kind, role: i === 4 ? 'foot of the chain' : `place ${i + 1} of the chain`, leaveOut: 'open' })),
  ];
}

function drawing(response: FilterResponse, parts: PartValues): Drawing {
  const { chain, inLine, leg, shunt } = placesOf(response);
  const y = 12;
  const placed: PlacedPart[] = [across(inLine[0], inLine[1], 4, y), down(shunt[0], shunt[1], 8.5, y + 4, 'left'), ...chain.slice(0, 4).map(([name, kind], i) => across(name, kind, 18 + 6 * i, y)), down(chain[4][0], chain[4][1], 43, y + 3, 'right')];
  const wires: Point[][] = [
    [[0, y], [2, y]], [[6, y], [16, y]], [[20, y], [22, y]], [[26, y], [28, y]], [[32, y], [34, y]], [[38, y], [43, y], [43, y + 1]], [[8.5, y], [8.5, y + 2]],
    [[15, y], [15, 3.5], [21, 3.5]], [[27, y], [27, 8.5], [20, 8.5], [20, 6.5], [21, 6.5]], [[27, 5], [33, 5], [33, y]], [[33, 5], [48, 5]],
    [[27, y], [27, 18.5], [29, 18.5]], [[39, y], [39, 26], [28, 26], [28, 21.5], [29, 21.5]], [[35, 20], [36.5, 20], [36.5, 24], [21, 24], [21, y]],
  ];
  const dots: Point[] = [[8.5, y], [15, y], [21, y], [27, y], [33, y], [39, y], [33, 5]];
  const grounds: Point[] = [[8.5, y + 6], [43, y + 5]];
  if (parts[leg] !== undefined) {
    placed.push(down(leg, inLine[1], 12.5, y + 4, 'right'));
    wires.push([[12.5, y], [12.5, y + 2]]);
    dots.push([12.5, y]);
    grounds.push([12.5, y + 6]);
  }
  return {
    width: 52, height: 28, parts: placed, opAmps: [{ name: 'U1', at: [24, 5], plusOnTop: true }, { name: 'U2', at: [32, 20], plusOnTop: false }], wires, dots, grounds,
    ports: [{ label: 'in', at: [0, y], side: 'left' }, { label: 'out', at: [48, 5], side: 'right' }],
  };
}

export const impedanceConverter = defineSection({
  id: 'impedance-converter',
  name: 'Impedance converter (Fliege)',
  shortName: 'Converter',
  family: 'op-amp',
  responses: ['lowpass', 'highpass', 'bandpass'],
  order: 2,
  opAmps: () => 2,
  polarity: 1,
  reason: 'Equal parts, Q by one of them, and a Q of fifty from two op-amps: the imitated coil is as good as its parts.',
  cautions: ['The two op-amps want to be of one package: their errors cancel.', 'Both swing up to twice the node: mind the headroom at a high Q.', 'Of itself it gives a gain of two; less is divided away at its input.'],
  sources: ['A. Antoniou, Realisation of Gyrators Using Operational Amplifiers, Proc. IEE 116, 1969', 'N. Fliege, A New Class of Second-Order RC-Active Filters with Two Operational Amplifiers, NTZ 26, 1973'],
  noiseGain: () => 1,
  gainRange: () => ({ min: 0.02, natural: 2, max: 2 }),
  parts: partsOf,
  design,
  closedForm,
  build({ form, input, output, reference, has, node, part, opAmp }) {
    const { chain, inLine, leg, shunt } = placesOf(form);
    const [a, b, c, e] = [node('a'), node('b'), node('c'), node('e')];
    part(inLine[0], input, a);
    if (has(leg)) part(leg, a, reference);
    part(shunt[0], a, reference);
    const nodes = [a, b, c, output, e, reference];
    chain.forEach(([name], i) => part(name, nodes[i], nodes[i + 1]));
    opAmp('U1', a, c, output);
    opAmp('U2', e, c, b);
  },
  working(target, v) {
    const got = closedForm(target.response, v);
    const low = target.response === 'lowpass';
    return [
      low ? { says: 'looks like', tex: 'D = \\frac{C_1 C_3 R_2 R_4}{R_5}', value: 'falls with f²' } : { says: 'coil imitated', tex: 'L = \\frac{R_1 R_3 R_5 C_2}{R_4}', value: format.henry((v.R1 * v.R3 * v.R5 * v.C2) / v.R4) },
      { says: 'natural frequency', tex: low ? 'f_0 = \\frac{1}{2\\pi\\sqrt{R_0 D}}' : 'f_0 = \\frac{1}{2\\pi\\sqrt{L C_1}}', value: format.hertz(got.freqHz ?? 0) },
      { says: 'damping', tex: low ? 'Q = \\frac{1}{C_q}\\sqrt{\\frac{D}{R_0}}' : 'Q = R_q\\sqrt{\\frac{C_1}{L}}', value: `Q = ${format.ratio(got.q ?? 0)}` },
      { says: 'gain', tex: '1 + \\frac{R_4}{R_5}', value: format.ratio(got.gain) },
    ];
  },
  drawing,
});
