import { defineSection } from '../kit/define-section';
import { nullRatio, type FilterResponse, type SectionTarget } from '../../filter/section';
import type { PartSpec, SectionTopology } from '../kit/define-topology';
import { LEVEL_OHM, type DesignContext } from '../kit/design-context';
import type { ClosedForm, PartValues } from '../kit/part';
import { format } from '../kit/working';
import { converterDrawing, notchDrawing, type Places } from './impedance-converter-drawing';

/**
 * Two op-amps hold three nodes of a chain Z1 … Z5 at one voltage, so that it looks like Z1 Z3 Z5/(Z2 Z4): with Z2 a
 * capacitor a coil L = R1 R3 R5 C2/R4, with Z1 and Z3 capacitors a resistance that falls with the square of frequency,
 * D = C1 C3 R2 R4/R5. Damped by Rq (or Cq) that is a resonator; the output is the op-amp's, 1 + R4/R5 times the node's.
 * A. Antoniou, Realisation of Gyrators Using Operational Amplifiers, Proc. IEE 116, 1969; N. Fliege, A New Class of
 * Second-Order RC-Active Filters with Two Operational Amplifiers, NTZ 26, 1973; L. T. Bruton, Network Transfer
 * Functions Using the Concept of Frequency-Dependent Negative Resistance, IEEE Trans. Circuit Theory CT-16, 1969.
 */
function closedForm(response: FilterResponse, v: PartValues): ClosedForm {
  const twice = 1 + v.R4 / v.R5;
  if (response === 'lowpass') {
    const { whole, share } = divided(v.R0, v.R0b);
    const D = (v.C1 * v.C3 * v.R2 * v.R4) / v.R5;
    return {
      freqHz: 1 / (2 * Math.PI * Math.sqrt(whole * D)),
      q: Math.sqrt(whole * D) / (whole * v.Cq),
      gain: twice * share,
    };
  }
  const L = (v.R1 * v.R3 * v.R5 * v.C2) / v.R4;
  if (response === 'highpass') {
    const C = v.C1 + (v.C1b ?? 0);
    return { freqHz: 1 / (2 * Math.PI * Math.sqrt(L * C)), q: v.Rq * Math.sqrt(C / L), gain: (twice * v.C1) / C };
  }
  const { whole, share } = divided(v.Rq, v.Rqb);
  if (response === 'notch') {
    // What comes in at the three feet: 2α s² by C1, 2w (ω0/Q) s by Rq, β (ω0² − s² − (ω0/Q) s) by the chain's. Its
    // middle terms cancel where 2w = β.
    const C = v.C1 + (v.C1b ?? 0);
    const foot = divided(v.R5, v.R5b);
    const omega = Math.sqrt(v.R4 / (v.R1 * v.R3 * foot.whole * v.C2 * C));
    const ratio = v.R4 / foot.whole;
    const [high, low] = [((1 + ratio) * v.C1) / C - ratio * foot.share, foot.share];
    return {
      freqHz: omega / (2 * Math.PI),
      q: whole * C * omega,
      zeroHz: (omega * Math.sqrt(low / high)) / (2 * Math.PI),
      gain: Math.max(low, high),
      balance: ((1 + ratio) * share) / (ratio * foot.share),
    };
  }
  return { freqHz: 1 / (2 * Math.PI * Math.sqrt(L * v.C1)), q: whole * Math.sqrt(v.C1 / L), gain: twice * share };
}

/** A resistor from the input with a leg to ground, as what is behind it sees them. */
const divided = (first: number, leg: number | undefined): { whole: number; share: number } =>
  leg === undefined ? { whole: first, share: 1 } : { whole: (first * leg) / (first + leg), share: leg / (first + leg) };

const split = (whole: number, share: number, name: string): Record<string, number> =>
  share > 1 - 1e-9 ? { [name]: whole } : { [name]: whole / share, [`${name}b`]: whole / (1 - share) };

