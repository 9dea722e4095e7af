import { cellNotes, litCells } from './lit-cells';
import { together } from '../../parts/pairs';
import type { ElementInstance, Netlist } from '../../circuit/netlist';
import { compile, SOURCE_NODE, type Compilation } from '../../design/compiled/compile';
import type { CompileOptions } from '../../design/compiled/writing';
import { designatorsOf } from '../../design/stages/designators';
import type { Design, Variant } from '../../design/document/schema';
import { writeDeck } from '../../format/deck/write-deck';
import type { Result } from '../../result';
import type { PartKind } from '../../topology/kit/part';

/**
 * A variant as a deck: `in` is driven by `Vin`, `out` is the first way's load; every part's card is called by its
 * designator, the two of a pair by it and a or b. Fails as the design does, or with `not-in-a-deck`.
 */
export function variantDeck(design: Design, variant: Variant, options: CompileOptions): Result<string> {
  const found = compile(design, variant, options);
  // What cannot rest can still be written, and looked into elsewhere.
  const compiled = found.ok || !isRestless(found) ? found : compile(design, variant, { ...options, rest: 'left' });
  if (!compiled.ok) return compiled;
  const { ways } = compiled.value;
  const cells = litCells(compiled.value);
  const { netlist, call } = named(compiled.value, options);
  return writeDeck(netlist, {
    notes: cellNotes(cells, call),
    cellOhm: (element) => cells.get(element),
    title: design.title,
    rename: { [SOURCE_NODE]: 'in', [ways[0].output]: 'out' },
    call,
  });
}

const isRestless = ({ code }: { readonly code: string }): boolean =>
  code === 'no-convergence' || code === 'no-unique-solution';

function named(
  { netlist, ways }: Compilation,
  { values }: CompileOptions,
): { netlist: Netlist; call: (element: string) => string } {
  const names: ReadonlyMap<string, string> = designatorsOf(ways);
  const pairs: ReadonlyMap<
    string,
    { readonly kind: string; readonly values: readonly number[]; readonly part: PartKind }
  > = new Map(
    ways
      .flatMap((w) => w.stages)
      .flatMap(({ stage, parts }) =>
        parts.flatMap(({ spec, choice }) =>
          values === 'chosen' &&
          choice.use &&
          choice.use.kind !== 'single' &&
          choice.use.values.length === 2 &&
          !choice.control &&
          !choice.leftOut
            ? [[`${stage.id}.${spec.name}`, { ...choice.use, part: spec.kind }] as const]
            : [],
        ),
      ),
  );
  const elements = netlist.elements.flatMap((element): ElementInstance[] => {
    const pair = pairs.get(element.name);
    if (
      !pair ||
      Math.abs(
        together(pair.kind as 'series' | 'parallel', pair.part, pair.values[0], pair.values[1]) / element.values[0] - 1,
      ) > 1e-9
    )
      return [element];
    const [a, b] = element.nodes;
    const between = `${element.name}.between`;
    const ends =
      pair.kind === 'series'
        ? [
            [a, between],
            [between, b],
          ]
        : [
            [a, b],
            [a, b],
          ];
    return ends.map((nodes, i) => ({
      ...element,
      name: `${element.name}${i === 0 ? '|a' : '|b'}`,
      nodes,
      values: [pair.values[i], ...element.values.slice(1)],
    }));
  });
  const call = (name: string): string => {
    const [whole, half = ''] = name.split('|');
    const known = names.get(whole);
    if (known) return `${known}${half}`;
    const owner = [...names.keys()].find((key) => whole.startsWith(`${key}.`));
    return owner ? `${names.get(owner)}${whole.slice(owner.length).replace(/\./g, '_')}` : whole;
  };
  return { netlist: { ...netlist, elements }, call };
}
