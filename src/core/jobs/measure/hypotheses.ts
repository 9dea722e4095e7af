import { OPEN_OHM } from '../../design/compiled/stage-placer';
import type { Compilation } from '../../design/compiled/compile';
import type { DesignedPart } from '../../design/stages/stage-design';
import { within, type Belief } from '../../measure/posterior';
import { formatQuantity } from '../../units/quantity';
import { PART_UNITS } from '../../topology/kit/part-units';
import type { PartKind } from '../../topology/kit/part';

export const FAULT_KINDS = ['value', 'open', 'short', 'swap', 'dead', 'reversed', 'inverted', 'probe'] as const;
export type FaultKind = (typeof FAULT_KINDS)[number];

/** What may be wrong with a board, as beliefs that differ from those of a sound one. */
export interface Hypothesis {
  readonly kind: FaultKind;
  /** Designators of the parts, or the name of the way or probe. */
  readonly parts: readonly string[];
  /** Elements whose number is believed to be elsewhere. */
  readonly beliefs: ReadonlyMap<string, Belief>;
  /** Where the fit begins for them, if not at the belief's centre: several, of which the best is taken. */
  readonly starts: readonly ReadonlyMap<string, number>[];
  /** ln of how likely it is before anything is measured, against a sound board. */
  readonly logPrior: number;
  /** Op-amp that is dead, way that is reversed, probe that it was measured at instead; the recording inverted. */
  readonly elsewhere?: {
    readonly dead?: string;
    readonly reversed?: string;
    readonly probe?: string;
    readonly inverted?: true;
  };
}

/** ln of how often each kind is met on new boards, all parts together: contacts and cabling before parts. */
const HOW_OFTEN: Readonly<Record<FaultKind, number>> = {
  probe: Math.log(0.02),
  reversed: Math.log(0.02),
  inverted: Math.log(0.02),
  value: Math.log(0.04),
  open: Math.log(0.02),
  short: Math.log(0.01),
  swap: Math.log(0.01),
  dead: Math.log(0.01),
};

/** A value that is not what it should be may be anything from a hundredth to a hundred times, in the logarithm. */
const ANYTHING: Belief = { centre: 0, sigma: 2 };
const TRIED = [0.01, 0.1, 0.22, 0.47, 0.7, 0.85, 1.18, 1.43, 2.13, 4.55, 10, 100];
/** What is left of a bridge of solder, ohm; and how many times a part is as good as not there. */
const SHORT_OHM = 1e-3;
const NOTHING = 1e-9;
/** Parts nearer to one another than this ratio are not worth mistaking. */
const LEAST_SWAP = 1.08;
const FIXED = 1e-3;

export interface NamedPart {
  readonly element: string;
  readonly designator: string;
  readonly kind: PartKind;
  readonly part: DesignedPart;
}

/** Parts of all stages that are in the circuit, by designator. */
export function namedParts(
  { ways }: Pick<Compilation, 'ways'>,
  designators: ReadonlyMap<string, string>,
  there: (element: string) => boolean,
): NamedPart[] {
  return ways
    .flatMap((way) => way.stages)
    .flatMap(({ stage, parts }) =>
      parts.map((part): NamedPart => {
        const element = `${stage.id}.${part.spec.name}`;
        return {
          element,
          designator: designators.get(element) ?? element,
          kind: part.spec.kind,
          part,
        };
      }),
    )
    .filter((p) => there(p.element) && p.kind !== 'current');
}

/** What a thing of so many of its kind is met with. */
const each = (kind: FaultKind, count: number): number => HOW_OFTEN[kind] - Math.log(Math.max(1, count));

/** The whole recording upside down: a cable, a differential input, an inverting card. */
export const INVERTED: Hypothesis = {
  kind: 'inverted',
  parts: ['recording'],
  beliefs: new Map(),
  starts: [new Map()],
  logPrior: HOW_OFTEN.inverted,
  elsewhere: { inverted: true },
};

