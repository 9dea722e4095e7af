import type { CompiledWay } from './compile';
import type { DesignedStage } from './stage-design';

/** Letters that parts of a kind are called by. */
const LETTERS: Readonly<Record<string, string>> = {
  resistor: 'R',
  capacitor: 'C',
  inductor: 'L',
  potentiometer: 'P',
  current: 'I',
};
/** And devices, by the letter of their name in the circuit. */
const DEVICE_LETTERS = /^[UQDXT]/;

/**
 * One name for every part in the whole variant: R1, R2 … over all ways and stages in the order of the path, op-amps and
 * devices likewise; by its element's name in the netlist, `stage.part`. A part left out keeps its number, and so does a
 * stage that is bypassed: what is built around it does not change its name.
 */
export function designatorsOf(
  ways: readonly Pick<CompiledWay, 'stages'>[],
  elements: readonly { readonly name: string }[],
): Map<string, string> {
  const names = new Map<string, string>();
  const count = new Map<string, number>();
  const give = (key: string, letter: string) => {
    if (names.has(key)) return;
    const next = (count.get(letter) ?? 0) + 1;
    count.set(letter, next);
    names.set(key, `${letter}${next}`);
  };
  for (const { stage, parts } of ways.flatMap((w): readonly DesignedStage[] => w.stages)) {
    for (const { spec } of parts) give(`${stage.id}.${spec.name}`, LETTERS[spec.kind]);
    for (const { name } of elements) {
      if (!name.startsWith(`${stage.id}.`)) continue;
      const local = name.slice(stage.id.length + 1).split('.')[0];
      if (DEVICE_LETTERS.test(local) && !names.has(`${stage.id}.${local}`)) give(`${stage.id}.${local}`, local[0]);
    }
  }
  return names;
}
