import { THERMAL_VOLTS } from '../../topology/voice/control-current';
import { USUAL_PHOTOCELL } from '../../device/photocell';
import type { BuildContext } from '../../topology/kit/define-topology';
import type { Stage, Variant, Way } from '../document/schema';
import { valuesOf, type DesignedStage } from './stage-design';

type Numbered = Pick<Stage, 'id' | 'number'>;

/**
 * The number of every stage in a variant, by its id: its own where it has one, the lowest free one where it has none or
 * shares it with a stage before it.
 */
export function stageNumbers(ways: readonly { readonly stages: readonly Numbered[] }[]): Map<string, number> {
  const stages = ways.flatMap((way) => way.stages);
  const taken = new Map<number, string>();
  for (const { id, number } of stages) if (number !== undefined && !taken.has(number)) taken.set(number, id);
  const numbers = new Map([...taken].map(([number, id]) => [id, number]));
  let next = 1;
  for (const { id } of stages) {
    if (numbers.has(id)) continue;
    while (taken.has(next)) next++;
    taken.set(next, id);
    numbers.set(id, next);
  }
  return numbers;
}

/** Gives every stage that has none its number, in place: from then on its parts keep their designators. */
export function numberStages({ ways }: Pick<Variant, 'ways'>): void {
  const numbers = stageNumbers(ways);
  for (const stage of ways.flatMap((way) => way.stages)) {
    const number = numbers.get(stage.id);
    if (stage.number !== number) stage.number = number;
  }
}

/** Letters that parts of a kind are called by. */
const LETTERS: Readonly<Record<string, string>> = {
  resistor: 'R',
  capacitor: 'C',
  inductor: 'L',
  potentiometer: 'P',
  current: 'I',
  voltage: 'J',
};
/** Op-amps, whatever their circuit calls them. */
const OP_AMP_LETTER = 'U';
/** And other devices, by the letter of their name in the circuit. */
const DEVICE_LETTERS = /^[UQDXT]/;
/** Designators that a stage has of each letter: the first stage R1 to R99, the second R101 to R199. */
const BLOCK = 100;

/**
 * One name for every part in the whole variant, by its element's name in the netlist, `stage.part`. Every stage has a
 * block of a hundred to itself by its number, so that what is put before it, left out or bypassed changes no name; in
 * its block a part keeps the figure that its circuit's formulas give it (R3 of the second stage is R103), and those
 * without a figure, or whose figure is another's, follow. Past a full block they are counted on from its end: R199_1.
 */
export function designatorsOf(ways: readonly { readonly stages: readonly DesignedStage[] }[]): Map<string, string> {
  const numbers = stageNumbers(ways.map((way) => ({ stages: way.stages.map((s) => s.stage) })));
  const names = new Map<string, string>();
  for (const designed of ways.flatMap((way) => way.stages)) {
    const { stage, parts } = designed;
    const letters = new Map([
      ...devicesOf(designed),
      ...parts.map(({ spec }) => [spec.name, LETTERS[spec.kind]] as const),
    ]);
    const first = BLOCK * ((numbers.get(stage.id) ?? 1) - 1);
    for (const [local, figure] of figuresOf(letters)) {
      const past = figure - (BLOCK - 1);
      const number = past > 0 ? `${first + BLOCK - 1}_${past}` : String(first + figure);
      names.set(`${stage.id}.${local}`, `${letters.get(local)}${number}`);
    }
  }
  return names;
}

/** What the resistor in line behind a way's last stage is called. */
export const outputResistorName = ({ ways }: Pick<Variant, 'ways'>, { name }: Pick<Way, 'name'>): string =>
  ways.length > 1 ? `Rout ${name}` : 'Rout';

/** The designators of one stage, by the names of its parts in its circuit. */
export const designatorsIn = (stageId: string, names: ReadonlyMap<string, string>): Readonly<Record<string, string>> =>
  Object.fromEntries(
    [...names].flatMap(([element, name]) =>
      element.startsWith(`${stageId}.`) ? [[element.slice(stageId.length + 1), name]] : [],
    ),
  );

/** What a part is called, by its name in the circuit: of a stage that no answer knows yet, by that itself. */
export const calledIn = (
  stage: { readonly designators: Readonly<Record<string, string>> } | null | undefined,
  part: string,
): string => stage?.designators[part] ?? part;

/** A text that speaks of a stage's parts by their names in its circuit, with what they are called in their place. */
export const calledThroughout = (
  stage: { readonly designators: Readonly<Record<string, string>> } | null | undefined,
  text: string,
): string => text.replace(/\b[A-Z][a-z]?\d+[a-z]?\b/g, (name) => calledIn(stage, name));

/**
 * The letters of a stage's op-amps and devices by their names in its circuit, with every part in its place and nothing
 * bypassed.
 */
function devicesOf(designed: DesignedStage): [local: string, letter: string][] {
  const placed = new Map<string, string>();
  const amplifier = (name: string) => void placed.set(name.split('.')[0], OP_AMP_LETTER);
  const device = (name: string) => {
    const [local] = name.split('.');
    if (DEVICE_LETTERS.test(local) && !placed.has(local)) placed.set(local, local[0]);
  };
  const values = valuesOf(designed, 'chosen');
  const nothing = () => {};
  const context: BuildContext = {
    form: designed.form,
    input: 'in',
    output: 'out',
    ground: 'ground',
    reference: 'reference',
    plus: 'plus',
    minus: 'minus',
    cell: USUAL_PHOTOCELL,
    ideal: false,
    node: (local) => local,
    has: () => true,
    value: (name) => values[name],
    part: nothing,
    pot: nothing,
    wire: nothing,
    opAmp: amplifier,
    ota: amplifier,
    current: nothing,
    jack: nothing,
    common: 'common',
    thermalVolts: THERMAL_VOLTS,
    element: device,
  };
  designed.topology.build(context as never);
  // Those called by their own letter keep their figures.
  return [...placed].sort(([a, letterA], [b, letterB]) => Number(letterA !== a[0]) - Number(letterB !== b[0]));
}

/** The figure of each part in its stage, by its local name: unique among those of its letter. */
function figuresOf(letters: ReadonlyMap<string, string>): Map<string, number> {
  const figures = new Map<string, number>();
  const taken = new Set<string>();
  const give = (local: string, figure: number) => {
    figures.set(local, figure);
    taken.add(`${letters.get(local)}${figure}`);
  };
  for (const [local, letter] of letters) {
    const own = /^[A-Z](\d{1,2})$/.exec(local);
    if (own && Number(own[1]) > 0 && !taken.has(`${letter}${Number(own[1])}`)) give(local, Number(own[1]));
  }
  for (const [local, letter] of letters) {
    if (figures.has(local)) continue;
    let figure = 1;
    while (taken.has(`${letter}${figure}`)) figure++;
    give(local, figure);
  }
  return figures;
}
