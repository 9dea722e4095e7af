import type { BuildContext, PartSpec } from '../../kit/define-topology';
import { across, down, type Drawing, type PlacedPart, type Point } from '../../kit/drawing';
import type { ParameterSpec } from '../../kit/parameter';
import type { PartValues } from '../../kit/part';
import { SUPPLY } from '../../kit/part';
import { GAIN_RANGE, internalOhm, junctionVolts, parallel } from './small-transistor';
import { greatestBetween } from '../../../math/search';

/**
 * A base held by a divider R1 over R2, with R6 between divider and base where it is bootstrapped; R4 in the emitter.
 */
export interface Rest {
  readonly collectorAmps: number;
  readonly emitterVolts: number;
  readonly baseVolts: number;
  readonly baseAmps: number;
}

/** What the base sees of its divider: open voltage, V, and resistance, ohm. */
function divider(v: PartValues): { volts: number; ohm: number } {
  return { volts: (v[SUPPLY] * v.R2) / (v.R1 + v.R2), ohm: parallel(v.R1, v.R2) + (v.R6 ?? 0) };
}

const HALVINGS = 200;

/**
 * Where it rests: Vth = Ib Rth + Vbe(Ic) + Ie R4, solved for Ic by halving; `current` the transistor's gain, others for
 * its range.
 */
export function restOf(v: PartValues, currentGain: number = GAIN_RANGE.typical): Rest {
  const { volts, ohm } = divider(v);
  const needed = (ic: number) =>
    (ic / currentGain) * ohm + junctionVolts(ic) + ic * (1 + 1 / currentGain) * v.R4 - volts;
  let [low, high] = [0, v[SUPPLY] / v.R4];
  for (let i = 0; i < HALVINGS && high - low > 1e-17; i++) {
    const middle = (low + high) / 2;
    if (needed(middle) > 0) high = middle;
    else low = middle;
  }
  const collectorAmps = (low + high) / 2;
  const emitterVolts = collectorAmps * (1 + 1 / currentGain) * v.R4;
  return {
    collectorAmps,
    emitterVolts,
    baseVolts: emitterVolts + junctionVolts(collectorAmps),
    baseAmps: collectorAmps / currentGain,
  };
}

/**
 * How many times the base's current runs down a plain divider that holds the base through so many ohms: from Rth = Vb
 * (Vs − Vb)/(Ib (Vs s + Vb)).
 */
export function stiffness({ baseVolts, baseAmps }: Rest, supplyVolts: number, ohm: number): number {
  return ((baseVolts * (supplyVolts - baseVolts)) / (baseAmps * ohm) - baseVolts) / supplyVolts;
}

/** The other way round: what the base may see for a divider of that stiffness. */
export const biasOhm = ({ baseVolts, baseAmps }: Rest, supplyVolts: number, stiff: number): number =>
  (baseVolts * (supplyVolts - baseVolts)) / (baseAmps * (supplyVolts * stiff + baseVolts));

/** A divider that is open at `volts` and looks like `ohm`. */
export function dividerFor(volts: number, ohm: number, supplyVolts: number): { R1: number; R2: number } {
  return { R1: (ohm * supplyVolts) / volts, R2: (ohm * supplyVolts) / (supplyVolts - volts) };
}

/**
 * What the signal sees at the base, ohm: (β + 1)(re + Re) beside the divider; bootstrapped, R6 has only the difference
 * of base and emitter across it.
 */
export function inputOhm(
  v: PartValues,
  emitterOhm: number,
  rest: Rest,
  currentGain: number = GAIN_RANGE.typical,
): number {
  // re of the formulas: base–emitter volts over emitter current.
  const re = internalOhm(rest.collectorAmps) / (1 + 1 / currentGain);
  const plain = parallel(v.R1, v.R2);
  if (v.R6 === undefined) return parallel(plain, (currentGain + 1) * (re + emitterOhm));
  return bootstrapped(emitterOhm, plain, v.R6, re, currentGain);
}

/**
 * Base current and R6's both go into the emitter's load beside the divider: vb − ve = i, ve = load (gain i …); solved
 * node by node.
 */
function bootstrapped(
  emitterOhm: number,
  dividerOhm: number,
  between: number,
  re: number,
  currentGain: number,
): number {
  const load = parallel(emitterOhm, dividerOhm);
  const basePath = (currentGain + 1) * re;
  // For one volt between base and emitter: what flows in, and what flows into the load.
  const inAmps = 1 / basePath + 1 / between;
  const loadAmps = 1 / re + 1 / between;
  return (1 + loadAmps * load) / inAmps;
}

/**
 * How to part a bias resistance between divider and R6 so that the bootstrapped input is highest: the divider's share,
 * by golden section.
 */
