import { npn } from '../../../circuit/elements/bipolar';
import { failure } from '../../../result';
import { defineNetwork } from '../../kit/define-network';
import type { BuildContext } from '../../kit/define-topology';
import { across, down, type Drawing, type Point } from '../../kit/drawing';
import type { ParameterSpec, Parameters } from '../../kit/parameter';
import { SUPPLY, type PartValues } from '../../kit/part';
import { EXPONENTIAL_NPN, GAIN_RANGE, internalOhm, junctionVolts, parallel, SMALL_NPN } from './small-transistor';
import {
  bestShare,
  BIAS_PARAMETERS,
  biasOhm,
  biasParts,
  BOOTSTRAPPED,
  couplerOf,
  dividerFor,
  drawnBias,
  inputOhm,
  placeBias,
  PLAIN,
  resistorOf,
  restOf,
  stiffness,
  type Rest,
} from './transistor-bias';
import { format } from '../../kit/working';

const PARAMETERS: ParameterSpec[] = [
  { name: 'collectorAmps', label: 'current', kind: 'current', min: 1e-5, max: 0.02, initial: 1e-3 },
  { name: 'emitterVolts', label: 'emitter at', kind: 'voltage', min: 0.3, max: 40, initial: 4 },
  ...BIAS_PARAMETERS,
  { name: 'loadOhm', label: 'load', kind: 'resistance', min: 100, max: 1e7, initial: 10e3 },
];
const OUT_OF_THE_WAY = 10;

/** Emitter resistor and load, both of which the signal drives. */
const drives = (v: PartValues, { loadOhm }: Parameters): number => parallel(v.R4, loadOhm);

/**
 * Of one volt at the base, what comes out: Re/(Re + re), Re with the divider where it rides on the emitter and R6
 * bringing some past.
 */
function gainOf(v: PartValues, parameters: Parameters): number {
  const own = internalOhm(restOf(v).collectorAmps) / (1 + 1 / GAIN_RANGE.typical);
  const Re = v.R6 === undefined ? drives(v, parameters) : parallel(drives(v, parameters), v.R1, v.R2);
  const path = 1 / own + (v.R6 === undefined ? 0 : 1 / v.R6);
  return (Re * path) / (1 + Re * path);
}

function measures(v: PartValues, parameters: Parameters): Parameters {
  const rest = restOf(v);
  return {
    collectorAmps: rest.collectorAmps,
    emitterVolts: rest.emitterVolts,
    stiffness: stiffness(rest, v[SUPPLY], parallel(v.R1, v.R2) + (v.R6 ?? 0)),
    lowestHz: 1 / (2 * Math.PI * v.C1 * inputOhm(v, drives(v, parameters), rest)),
    loadOhm: parameters.loadOhm,
  };
}

function build(context: BuildContext): void {
  const { output, plus, minus, ideal, node, part, element } = context;
  const [b, e] = [node('b'), node('e')];
  placeBias(context, b, e);
  part('R4', e, minus);
  part('C2', e, output);
  element('Q1', npn, [plus, b, e], ideal ? EXPONENTIAL_NPN : SMALL_NPN);
}

function drawing(form: string): Drawing {
  const lifted = form === BOOTSTRAPPED;
  const x = lifted ? 19 : 15;
  const e = x + 1.5;
  const lowRail = lifted ? 31 : 23;
  const bias = drawnBias(form, x - 2, lowRail, [e, 15.5]);
  const wires: Point[][] = [
    ...bias.wires,
    [
      [e, 2],
      [e, 10],
    ],
    [
      [e, 14],
      [e, 17],
    ],
    [
      [e, 15.5],
      [e + 3, 15.5],
    ],
    [
      [e + 7, 15.5],
      [e + 10, 15.5],
    ],
    [
      [e, 21],
      [e, lowRail],
    ],
    [
      [lifted ? e - 2 : 8, 2],
      [e + 4, 2],
    ],
    [
      [8, lowRail],
      [e + 4, lowRail],
    ],
  ];
  return {
    width: e + 14,
    height: lowRail + 3,
    parts: [...bias.parts, down('R4', 'resistor', e, 19, 'right'), across('C2', 'capacitor', e + 5, 15.5)],
    opAmps: [],
    devices: [{ name: 'Q1', symbol: 'npn', at: [x, 12] }],
    wires,
    dots: [...bias.dots, [e, 15.5]],
    grounds: [],
    ports: [
      ...bias.ports,
      { label: 'out', at: [e + 10, 15.5], side: 'right' },
      { label: '+V', at: [e + 4, 2], side: 'right' },
      { label: '−V', at: [e + 4, lowRail], side: 'right' },
    ],
    nodes: [...bias.nodes, { node: 'e', at: [e - 0.6, 15], side: 'left' }],
  };
}

