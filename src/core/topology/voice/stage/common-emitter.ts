import { npn } from '../../../circuit/elements/bipolar';
import { failure, success, type Result } from '../../../result';
import { defineNetwork } from '../../kit/define-network';
import type { BuildContext, PartSpec } from '../../kit/define-topology';
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
  { name: 'collectorAmps', label: 'collector current', kind: 'current', min: 1e-5, max: 0.02, initial: 1e-3 },
  { name: 'emitterVolts', label: 'emitter at', kind: 'voltage', min: 0.1, max: 20, initial: 1 },
  { name: 'gain', label: 'gain into its load', kind: 'ratio', min: 0.5, max: 200, initial: 4 },
  ...BIAS_PARAMETERS,
  { name: 'loadOhm', label: 'load', kind: 'resistance', min: 100, max: 1e7, initial: 47e3 },
];
/** Coupling that is not the corner’s is so much larger. */
const OUT_OF_THE_WAY = 10;
/** What the collector must keep over the emitter, V. */
const SATURATED_VOLTS = 0.3;

/**
 * What the signal finds in the emitter, ohm: R4, beside it R5 where there is a leg, and the divider where it is
 * bootstrapped.
 */
const emitterOhm = (v: PartValues): number =>
  parallel(v.R4, ...(v.R5 === undefined ? [] : [v.R5]), ...(v.R6 === undefined ? [] : [parallel(v.R1, v.R2)]));
/** re as the emitter current has it. */
const re = (rest: Rest, currentGain: number): number => internalOhm(rest.collectorAmps) / (1 + 1 / currentGain);

/**
 * α (R3 ∥ load)/(re + Re): the collector's current is α of the emitter's. Bootstrapped, R6 brings re/R6 as much past
 * the emitter into its load.
 */
function gainOf(v: PartValues, rest: Rest, loadOhm: number): number {
  const own = re(rest, GAIN_RANGE.typical);
  const past = v.R6 === undefined ? 0 : own / v.R6;
  return (
    ((GAIN_RANGE.typical / (GAIN_RANGE.typical + 1)) * parallel(v.R3, loadOhm)) / (own + emitterOhm(v) * (1 + past))
  );
}

function measures(v: PartValues, { loadOhm }: Parameters): Parameters {
  const rest = restOf(v);
  const inOhm = inputOhm(v, plainEmitter(v), rest);
  return {
    collectorAmps: rest.collectorAmps,
    emitterVolts: rest.emitterVolts,
    gain: gainOf(v, rest, loadOhm),
    stiffness: stiffness(rest, v[SUPPLY], parallel(v.R1, v.R2) + (v.R6 ?? 0)),
    lowestHz: 1 / (2 * Math.PI * v.C1 * inOhm),
    loadOhm,
  };
}
/** The emitter’s own resistors, without the divider that a bootstrap adds. */
const plainEmitter = (v: PartValues): number => parallel(v.R4, ...(v.R5 === undefined ? [] : [v.R5]));

interface Asked {
  /** What the emitter’s current is to give over the load, for a volt at the base. */
  readonly gain: number;
  readonly own: number;
  readonly loadOhm: number;
  /** Collector resistor that rests half way in the swing, ohm; and one that the maker holds. */
  readonly half: number;
  readonly pinned: number | undefined;
  readonly R4: number;
  /** What the signal finds in the emitter without a leg, ohm; and how much R6 brings past it. */
  readonly beside: number;
  readonly past: number;
}

/**
 * Half way in its swing, with a leg that takes the rest of the gain; where the resistors alone give as much there, no
 * leg and a smaller collector resistor.
 */
