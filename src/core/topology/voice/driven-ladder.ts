import { npn } from '../../circuit/elements/bipolar';
import { CONTROL, THERMAL_VOLTS } from './control-current';
import { defineNetwork } from '../kit/define-network';
import type { BuildContext, NetworkTopology, PartSpec, WorkingLine } from '../kit/define-topology';
import type { DesignContext } from '../kit/design-context';
import { drivenLadderDrawing, type LadderMiddle } from './ladder-drawing';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import { IDEAL_TRANSISTOR, SMALL_NPN } from './stage/small-transistor';
import { format } from '../kit/working';

/** Tail current in the middle of its control, A. */
const TAIL_AMPS = 60e-6;
const IN_OHM = 10e3;
const LEG_OHM = 220;
const DIFFERENCE_OHM = 47e3;

export type Side = (letter: 'a' | 'd', rung: number) => string;

/** What a driven pair's current climbs through. */
export interface Rungs {
  /** Its junctions conduct as exp(v/(emission·Vt)). */
  readonly emission: number;
  /** Feedback at which the loop sings, and at how many times I/(4 n Vt C). */
  readonly singsAt: number;
  readonly singsTimes: number;
  readonly feedback: Pick<ParameterSpec, 'label' | 'max' | 'initial'>;
  readonly cutoffLabel: string;
  /** Resistors that hold the rungs where they stand, with their values, ohm. */
  readonly holders: Readonly<Record<string, number>>;
  /** Working: what the loop's polynomial is. */
  readonly loopTex: string;
  /** How they are drawn, and where the rail’s name stands. */
  readonly drawn: LadderMiddle;
  readonly railY: number;
  place(context: BuildContext, side: Side, transistor: readonly number[]): void;
}

type Told = Pick<NetworkTopology, 'id' | 'name' | 'shortName' | 'words' | 'reason' | 'cautions' | 'sources'>;

/**
 * A driven pair under four pairs of junctions with a capacitor across each: every pair is a resistance of 4 n Vt/I
 * between its ends, so each capacitor has the rate ω = I/(4 n Vt C), and the pair drives n of its own difference into
 * the top. That times R6/R5 and R10/(R9 + R10) comes back to the other base; own derivation from re = Vt/(I/2).
 */
export function drivenLadder(told: Told, rungs: Rungs): NetworkTopology {
  const math = new LadderMath(rungs);
  const parameters: ParameterSpec[] = [
    { name: 'cutoffHz', label: rungs.cutoffLabel, kind: 'frequency', min: 1, max: 1e5, initial: 800 },
    { name: 'feedback', kind: 'ratio', min: 0.05, ...rungs.feedback },
  ];
  const parts = partsOf(Object.keys(rungs.holders));
  return defineNetwork({
    ...told,
    family: 'voltage-controlled',
    modes: ['low-pass'],
    parameters,
    opAmps: () => 3,
    outlet: () => ({ kind: 'sink', count: 1 }),
    resonance: () => 'R9',
    levelPart: () => 'R1',
    loop: () => ({ part: 'R9', drivenBy: 'out', path: ['b2', 'd0', 'd3', 'fd', 'out'] }),
    parts: () => parts,
    design(wanted, _form, context) {
      const all = math.design(wanted, context);
      const held = Object.keys(all).filter((name) => name !== 'R9' && name !== 'I1');
      return context.meetParameters(parameters, wanted, all, held, math.measures);
    },
    measures: (_form, v) => math.measures(v),
    figures: [
      {
        label: 'level lost to resonance',
        kind: 'decibel',
        of: (_form, v) => 20 * Math.log10(1 + math.measures(v).feedback),
      },
    ],
    build: (context) => place(context, rungs),
    working: (_form, v) => math.working(v),
    drawing: () => drivenLadderDrawing(rungs.drawn, rungs.railY),
  });
}

const resistor = (name: string, role: string): PartSpec => ({ name, kind: 'resistor', role, leaveOut: 'open' });

const partsOf = (holders: readonly string[]): PartSpec[] => [
  resistor('R1', 'divides the input'),
  resistor('R2', 'divides the input'),
  ...[1, 2, 3, 4].map((k): PartSpec => ({ name: `C${k}`, kind: 'capacitor', role: `pole ${k}`, leaveOut: 'open' })),
  resistor('R5', 'takes the difference'),
  resistor('R6', 'around the last op-amp'),
  resistor('R7', 'takes the difference'),
  resistor('R8', 'takes the difference'),
  resistor('R9', 'brings it round: resonance'),
  resistor('R10', 'divides what comes round'),
  ...holders.map((name) => resistor(name, 'holds the rungs')),
  { ...CONTROL, role: 'tail current' },
];