/** All capacitors alike and all resistors of the chain alike, R = 1/(ω0 C); Rq = Q R, or Cq = C/Q. */
function design(target: SectionTarget, context: DesignContext): ReturnType<SectionTopology['design']> {
  const { response, freqHz, q, gain } = target;
  const omega = 2 * Math.PI * freqHz;
  const low = response === 'lowpass';
  const C = context.capacitorsFirst
    ? context.capacitor('C1', context.capacitorLevel(freqHz))
    : 1 / (omega * context.resistor(low ? 'R0' : 'R1', LEVEL_OHM));
  const R = 1 / (omega * C);
  if (response === 'notch')
    return context.meet(target, notchParts(target, C, R), context.capacitorsFirst ? ['C1', 'C2'] : ['R1'], (v) =>
      closedForm(response, v),
    );
  const share = gain / 2;
  const chain: Record<string, number> = low
    ? { C1: C, R2: R, C3: C, R4: R, R5: R }
    : { R1: R, C2: C, R3: R, R4: R, R5: R };
  const ends: Record<string, number> = low
    ? { ...split(R, share, 'R0'), Cq: C / q }
    : response === 'highpass'
      ? { C1: share * C, ...(share < 1 - 1e-9 ? { C1b: (1 - share) * C } : {}), Rq: q * R }
      : { ...split(q * R, share, 'Rq'), C1: C };
  return context.meet(target, { ...ends, ...chain }, context.capacitorsFirst ? ['C1', 'C2', 'C3'] : ['R0', 'R1'], (v) =>
    closedForm(response, v),
  );
}

/**
 * Null above the resonance: part of C1 goes to ground (α = (1 + 1/z²)/2). Below: part of the chain's foot does (β =
 * 2z²/(1 + z²)). Rq halves what it is given so that the null is deep.
 */
function notchParts(target: SectionTarget, C: number, R: number): Record<string, number> {
  const square = nullRatio(target) ** 2;
  const alpha = square >= 1 ? (1 + 1 / square) / 2 : 1;
  const beta = square >= 1 ? 1 : (2 * square) / (1 + square);
  return {
    ...split(target.q * R, beta / 2, 'Rq'),
    C1: alpha * C,
    ...(alpha < 1 - 1e-9 ? { C1b: (1 - alpha) * C } : {}),
    R1: R,
    C2: C,
    R3: R,
    R4: R,
    ...split(R, beta, 'R5'),
  };
}

/**
 * The chain's five places, and what stands at its head: in line from the input, its leg, and what damps or resonates.
 */
function placesOf(response: FilterResponse): Places {
  const coil: Places['chain'] = [
    ['R1', 'resistor'],
    ['C2', 'capacitor'],
    ['R3', 'resistor'],
    ['R4', 'resistor'],
    ['R5', 'resistor'],
  ];
  if (response === 'lowpass')
    return {
      chain: [
        ['C1', 'capacitor'],
        ['R2', 'resistor'],
        ['C3', 'capacitor'],
        ['R4', 'resistor'],
        ['R5', 'resistor'],
      ],
      inLine: ['R0', 'resistor'],
      leg: 'R0b',
      shunt: ['Cq', 'capacitor'],
    };
  if (response === 'highpass')
    return { chain: coil, inLine: ['C1', 'capacitor'], leg: 'C1b', shunt: ['Rq', 'resistor'] };
  return { chain: coil, inLine: ['Rq', 'resistor'], leg: 'Rqb', shunt: ['C1', 'capacitor'] };
}

const NOTCH_PARTS: PartSpec[] = [
  { name: 'Rq', kind: 'resistor', role: 'in line, from the input: sets Q', leaveOut: 'open' },
  { name: 'Rqb', kind: 'resistor', role: 'divider leg, balances the null', leaveOut: 'open' },
  { name: 'C1', kind: 'capacitor', role: 'from the input; resonates with the imitated coil', leaveOut: 'open' },
  { name: 'C1b', kind: 'capacitor', role: 'its share to ground: raises the null', leaveOut: 'open' },
  { name: 'R1', kind: 'resistor', role: 'place 1 of the chain', leaveOut: 'open' },
  { name: 'C2', kind: 'capacitor', role: 'place 2 of the chain', leaveOut: 'open' },
  { name: 'R3', kind: 'resistor', role: 'place 3 of the chain', leaveOut: 'open' },
  { name: 'R4', kind: 'resistor', role: 'place 4 of the chain', leaveOut: 'open' },
  { name: 'R5', kind: 'resistor', role: 'foot of the chain, on the input', leaveOut: 'open' },
  { name: 'R5b', kind: 'resistor', role: 'its share to ground: lowers the null', leaveOut: 'open' },
];

function partsOf(response: FilterResponse): PartSpec[] {
  if (response === 'notch') return NOTCH_PARTS;
  const { chain, inLine, leg, shunt } = placesOf(response);
  return [
    {
      name: inLine[0],
      kind: inLine[1],
      role: response === 'bandpass' ? 'in line, from the input: sets Q' : 'in line, from the input',
      leaveOut: 'open',
    },
    { name: leg, kind: inLine[1], role: 'divider leg that takes gain away', leaveOut: 'open' },
    {
      name: shunt[0],
      kind: shunt[1],
      role: response === 'bandpass' ? 'resonates with the imitated coil' : 'damps: sets Q',
      leaveOut: 'open',
    },
    ...chain.map(([name, kind], i): PartSpec => ({
      name,
      kind,
      role: i === 4 ? 'foot of the chain' : `place ${i + 1} of the chain`,
      leaveOut: 'open',
    })),
  ];
}

