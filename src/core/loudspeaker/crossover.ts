import { C, L, R, V } from '../circuit/build';
import { GROUND, type ElementInstance, type Netlist } from '../circuit/netlist';
import type { Alignment } from '../filter/alignments/define-alignment';
import { singlyTerminated, type Ladder } from '../filter/passive-ladder';
import { success, type Result } from '../result';

export type WayName = 'low' | 'mid' | 'high';

export interface CrossoverRequest {
  readonly alignment: Alignment;
  /** Order of each edge. */
  readonly order: number;
  /** One frequency for two ways, two for three, rising. */
  readonly cutoffsHz: readonly number[];
  /** Load of each way, low first, ohm. */
  readonly loadsOhm: readonly number[];
  readonly rippleDb: number;
  readonly cutoffAt?: 'own' | '-3db';
  /** What can be bought, nearest to an exact value. */
  readonly snap: (kind: 'coil' | 'capacitor', value: number) => number;
}

/** The nodes that a way's network stands between, and the load at its end. */
interface Way {
  readonly name: WayName;
  readonly loadOhm: number;
}

/**
 * A passive parallel crossover from a stiff source: per way a ladder that ends in its load (singly terminated; M. Van
 * Valkenburg, Introduction to Modern Network Synthesis, 14.2), low-pass as it is, high-pass with every coil and
 * capacitor exchanged, the middle way by the band-pass transformation of each element. Source `Vin` at `in` (AC 1 V),
 * loads at `low`, `mid`, `high`. Fails with `not-a-ladder`.
 */
export function passiveCrossover(request: CrossoverRequest): Result<Netlist, 'not-a-ladder'> {
  const { alignment, order, cutoffsHz, loadsOhm } = request;
  const prototype = singlyTerminated(
    alignment.prototype(order, { rippleDb: request.rippleDb, cutoffAt: request.cutoffAt ?? alignment.defaultCutoffAt }),
  );
  if (!prototype.ok) return prototype;
  const names: WayName[] = cutoffsHz.length === 2 ? ['low', 'mid', 'high'] : ['low', 'high'];
  const elements: ElementInstance[] = [V('Vin', 'in', GROUND, 1)];
  names.forEach((name, i) => {
    const way: Way = { name, loadOhm: loadsOhm[i] ?? loadsOhm[loadsOhm.length - 1] };
    const [below, above] = [cutoffsHz[i - 1], cutoffsHz[i]].map((f) => (f === undefined ? undefined : 2 * Math.PI * f));
    elements.push(
      ...network(prototype.value, way, below, above, request.snap),
      R(`R${name}`, name, GROUND, way.loadOhm),
    );
  });
  return success({ elements, merged: [] });
}

/** @param below lower edge of the way, rad/s, if it has one. @param above upper edge. */
function network(
  ladder: Ladder,
  { name, loadOhm }: Way,
  below: number | undefined,
  above: number | undefined,
  snap: CrossoverRequest['snap'],
): ElementInstance[] {
  const elements: ElementInstance[] = [];
  let parts = 0;
  const coil = (a: string, b: string, henry: number) =>
    elements.push(L(`L${name}${++parts}`, a, b, snap('coil', henry)));
  const capacitor = (a: string, b: string, farad: number) =>
    elements.push(C(`C${name}${++parts}`, a, b, snap('capacitor', farad)));
  let at = 'in';
  ladder.elements.forEach((element, i) => {
    const isLast = i >= ladder.elements.length - (ladder.elements.length % 2 === 0 ? 2 : 1);
    const series = i % 2 === 0;
    // Series elements lead to the next node, the last of them to the load.
    const next = series ? (isLast ? name : `${name}.${i}`) : GROUND;
    if (below === undefined && above !== undefined) {
      if (series) coil(at, next, (element * loadOhm) / above);
      else capacitor(at, next, element / (above * loadOhm));
    } else if (above === undefined && below !== undefined) {
      if (series) capacitor(at, next, 1 / (element * below * loadOhm));
      else coil(at, next, loadOhm / (element * below));
    } else if (above !== undefined && below !== undefined) {
      // s → (s² + ω0²)/(B s): a coil gains a capacitor in series, a capacitor a coil in parallel, both in tune at the
      // centre.
      const [width, square] = [above - below, above * below];
      if (series) {
        const henry = (element * loadOhm) / width;
        coil(at, `${name}.${i}s`, henry);
        capacitor(`${name}.${i}s`, next, 1 / (square * henry));
      } else {
        const farad = element / (width * loadOhm);
        capacitor(at, next, farad);
        coil(at, next, 1 / (square * farad));
      }
    }
    if (series) at = next;
  });
  return elements;
}