/** Everything that may be wrong with one part. */
export function partHypotheses(parts: readonly NamedPart[]): Hypothesis[] {
  const one = (kind: FaultKind, p: NamedPart, belief: Belief, starts: readonly number[]): Hypothesis => ({
    kind,
    parts: [p.designator],
    beliefs: new Map([[p.element, belief]]),
    starts: starts.map((ratio) => new Map([[p.element, Math.log(ratio)]])),
    logPrior: each(kind, parts.length),
  });
  const fixed = (ratio: number): Belief => ({ centre: Math.log(ratio), sigma: FIXED });
  return parts.flatMap((p) => {
    const [open, short] = endsOf(p.kind, p.part.chosen);
    return [
      one('value', p, ANYTHING, TRIED),
      one('open', p, fixed(open), [open]),
      one('short', p, fixed(short), [short]),
    ];
  });
}

/** Two parts of a kind in each other’s places. @param all how many there are on the board. */
export function swapHypotheses(parts: readonly NamedPart[], all: number): Hypothesis[] {
  const pairs = parts.flatMap((p, i) =>
    parts.slice(i + 1).flatMap((q) => {
      const ratio = q.part.chosen / p.part.chosen;
      return q.kind === p.kind && Math.max(ratio, 1 / ratio) > LEAST_SWAP ? [{ p, q, ratio }] : [];
    }),
  );
  return pairs.map(({ p, q, ratio }): Hypothesis => {
    const around = (of: NamedPart, centre: number): Belief => within(of.part.tolerancePct / 100, centre);
    const [a, b] = [Math.log(ratio), -Math.log(ratio)];
    return {
      kind: 'swap',
      parts: [p.designator, q.designator],
      beliefs: new Map([
        [p.element, around(q, a)],
        [q.element, around(p, b)],
      ]),
      starts: [
        new Map([
          [p.element, a],
          [q.element, b],
        ]),
      ],
      logPrior: each('swap', (all * (all - 1)) / 2),
    };
  });
}

/** How many times its value a part seems to have where a joint is open, and where it is bridged. */
function endsOf(kind: PartKind, value: number): readonly [number, number] {
  if (kind === 'capacitor') return [NOTHING, 1 / NOTHING];
  if (kind === 'inductor') return [1 / NOTHING, NOTHING];
  return [Math.max(10, OPEN_OHM / value), Math.min(0.1, SHORT_OHM / value)];
}

/** Things that are not parts: op-amps, drivers, the probe itself. */
export function otherHypotheses(
  opAmps: readonly { readonly element: string; readonly designator: string }[],
  ways: readonly { readonly id: string; readonly name: string }[],
  probes: readonly { readonly id: string; readonly name: string }[],
): Hypothesis[] {
  const plain = (kind: FaultKind, name: string, count: number, elsewhere: Hypothesis['elsewhere']): Hypothesis => ({
    kind,
    parts: [name],
    beliefs: new Map(),
    starts: [new Map()],
    logPrior: each(kind, count),
    elsewhere,
  });
  return [
    ...opAmps.map((o) => plain('dead', o.designator, opAmps.length, { dead: o.element })),
    ...ways.map((w) => plain('reversed', w.name, ways.length, { reversed: w.id })),
    ...probes.map((p) => plain('probe', p.name, probes.length, { probe: p.id })),
  ];
}

/** A hypothesis in words, with what to do. @param ratio of a value: how many times it seems to be what it should. */
export function sentenceOf(
  { kind, parts }: Pick<Hypothesis, 'kind' | 'parts'>,
  chosen: { readonly kind: PartKind; readonly value: number } | null,
  ratio: number | null,
): string {
  const [first, second] = parts;
  const shown = (value: number) => (chosen ? formatQuantity(value, PART_UNITS[chosen.kind], { digits: 3 }) : '');
  switch (kind) {
    case 'value':
      return chosen && ratio !== null
        ? `${first} is about ${shown(chosen.value * ratio)} where ${shown(chosen.value)} is expected: measure it.`
        : `${first} has another value.`;
    case 'open':
      return `${first} does not conduct: look at its joints, and whether it is there.`;
    case 'short':
      return `${first} is bridged: look for solder across it.`;
    case 'swap':
      return `${first} and ${second} are in each other’s places.`;
    case 'dead':
      return `${first} does nothing: its supply, its inputs crossed, or the device itself.`;
    case 'reversed':
      return `The driver of ${first} is the other way round: swap its leads.`;
    case 'inverted':
      return 'The recording is inverted: exchange the two wires at the input or the output, or take the polarity back.';
    case 'probe':
      return `It was measured at another place: ${first}.`;
  }
}