function collectorAndLeg({
  gain,
  own,
  loadOhm,
  half,
  pinned,
  R4,
  beside,
  past,
}: Asked): Result<{ R3: number; R5?: number }, 'gain-too-high'> {
  const loaded = parallel(pinned ?? half, loadOhm);
  const needed = gain * (own + beside * (1 + past));
  if (needed < loaded * (1 - 1e-12)) return success({ R3: pinned ?? 1 / (1 / needed - 1 / loadOhm) });
  const Re = (loaded / gain - own) / (1 + past);
  if (!(Re > 0)) return failure('gain-too-high', { most: loaded / own });
  const R5 = 1 / (1 / Re - 1 / beside);
  return Number.isFinite(R5) && R5 > 0 && R5 < 1e3 * R4
    ? success({ R3: pinned ?? half, R5 })
    : success({ R3: 1 / (1 / needed - 1 / loadOhm) });
}

function build(context: BuildContext): void {
  const { output, plus, minus, has, ideal, node, part, element } = context;
  const [b, c, e] = [node('b'), node('c'), node('e')];
  placeBias(context, b, e);
  part('R3', plus, c);
  part('R4', e, minus);
  if (has('R5')) {
    part('R5', e, node('g'));
    part('C3', node('g'), minus);
  }
  part('C2', c, output);
  element('Q1', npn, [c, b, e], ideal ? EXPONENTIAL_NPN : SMALL_NPN);
}

const partsOf = (form: string): PartSpec[] => [
  ...biasParts(form),
  resistorOf('R3', 'collector: gain and swing'),
  resistorOf('R4', 'emitter: holds the current'),
  resistorOf('R5', 'leg that the signal sees beside it: more gain'),
  couplerOf('C1', 'in: keeps the bias in, sets the lowest'),
  couplerOf('C2', 'out: keeps the bias in'),
  couplerOf('C3', 'carries the leg’s signal'),
];

/** How far the output goes before it clips, V peak: up to the supply, down to the emitter. */
export function headroom(v: PartValues, loadOhm: number): { up: number; down: number } {
  const rest = restOf(v);
  const collector = v[SUPPLY] - rest.collectorAmps * v.R3;
  const loaded = parallel(v.R3, loadOhm);
  // Upwards the transistor lets go: its whole current into collector resistor and load.
  return { up: rest.collectorAmps * loaded, down: collector - rest.emitterVolts - SATURATED_VOLTS };
}

function drawing(form: string, parts: PartValues): Drawing {
  const lifted = form === BOOTSTRAPPED;
  const legged = parts.R5 !== undefined;
  // The transistor's column; the leg and the output to the right of it.
  const x = lifted ? 19 : 15;
  const out = x + 1.5;
  const lowRail = lifted ? 31 : legged ? 27 : 23;
  const bias = drawnBias(form, x - 2, lowRail, [out, 15.5]);
  const placed = [
    ...bias.parts,
    down('R3', 'resistor', out, 5.5, 'left'),
    down('R4', 'resistor', out, 18.5, 'left'),
    across('C2', 'capacitor', out + 5, 9),
  ];
  const wires: Point[][] = [
    ...bias.wires,
    [
      [out, 7.5],
      [out, 10],
    ],
    [
      [out, 9],
      [out + 3, 9],
    ],
    [
      [out + 7, 9],
      [out + 10, 9],
    ],
    [
      [out, 2],
      [out, 3.5],
    ],
    [
      [out, 14],
      [out, 16.5],
    ],
    [
      [out, 20.5],
      [out, lowRail],
    ],
  ];
  const dots: Point[] = [...bias.dots, [out, 9], ...(lifted || legged ? [[out, 15.5] as Point] : [])];
  if (legged) {
    const leg = out + 8;
    placed.push(down('R5', 'resistor', leg, 18.5, 'right'), down('C3', 'capacitor', leg, 23.5, 'right'));
    wires.push(
      [
        [out, 15.5],
        [leg, 15.5],
        [leg, 16.5],
      ],
      [
        [leg, 20.5],
        [leg, 21.5],
      ],
      [
        [leg, 25.5],
        [leg, lowRail],
      ],
    );
  }
  const lowEnd = out + (legged ? 10 : 4);
  wires.push(
    [
      [lifted ? out - 2 : 8, 2],
      [out + 4, 2],
    ],
    [
      [8, lowRail],
      [lowEnd, lowRail],
    ],
  );
  return {
    width: out + 14,
    height: lowRail + 3,
    parts: placed,
    opAmps: [],
    devices: [{ name: 'Q1', symbol: 'npn', at: [x, 12] }],
    wires,
    dots,
    grounds: [],
    ports: [
      ...bias.ports,
      { label: 'out', at: [out + 10, 9], side: 'right' },
      { label: '+V', at: [out + 4, 2], side: 'right' },
      { label: '−V', at: [lowEnd, lowRail], side: 'right' },
    ],
    nodes: [
      ...bias.nodes,
      { node: 'c', at: [out - 0.6, 9.3], side: 'left' },
      { node: 'e', at: [out + 0.6, 15], side: 'right' },
    ],
  };
}

