import { denseKernel } from '../analysis/dense';
import { assemble } from '../circuit/structure';
import { readDeck } from '../format/deck/read-deck';
import { rowOf } from '../analysis/kernel';
import { must } from '../result';

/** Levels (dB) at a deck's node `out`, from the plain reference solver: none of the quick paths has a part in it. */
export function denseResponse(deck: string, freqHz: readonly number[]): number[] {
  const { structure, values } = assemble(must(readDeck(deck)).netlist);
  const points = denseKernel(structure).solve(
    values,
    Float64Array.from(freqHz),
    Int32Array.of(structure.nodeOf('out') as number),
  );
  const row = rowOf(points, 0, 1, freqHz.length);
  return freqHz.map((_, i) => 20 * Math.log10(Math.hypot(row[2 * i], row[2 * i + 1])));
}