/** What the parts make of it, and what parts make what is wanted. */
class LadderMath {
  constructor(private readonly rungs: Rungs) {}

  measures = (v: PartValues): { cutoffHz: number; feedback: number } => ({
    cutoffHz: (this.rungs.singsTimes * this.rateOf(v.I1, v.C1)) / (2 * Math.PI),
    feedback: (this.rungs.emission * (v.R6 / v.R5) * v.R10) / (v.R9 + v.R10),
  });

  design(wanted: Parameters, context: DesignContext): PartValues {
    const { emission, singsTimes, holders } = this.rungs;
    const omega = (2 * Math.PI * wanted.cutoffHz) / singsTimes;
    const C = context.capacitor('C1', this.rateOf(TAIL_AMPS, omega));
    const I1 = TAIL_AMPS * (omega / this.rateOf(TAIL_AMPS, C));
    const R1 = context.resistor('R1', IN_OHM);
    const R2 = context.resistor('R2', LEG_OHM);
    const R5 = context.resistor('R5', DIFFERENCE_OHM);
    // What the divider takes is given back, so that without resonance the gain is one.
    const R6 = (R5 * (R1 + R2)) / R2 / emission;
    const R10 = context.resistor('R10', LEG_OHM);
    const R9 = R10 * ((emission * R6) / R5 / wanted.feedback - 1);
    return { R1, R2, C1: C, C2: C, C3: C, C4: C, R5, R6, R7: R5, R8: R6, R9, R10, ...holders, I1 };
  }

  working(v: PartValues): WorkingLine[] {
    const { emission, singsAt, loopTex } = this.rungs;
    const n = emission === 1 ? '' : 'n';
    return [
      {
        says: 'each capacitor',
        tex: `f = \\frac{I_1}{8\\pi ${n && `${n} `}V_T C_1}`,
        value: format.hertz(this.rateOf(v.I1, v.C1) / (2 * Math.PI)),
      },
      {
        says: 'feedback',
        tex: `k = ${n && `${n}\\,`}\\frac{R_6}{R_5}\\,\\frac{R_{10}}{R_9 + R_{10}}`,
        value: format.ratio(this.measures(v).feedback),
      },
      {
        says: 'oscillates at',
        tex: loopTex,
        value: `R9 = ${format.ohm(v.R10 * ((emission * v.R6) / v.R5 / singsAt - 1))}`,
      },
    ];
  }

  /** Rate of a capacitor across a pair that a current flows through, rad/s; or the capacitor of a rate. */
  private rateOf(amps: number, farad: number): number {
    return amps / (4 * this.rungs.emission * THERMAL_VOLTS * farad);
  }
}

function place(context: BuildContext, rungs: Rungs): void {
  const { input, output, reference, plus, minus, ideal, node, part, opAmp, element, current } = context;
  const transistor = ideal ? IDEAL_TRANSISTOR : SMALL_NPN;
  const [b1, b2, tail] = [node('b1'), node('b2'), node('tail')];
  const side: Side = (letter, k) => (k === 4 ? plus : node(`${letter}${k}`));
  part('R1', input, b1);
  part('R2', b1, reference);
  part('R9', output, b2);
  part('R10', b2, reference);
  current('I1', tail, minus);
  element('Q1', npn, [side('a', 0), b1, tail], transistor);
  element('Q2', npn, [side('d', 0), b2, tail], transistor);
  for (let k = 0; k < 4; k++) part(`C${k + 1}`, side('a', k), side('d', k));
  rungs.place(context, side, transistor);
  // Followers keep the difference amplifier off the top pair, whose resistance is the filter’s.
  opAmp('U2', side('a', 3), node('fa'), node('fa'));
  opAmp('U3', side('d', 3), node('fd'), node('fd'));
  part('R5', node('fa'), node('x'));
  part('R6', node('x'), output);
  part('R7', node('fd'), node('y'));
  part('R8', node('y'), reference);
  opAmp('U1', node('y'), node('x'), output);
}