export const impedanceConverter = defineSection({
  id: 'impedance-converter',
  name: 'Impedance converter (Fliege)',
  shortName: 'Converter',
  words: ['GIC', 'Antoniou', 'Fliege', 'simulated inductor', 'FDNR', 'high Q', 'biquad'],
  family: 'op-amp',
  responses: ['lowpass', 'highpass', 'bandpass', 'notch'],
  order: 2,
  opAmps: () => 2,
  polarity: 1,
  reason:
    'Equal parts, Q by one of them, and a Q of fifty from two op-amps: the imitated coil is as good as its parts.',
  cautions: [
    'The two op-amps want to be of one package: their errors cancel.',
    'Both swing up to twice the node: mind the headroom at a high Q.',
    'Of itself it gives a gain of two; less is divided away at its input.',
  ],
  sources: [
    'A. Antoniou, Realisation of Gyrators Using Operational Amplifiers, Proc. IEE 116, 1969',
    'N. Fliege, A New Class of Second-Order RC-Active Filters with Two Operational Amplifiers, NTZ 26, 1973',
  ],
  gainRange: (target) => {
    if (target.response !== 'notch') return { min: 0.02, natural: 2, max: 2 };
    const square = nullRatio(target) ** 2;
    const natural = square >= 1 ? 1 : 2 / (1 + square);
    return { min: natural, natural, max: natural };
  },
  parts: partsOf,
  design,
  closedForm,
  build({ form, input, output, reference, has, node, part, opAmp }) {
    const [a, b, c, e] = [node('a'), node('b'), node('c'), node('e')];
    if (form === 'notch') {
      part('Rq', input, a);
      part('Rqb', a, reference);
      part('C1', input, a);
      if (has('C1b')) part('C1b', a, reference);
      part('R5', e, input);
      if (has('R5b')) part('R5b', e, reference);
      [
        ['R1', a, b],
        ['C2', b, c],
        ['R3', c, output],
        ['R4', output, e],
      ].forEach(([name, from, to]) => part(name, from, to));
      opAmp('U1', a, c, output);
      opAmp('U2', e, c, b);
      return;
    }
    const { chain, inLine, leg, shunt } = placesOf(form);
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
    if (target.response === 'notch')
      return [
        {
          says: 'natural frequency',
          tex: 'f_0 = \\frac{1}{2\\pi}\\sqrt{\\frac{R_4}{R_1 R_3 R_5 C_2 C_1}}',
          value: format.hertz(got.freqHz ?? 0),
        },
        {
          says: 'null',
          tex: 'f_z = f_0\\sqrt{\\frac{\\beta}{2\\alpha - \\beta}}',
          value: format.hertz(got.zeroHz ?? 0),
        },
        { says: 'damping', tex: 'Q = 2\\pi f_0 (R_q \\parallel R_{qb}) C_1', value: `Q = ${format.ratio(got.q ?? 0)}` },
        {
          says: 'balance, 1 for a deep null',
          tex: '\\frac{(1 + R_4/R_5)\\,w}{(R_4/R_5)\\,\\beta}',
          value: format.ratio(got.balance ?? 1),
        },
        { says: 'gain', tex: '\\max(\\beta, 2\\alpha - \\beta)', value: format.ratio(got.gain) },
      ];
    return [
      low
        ? { says: 'looks like', tex: 'D = \\frac{C_1 C_3 R_2 R_4}{R_5}', value: 'falls with f²' }
        : {
            says: 'coil imitated',
            tex: 'L = \\frac{R_1 R_3 R_5 C_2}{R_4}',
            value: format.henry((v.R1 * v.R3 * v.R5 * v.C2) / v.R4),
          },
      {
        says: 'natural frequency',
        tex: low ? 'f_0 = \\frac{1}{2\\pi\\sqrt{R_0 D}}' : 'f_0 = \\frac{1}{2\\pi\\sqrt{L C_1}}',
        value: format.hertz(got.freqHz ?? 0),
      },
      {
        says: 'damping',
        tex: low ? 'Q = \\frac{1}{C_q}\\sqrt{\\frac{D}{R_0}}' : 'Q = R_q\\sqrt{\\frac{C_1}{L}}',
        value: `Q = ${format.ratio(got.q ?? 0)}`,
      },
      { says: 'gain', tex: '1 + \\frac{R_4}{R_5}', value: format.ratio(got.gain) },
    ];
  },
  drawing: (response, parts) =>
    response === 'notch' ? notchDrawing(parts) : converterDrawing(placesOf(response), parts),
});
