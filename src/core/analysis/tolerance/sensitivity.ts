import { entryValue, type Assembled, type Entry } from '../../circuit/structure';
import { failure, success, type Result } from '../../result';
import { planElimination, type Plan } from '../elimination/plan';
import { PlanReplay } from '../ac/replay';
import { AcSolver } from '../ac/solver';
import type { VaryingSlot } from './spread';

export interface Sensitivity {
  /** The response, interleaved re, im. */
  readonly response: Float64Array;
  /**
   * Per slot asked for: (p/H) ∂H/∂p, interleaved. Its real part is the relative change of level for a relative change
   * of the part (times 8.686: dB), its imaginary part the change of phase in radians.
   */
  readonly relative: readonly Float64Array[];
  /** Group delay, s: −Im((∂H/∂ω)/H), exact. */
  readonly groupDelayS: Float64Array;
}

/** Derivative of an entry's number by one of its slots. */
function slopeOf(entry: Entry, values: Float64Array, slot: number): number {
  const [first, second, third] = entry.slots;
  switch (entry.form) {
    case 'constant':
      return 0;
    case 'direct':
      return entry.factor;
    case 'reciprocal':
      return -entry.factor / values[first] ** 2;
    case 'mutual': {
      const root = Math.sqrt(values[second] * values[third]);
      if (slot === first) return entry.factor * root;
      return (entry.factor * values[first] * root) / 2 / values[slot];
    }
  }
}

/** One of the unknowns that an output is the sum of, and what it counts for at each frequency: re and im by turns. */
export interface WeightedUnknown {
  readonly unknown: number;
  readonly weights: Float64Array;
}

/**
 * How every point of a response moves with every part, by the adjoint: one solve and one transposed substitution a
 * frequency, whatever the number of parts: ∂H/∂p = −yᵀ (∂A/∂p) x (S. Director and R. Rohrer, IEEE Trans. Circuit Theory
 * 16, 1969).
 *
 * @param output two unknowns whose difference is the response (−1: ground), or several by their weights. @param given
 * a plan of the structure, kept from values not far from these. Fails with `no-unique-solution` (`unknown`).
 */
export function sensitivity(
  circuit: Assembled,
  freqHz: Float64Array,
  output: readonly [number, number] | readonly WeightedUnknown[],
  slots: readonly number[],
  given?: Plan,
): Result<Sensitivity, 'no-unique-solution'> {
  const { structure, values } = circuit;
  const n = structure.size;
  const m = freqHz.length;
  const plan = given ?? planElimination(structure, values, Math.sqrt(freqHz[0] * freqHz[m - 1]));
  if ('singularUnknown' in plan)
    return failure('no-unique-solution', { unknown: structure.unknowns[plan.singularUnknown] });
  const replay = new PlanReplay(structure, plan);
  replay.setValues(values);
  const [wanted, wantedIm, yRe, yIm] = Array.from({ length: 4 }, () => new Float64Array(n));
  const terms = weighted(output, m);
  const touching = slots.map((slot) =>
    structure.entries
      .filter((entry) => entry.slots.includes(slot))
      .map((entry) => ({ entry, slope: slopeOf(entry, values, slot) })),
  );
  const storing = structure.entries.filter((entry) => entry.order === 1);
  const response = new Float64Array(2 * m);
  const relative = slots.map(() => new Float64Array(2 * m));
  const groupDelayS = new Float64Array(m);
  for (let f = 0; f < m; f++) {
    const omega = 2 * Math.PI * freqHz[f];
    replay.solve(freqHz[f]);
    if (!(replay.backwardError() < 1e-12)) replay.refine();
    wanted.fill(0);
    wantedIm.fill(0);
    const { xRe, xIm } = replay;
    let [hRe, hIm] = [0, 0];
    for (const { unknown, weights } of terms) {
      const [re, im] = [weights[2 * f], weights[2 * f + 1]];
      wanted[unknown] += re;
      wantedIm[unknown] += im;
      hRe += re * xRe[unknown] - im * xIm[unknown];
      hIm += re * xIm[unknown] + im * xRe[unknown];
    }
    replay.solveTransposed(wanted, yRe, yIm, wantedIm);
    response[2 * f] = hRe;
    response[2 * f + 1] = hIm;
    const size = hRe ** 2 + hIm ** 2;
    /** −y[row] · x[column] · weight · (1 or j). */
    const share = ({ row, column }: Entry, weight: number, turned: boolean): [number, number] => {
      const re = -weight * (yRe[row] * xRe[column] - yIm[row] * xIm[column]);
      const im = -weight * (yRe[row] * xIm[column] + yIm[row] * xRe[column]);
      return turned ? [-im, re] : [re, im];
    };
    const overResponse = (re: number, im: number): [number, number] => [
      (re * hRe + im * hIm) / size,
      (im * hRe - re * hIm) / size,
    ];
    touching.forEach((entries, p) => {
      let [re, im] = [0, 0];
      for (const { entry, slope } of entries) {
        const [a, b] = share(entry, entry.order === 0 ? slope : slope * omega, entry.order === 1);
        re += a;
        im += b;
      }
      const value = values[slots[p]];
      const [a, b] = overResponse(re * value, im * value);
      relative[p][2 * f] = a;
      relative[p][2 * f + 1] = b;
    });
    let [re, im] = [0, 0];
    for (const entry of storing) {
      // Of jωC by ω.
      const [a, b] = share(entry, entryValue(entry, values), true);
      re += a;
      im += b;
    }
    groupDelayS[f] = -overResponse(re, im)[1];
  }
  return success({ response, relative, groupDelayS });
}

