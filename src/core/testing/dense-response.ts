import { denseKernel } from '../analysis/ac/dense';
import { assemble } from '../circuit/structure';
import { readDeck } from '../format/deck/read-deck';
import { rowOf } from '../analysis/ac/kernel';
import { must } from '../result';

/** The same as levels, dB, and phases, degrees, at a node of a deck. */
export function denseCurve(deck: string, freqHz: readonly number[], node = 'out') {
  const row = solvedAt(deck, freqHz, node);
  return {
    levelDb: freqHz.map((_, i) => 20 * Math.log10(Math.hypot(row[2 * i], row[2 * i + 1]))),
    phaseDeg: freqHz.map((_, i) => (Math.atan2(row[2 * i + 1], row[2 * i]) * 180) / Math.PI),
  };
}

/** Levels (dB) at a deck's node `out`, from the plain reference solver: none of the quick paths has a part in it. */
export const denseResponse = (deck: string, freqHz: readonly number[]): number[] => denseCurve(deck, freqHz).levelDb;

function solvedAt(deck: string, freqHz: readonly number[], node: string): Float64Array {
  const { structure, values } = assemble(must(readDeck(deck)).netlist);
  const points = denseKernel(structure).solve(
    values,
    Float64Array.from(freqHz),
    Int32Array.of(structure.nodeOf(node) as number),
  );
  return rowOf(points, 0, 1, freqHz.length);
}