export function bestShare(
  ohm: number,
  emitterOhm: number,
  re: number,
  currentGain: number = GAIN_RANGE.typical,
): number {
  const at = (share: number) => bootstrapped(emitterOhm, share * ohm, (1 - share) * ohm, re, currentGain);
  return greatestBetween(at, 1e-3, 1 - 1e-3, 60).at;
}

/** Forms of a one-transistor stage: a divider at the base, or one that rides on the emitter. */
export const [PLAIN, BOOTSTRAPPED] = ['divider', 'bootstrapped'];

/** What every one of them is asked for its bias and its input’s corner. */
export const BIAS_PARAMETERS: readonly ParameterSpec[] = [
  { name: 'stiffness', label: 'divider over base current', kind: 'ratio', min: 2, max: 100, initial: 10 },
  { name: 'lowestHz', label: 'lowest', kind: 'frequency', min: 1, max: 1e4, initial: 20 },
];

export const resistorOf = (name: string, role: string): PartSpec => ({
  name,
  kind: 'resistor',
  role,
  leaveOut: 'open',
});
/** A capacitor that keeps bias apart, and that the signal does not see. */
export const couplerOf = (name: string, role: string): PartSpec => ({
  name,
  kind: 'capacitor',
  role,
  leaveOut: 'open',
  couples: true,
});

export const biasParts = (form: string): PartSpec[] => [
  resistorOf('R1', 'holds the base up'),
  resistorOf('R2', 'holds the base down'),
  ...(form === BOOTSTRAPPED
    ? [
        resistorOf('R6', 'between divider and base, with the emitter behind it'),
        couplerOf('C4', 'lifts the divider with the emitter: the bootstrap'),
      ]
    : []),
];

/** Places what holds the base, and the input's capacitor. */
export function placeBias({ input, plus, minus, has, node, part }: BuildContext, base: string, emitter: string): void {
  const held = has('R6') ? node('t') : base;
  part('R1', plus, held);
  part('R2', held, minus);
  if (has('R6')) {
    part('R6', held, base);
    part('C4', emitter, held);
  }
  part('C1', input, base);
}

/** Where the base’s column stands, and the input’s line. */
const [COLUMN, LINE] = [8, 12];

/**
 * How that is drawn: from the input to the base at so far right, down to the lower rail; bootstrapped, from the
 * emitter’s node.
 */
export function drawnBias(
  form: string,
  baseX: number,
  lowRail: number,
  emitter: Point,
): {
  parts: PlacedPart[];
  wires: Point[][];
  dots: Point[];
  ports: Drawing['ports'][number][];
  nodes: NonNullable<Drawing['nodes']>[number][];
} {
  const parts: PlacedPart[] = [across('C1', 'capacitor', 4, LINE)];
  const wires: Point[][] = [
    [
      [0, LINE],
      [2, LINE],
    ],
    [
      [6, LINE],
      [baseX, LINE],
    ],
  ];
  const dots: Point[] = [[COLUMN, LINE]];
  const ports: Drawing['ports'][number][] = [{ label: 'in', at: [0, LINE], side: 'left' }];
  const nodes: NonNullable<Drawing['nodes']>[number][] = [{ node: 'b', at: [baseX - 0.6, LINE - 0.6], side: 'left' }];
  if (form !== BOOTSTRAPPED) {
    parts.push(down('R1', 'resistor', COLUMN, 5.5, 'left'), down('R2', 'resistor', COLUMN, 18.5, 'left'));
    wires.push(
      [
        [COLUMN, 2],
        [COLUMN, 3.5],
      ],
      [
        [COLUMN, 7.5],
        [COLUMN, 16.5],
      ],
      [
        [COLUMN, 20.5],
        [COLUMN, lowRail],
      ],
    );
    return { parts, wires, dots, ports, nodes };
  }
  parts.push(
    down('R6', 'resistor', COLUMN, 16, 'left'),
    across('R1', 'resistor', 4, 21),
    down('R2', 'resistor', COLUMN, 25.5, 'left'),
    across('C4', 'capacitor', 14, emitter[1]),
  );
  wires.push(
    [
      [COLUMN, LINE],
      [COLUMN, 14],
    ],
    [
      [COLUMN, 18],
      [COLUMN, 23.5],
    ],
    [
      [0, 21],
      [2, 21],
    ],
    [
      [6, 21],
      [COLUMN, 21],
    ],
    [
      [COLUMN, 27.5],
      [COLUMN, lowRail],
    ],
    [emitter, [16, emitter[1]]],
    [
      [12, emitter[1]],
      [10.5, emitter[1]],
      [10.5, 21],
      [COLUMN, 21],
    ],
  );
  dots.push([COLUMN, 21]);
  ports.push({ label: '+V', at: [0, 21], side: 'left' });
  nodes.push({ node: 't', at: [COLUMN + 0.5, 22.6], side: 'right' });
  return { parts, wires, dots, ports, nodes };
}
