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
  const m = freqHz.length;
  const plan = given ?? planElimination(structure, values, Math.sqrt(freqHz[0] * freqHz[m - 1]));
  if ('singularUnknown' in plan)
    return failure('no-unique-solution', { unknown: structure.unknowns[plan.singularUnknown] });
  const adjoint = new Adjoint(circuit, plan, weighted(output, m));
  const touching = slots.map((slot) =>
    structure.entries
      .filter((entry) => entry.slots.includes(slot))
      .map((entry) => ({ entry, slope: slopeOf(entry, values, slot) })),
  );
  // Of jωC by ω.
  const storing = structure.entries
    .filter((entry) => entry.order === 1)
    .map((entry) => ({ entry, slope: entryValue(entry, values) }));
  const response = new Float64Array(2 * m);
  const relative = slots.map(() => new Float64Array(2 * m));
  const groupDelayS = new Float64Array(m);
  for (let f = 0; f < m; f++) {
    const omega = 2 * Math.PI * freqHz[f];
    response.set(adjoint.at(f, freqHz[f]), 2 * f);
    touching.forEach((entries, p) => relative[p].set(adjoint.relative(entries, omega, values[slots[p]]), 2 * f));
    groupDelayS[f] = -adjoint.relative(storing, 1, 1)[1];
  }
  return success({ response, relative, groupDelayS });
}

/** An entry of the matrix, and how it moves with what is asked about. */
interface Moving {
  readonly entry: Entry;
  readonly slope: number;
}
type Complex = readonly [re: number, im: number];

/** The circuit and its transpose, solved at one frequency after another. */
class Adjoint {
  private readonly replay: PlanReplay;
  private readonly wanted: Float64Array;
  private readonly wantedIm: Float64Array;
  private readonly yRe: Float64Array;
  private readonly yIm: Float64Array;
  private h: Complex = [0, 0];

  constructor(
    { structure, values }: Assembled,
    plan: Plan,
    private readonly terms: readonly WeightedUnknown[],
  ) {
    this.replay = new PlanReplay(structure, plan);
    this.replay.setValues(values);
    const zeros = () => new Float64Array(structure.size);
    [this.wanted, this.wantedIm, this.yRe, this.yIm] = [zeros(), zeros(), zeros(), zeros()];
  }

  /** Solves at a frequency; the response there. */
  at(f: number, freqHz: number): Complex {
    const { replay, wanted, wantedIm } = this;
    replay.solve(freqHz);
    if (!(replay.backwardError() < 1e-12)) replay.refine();
    wanted.fill(0);
    wantedIm.fill(0);
    const { xRe, xIm } = replay;
    let [hRe, hIm] = [0, 0];
    for (const { unknown, weights } of this.terms) {
      const [re, im] = [weights[2 * f], weights[2 * f + 1]];
      wanted[unknown] += re;
      wantedIm[unknown] += im;
      hRe += re * xRe[unknown] - im * xIm[unknown];
      hIm += re * xIm[unknown] + im * xRe[unknown];
    }
    replay.solveTransposed(wanted, this.yRe, this.yIm, wantedIm);
    return (this.h = [hRe, hIm]);
  }

  /** −Σ y[row] · x[column] · slope · (1, or jω where it stores), times a value over the response. */
  relative(entries: readonly Moving[], omega: number, value: number): Complex {
    const { yRe, yIm, h } = this;
    const { xRe, xIm } = this.replay;
    let [re, im] = [0, 0];
    for (const { entry, slope } of entries) {
      const { row, column, order } = entry;
      const weight = order === 0 ? -slope : -slope * omega;
      const a = weight * (yRe[row] * xRe[column] - yIm[row] * xIm[column]);
      const b = weight * (yRe[row] * xIm[column] + yIm[row] * xRe[column]);
      re += order === 1 ? -b : a;
      im += order === 1 ? a : b;
    }
    const size = h[0] ** 2 + h[1] ** 2;
    return [((re * h[0] + im * h[1]) * value) / size, ((im * h[0] - re * h[1]) * value) / size];
  }
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