function weighted(output: readonly [number, number] | readonly WeightedUnknown[], count: number): WeightedUnknown[] {
  const [first, second] = output;
  if (typeof first === 'object') return (output as readonly WeightedUnknown[]).filter((t) => t.unknown >= 0);
  return [first, second as number].flatMap((unknown, k) => {
    const sign = k === 0 ? 1 : -1;
    const weights = Float64Array.from({ length: 2 * count }, (_, i) => (i % 2 === 0 ? sign : 0));
    return unknown >= 0 ? [{ unknown, weights }] : [];
  });
}

export interface WorstCase {
  readonly lowDb: Float64Array;
  readonly highDb: Float64Array;
}

/**
 * The lowest and highest level at each frequency with every part at the end of its tolerance that the sensitivities
 * point to. Parts of a batch go the same way, as far as they are alike. Exact where levels move one way with each part
 * over its tolerance, which holds for tolerances of a few per cent.
 */
export function worstCase(
  circuit: Assembled,
  freqHz: Float64Array,
  output: readonly [number, number],
  varying: readonly VaryingSlot[],
): Result<WorstCase, 'no-unique-solution'> {
  const found = sensitivity(
    circuit,
    freqHz,
    output,
    varying.map((v) => v.slot),
  );
  if (!found.ok) return found;
  const [lowDb, highDb] = [new Float64Array(freqHz.length), new Float64Array(freqHz.length)];
  const values = new Float64Array(circuit.values.length);
  const solver = new AcSolver();
  for (let f = 0; f < freqHz.length; f++) {
    const pull = new Map<string, number>();
    varying.forEach(
      ({ batch }, p) => batch && pull.set(batch.id, (pull.get(batch.id) ?? 0) + found.value.relative[p][2 * f]),
    );
    for (const [side, into] of [
      [-1, lowDb],
      [1, highDb],
    ] as const) {
      values.set(circuit.values);
      varying.forEach(({ slot, tolerancePct, batch }, p) => {
        const own = Math.sign(found.value.relative[p][2 * f]);
        const alone = batch ? Math.min(batch.matchPct, tolerancePct) : tolerancePct;
        const together = batch ? (tolerancePct - alone) * Math.sign(pull.get(batch.id) ?? 0) : 0;
        values[slot] *= 1 + (side * (alone * own + together)) / 100;
      });
      const corner = solver.difference({ ...circuit, values }, freqHz.subarray(f, f + 1), output);
      if (!corner.ok) return failure('no-unique-solution', corner.data);
      into[f] = 20 * Math.log10(Math.hypot(corner.value[0], corner.value[1]));
    }
  }
  return success({ lowDb, highDb });
}
