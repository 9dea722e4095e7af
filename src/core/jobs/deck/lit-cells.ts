import { cellOhmOf } from '../../circuit/elements/optocoupler';
import type { Compilation } from '../../design/compiled/compile';
import { formatQuantity } from '../../units/quantity';

/** What lit cells have at rest, ohm, by their elements. */
export function litCells({ live }: Compilation): ReadonlyMap<string, number> {
  const cells = live?.circuit.structure.devices.filter((d) => d.definition.kind === 'optocoupler') ?? [];
  return new Map(
    cells.map(({ element, slot, definition, terminals }) => {
      const values = [...live!.circuit.values.subarray(slot, slot + definition.values.length)];
      return [element, cellOhmOf(values, live!.rest[terminals[4]])];
    }),
  );
}

export const cellNotes = (cells: ReadonlyMap<string, number>, call: (element: string) => string): string[] =>
  [...cells].map(
    ([element, ohm]) =>
      `${call(element)}: the cell as it is lit at rest, ${formatQuantity(ohm, 'resistance')}; it follows its lamp ` +
      'too slowly for any signal.',
  );