export const commonEmitter = defineNetwork({
  id: 'common-emitter',
  oneTransistor: true,
  name: 'Common emitter, one transistor',
  shortName: 'Common emitter',
  words: ['transistor amplifier', 'BJT', 'gain stage', 'single transistor', 'preamplifier', 'bias'],
  family: 'voltage-controlled',
  modes: [PLAIN, BOOTSTRAPPED],
  parameters: PARAMETERS,
  supplied: true,
  polarity: -1,
  load: ({ loadOhm }) => ({ ohm: loadOhm }),
  reason:
    'Gain from one transistor: collector over emitter resistor, its output half way in its swing where ' +
    'the gain allows. It turns the signal over.',
  cautions: [
    'Its input is far lower than an op-amp’s: what stands before it is loaded by divider and base ' +
      'together. Look at the joint.',
    'Bootstrapped, the divider rides on the emitter: the input rises, the bias stays.',
    'Between one transistor and another the current gain differs fivefold: a stiff divider makes that a few per cent.',
  ],
  sources: [
    'P. R. Gray, R. G. Meyer, Analysis and Design of Analog Integrated Circuits, 1.4 and 3.3',
    'own node equations for the bootstrap and its best share',
  ],
  parts: partsOf,
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
    const R4 = wanted.emitterVolts / (ic * (1 + 1 / beta));
    const own = re(rest, beta);
    const alpha = beta / (beta + 1);
    const room = supply - wanted.emitterVolts - SATURATED_VOLTS;
    if (room <= 0 || rest.baseVolts >= supply)
      return failure('no-headroom', {
        supplyVolts: supply,
        emitterVolts: wanted.emitterVolts,
        needsVolts: rest.baseVolts + SATURATED_VOLTS,
      });
    const held = biasOhm(rest, supply, wanted.stiffness);
    const lifted = form === BOOTSTRAPPED;
    // Bootstrapped, the divider is in the emitter's load, and its best share depends on the leg: settled in a few
    // rounds.
    const at = (share: number) =>
      collectorAndLeg({
        gain: wanted.gain / alpha,
        own,
        loadOhm: wanted.loadOhm,
        half: room / 2 / ic,
        pinned: context.pinned('R3'),
        R4,
        ...(lifted
          ? { beside: parallel(R4, share * held), past: own / ((1 - share) * held) }
          : { beside: R4, past: 0 }),
      });
    let share = lifted ? 0.5 : 1;
    let chosen = at(share);
    for (let round = 0; lifted && round < 20 && chosen.ok; round++) {
      share = bestShare(held, chosen.value.R5 === undefined ? R4 : parallel(R4, chosen.value.R5), own);
      chosen = at(share);
    }
    if (!chosen.ok) return failure(chosen.code, { gain: wanted.gain, most: Number(chosen.data.most) * alpha });
    const { R3, R5 } = chosen.value;
    const open = rest.baseVolts + rest.baseAmps * held;
    const { R1, R2 } = dividerFor(open, share * held, supply);
    const base: PartValues = {
      [SUPPLY]: supply,
      R1,
      R2,
      R3,
      R4,
      ...(R5 === undefined ? {} : { R5 }),
      ...(lifted ? { R6: (1 - share) * held } : {}),
    };
    const inOhm = inputOhm(base, plainEmitter(base), rest);
    const C1 = 1 / (2 * Math.PI * wanted.lowestHz * inOhm);
    const far = OUT_OF_THE_WAY / (2 * Math.PI * wanted.lowestHz);
    const { [SUPPLY]: volts, ...rests } = base;
    const parts: PartValues = {
      ...rests,
      C1,
      C2: far / (R3 + wanted.loadOhm),
      ...(R5 === undefined ? {} : { C3: far / R5 }),
      ...(lifted ? { C4: (OUT_OF_THE_WAY * far) / (share * held) } : {}),
    };
    return context.meetParameters(PARAMETERS, wanted, parts, ['C2', 'C3', 'C4'], (v) =>
      measures({ ...v, [SUPPLY]: volts }, wanted),
    );
  },
  measures: (_form, v, parameters) => measures(v, parameters),
  figures: [
    { label: 'input', kind: 'resistance', of: (_form, v) => inputOhm(v, plainEmitter(v), restOf(v)) },
    {
      label: 'input, gain of 110',
      kind: 'resistance',
      of: (_form, v) => inputOhm(v, plainEmitter(v), restOf(v, GAIN_RANGE.low), GAIN_RANGE.low),
    },
    { label: 'output', kind: 'resistance', of: (_form, v) => v.R3 },
    { label: 'collector at', kind: 'voltage', of: (_form, v) => v[SUPPLY] - restOf(v).collectorAmps * v.R3 },
    { label: 'current, gain of 110', kind: 'current', of: (_form, v) => restOf(v, GAIN_RANGE.low).collectorAmps },
    { label: 'current, gain of 600', kind: 'current', of: (_form, v) => restOf(v, GAIN_RANGE.high).collectorAmps },
    { label: 'inside the emitter, re', kind: 'resistance', of: (_form, v) => internalOhm(restOf(v).collectorAmps) },
    {
      label: 'emitter for the most swing',
      kind: 'voltage',
      of: (_form, v, p) => (v[SUPPLY] - SATURATED_VOLTS) / (2 * p.gain + 1),
    },
    { label: 'clips upwards, peak', kind: 'voltage', of: (_form, v, p) => headroom(v, p.loadOhm).up },
    { label: 'clips downwards, peak', kind: 'voltage', of: (_form, v, p) => headroom(v, p.loadOhm).down },
  ],
  build,
  working: (_form, v, p) => {
    const rest = restOf(v);
    return [
      {
        says: 'emitter current',
        tex: 'I_e = \\frac{V_e}{R_4}',
        value: `${(1000 * rest.collectorAmps * (1 + 1 / GAIN_RANGE.typical)).toPrecision(4)} mA`,
      },
      { says: 'inside the emitter', tex: 'r_e = \\frac{V_T}{I_c}', value: format.ohm(internalOhm(rest.collectorAmps)) },
      {
        says: 'gain',
        tex:
          v.R5 === undefined
            ? 'A = -\\frac{R_3 \\parallel R}{r_e + R_4}'
            : 'A = -\\frac{R_3 \\parallel R}{r_e + R_4 \\parallel R_5}',
        value: `−${format.ratio(gainOf(v, rest, p.loadOhm))}`,
      },
      {
        says: 'hand rule',
        tex: v.R5 === undefined ? '\\frac{R_3}{R_4}' : '\\frac{R_3}{R_4 \\parallel R_5}',
        value: format.ratio(v.R3 / plainEmitter(v)),
      },
      {
        says: v.R6 === undefined ? 'input' : 'input, bootstrapped',
        tex:
          v.R6 === undefined
            ? 'R_1 \\parallel R_2 \\parallel (\\beta + 1)(r_e + R_e)'
            : '\\frac{1 + R_e\\,(1/r_e + 1/R_6)}{1/((\\beta + 1) r_e) + 1/R_6}',
        value: format.ohm(inputOhm(v, plainEmitter(v), rest)),
      },
      { says: 'lowest', tex: 'f = \\frac{1}{2\\pi R_{in} C_1}', value: format.hertz(measures(v, p).lowestHz) },
    ];
  },
  drawing,
});