export const emitterFollower = defineNetwork({
  id: 'emitter-follower',
  oneTransistor: true,
  name: 'Emitter follower, one transistor',
  shortName: 'Follower',
  words: ['transistor buffer', 'BJT', 'common collector', 'follower', 'single transistor', 'bootstrap'],
  family: 'voltage-controlled',
  modes: [PLAIN, BOOTSTRAPPED],
  parameters: PARAMETERS,
  supplied: true,
  load: ({ loadOhm }) => ({ ohm: loadOhm }),
  reason:
    'Nearly all of the signal, from an input that hardly loads to an output of some tens of ohms: what ' +
    'goes between a filter and a stage that would load it.',
  cautions: [
    'Downwards it can only let the load’s current go through its emitter resistor: a heavy load clips there first.',
    'Its divider is most of its input; bootstrapped, it rides on the emitter and is hardly seen.',
  ],
  sources: [
    'P. R. Gray, R. G. Meyer, Analysis and Design of Analog Integrated Circuits, 3.3',
    'own node equations for the bootstrap and its best share',
  ],
  parts: (form) => [
    ...biasParts(form),
    resistorOf('R4', 'emitter: holds the current'),
    couplerOf('C1', 'in: keeps the bias in, sets the lowest'),
    couplerOf('C2', 'out: keeps the bias in'),
  ],
  design(wanted, form, context) {
    const supply = context.supplyVolts;
    const beta = GAIN_RANGE.typical;
    const ic = wanted.collectorAmps;
    const rest: Rest = {
      collectorAmps: ic,
      emitterVolts: wanted.emitterVolts,
      baseVolts: wanted.emitterVolts + junctionVolts(ic),
      baseAmps: ic / beta,
    };
    if (rest.baseVolts >= supply)
      return failure('no-headroom', {
        supplyVolts: supply,
        emitterVolts: wanted.emitterVolts,
        needsVolts: rest.baseVolts,
      });
    const R4 = wanted.emitterVolts / (ic * (1 + 1 / beta));
    const held = biasOhm(rest, supply, wanted.stiffness);
    const share =
      form === BOOTSTRAPPED ? bestShare(held, parallel(R4, wanted.loadOhm), internalOhm(ic) / (1 + 1 / beta)) : 1;
    const { R1, R2 } = dividerFor(rest.baseVolts + rest.baseAmps * held, share * held, supply);
    const base: PartValues = { R1, R2, R4, ...(form === BOOTSTRAPPED ? { R6: (1 - share) * held } : {}) };
    const supplied = (v: PartValues): PartValues => ({ ...v, [SUPPLY]: supply });
    const far = OUT_OF_THE_WAY / (2 * Math.PI * wanted.lowestHz);
    const C1 = 1 / (2 * Math.PI * wanted.lowestHz * inputOhm(supplied(base), parallel(R4, wanted.loadOhm), rest));
    const parts: PartValues = {
      ...base,
      C1,
      C2: far / wanted.loadOhm,
      ...(form === BOOTSTRAPPED ? { C4: (OUT_OF_THE_WAY * far) / (share * held) } : {}),
    };
    return context.meetParameters(PARAMETERS, wanted, parts, ['C2', 'C4'], (v) => measures(supplied(v), wanted));
  },
  measures: (_form, v, parameters) => measures(v, parameters),
  figures: [
    { label: 'input', kind: 'resistance', of: (_form, v, p) => inputOhm(v, drives(v, p), restOf(v)) },
    {
      label: 'input, gain of 110',
      kind: 'resistance',
      of: (_form, v, p) => inputOhm(v, drives(v, p), restOf(v, GAIN_RANGE.low), GAIN_RANGE.low),
    },
    { label: 'passes', kind: 'decibel', of: (_form, v, p) => 20 * Math.log10(gainOf(v, p)) },
    { label: 'clips downwards, peak', kind: 'voltage', of: (_form, v, p) => restOf(v).collectorAmps * drives(v, p) },
    { label: 'current, gain of 110', kind: 'current', of: (_form, v) => restOf(v, GAIN_RANGE.low).collectorAmps },
    { label: 'current, gain of 600', kind: 'current', of: (_form, v) => restOf(v, GAIN_RANGE.high).collectorAmps },
  ],
  build,
  working: (_form, v, p) => [
    {
      says: 'inside the emitter',
      tex: 'r_e = \\frac{V_T}{I_c}',
      value: format.ohm(internalOhm(restOf(v).collectorAmps)),
    },
    {
      says: 'passes',
      tex:
        v.R6 === undefined
          ? '\\frac{R_e}{R_e + r_e},\\ R_e = R_4 \\parallel R'
          : '\\frac{R_e}{R_e + r_e},\\ R_e = R_4 \\parallel R \\parallel R_1 \\parallel R_2',
      value: format.decibel(20 * Math.log10(gainOf(v, p))),
    },
    {
      says: v.R6 === undefined ? 'input' : 'input, bootstrapped',
      tex:
        v.R6 === undefined
          ? 'R_1 \\parallel R_2 \\parallel (\\beta + 1)(r_e + R_e)'
          : '\\frac{1 + R_e\\,(1/r_e + 1/R_6)}{1/((\\beta + 1) r_e) + 1/R_6}',
      value: format.ohm(inputOhm(v, drives(v, p), restOf(v))),
    },
    { says: 'lowest', tex: 'f = \\frac{1}{2\\pi R_{in} C_1}', value: format.hertz(measures(v, p).lowestHz) },
  ],
  drawing,
});
