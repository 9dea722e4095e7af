import type { Assembled } from '../../circuit/structure';
import type { AcSolver } from '../../analysis/solver';
import type { Compilation } from '../../design/compile';
import { planElimination, type Plan } from '../../analysis/plan';
import { sensitivity, type Sensitivity } from '../../analysis/sensitivity';
import { residualsOf, slopesOf, weighed, type Observation } from '../../measure/observation';
import type { Belief, Residuals, Slopes } from '../../measure/posterior';
import { smallSignalWith } from '../reading/built-variant';
import { responseAt, type Probe } from './probes';

/** One number of a board that is not known to the last digit: a part’s value, as the logarithm of its share. */
export interface BoardPart {
  /** `stage.part`, or the batch that parts have in common. */
  readonly element: string;
  readonly slots: readonly number[];
  readonly belief: Belief;
  /** What it is chosen to be; NaN for what a batch has in common. */
  readonly value: number;
}

export interface Seen {
  readonly probe: Probe;
  readonly curve: Observation;
  /** Its level and delay are of whatever it was recorded with: no card was divided out. */
  readonly uncalibrated: boolean;
}

/** A spread that is even from end to end has this of its half width for standard deviation. */
const EVEN = 1 / Math.sqrt(3);
/** Loosest and tightest that a part is believed to be, as a share. */
const LEAST_TOLERANCE = 1e-4;

/** The parts of a compiled variant and what is believed of them: within their tolerances, batches going together. */
function partsOf({ parts, circuit }: Pick<Compilation, 'parts' | 'circuit'>): BoardPart[] {
  const found = new Map<string, { slots: number[]; share: number; batch: Compilation['parts'][number]['batch'] }>();
  for (const { stageId, wayId, part, slot, tolerancePct, batch } of parts) {
    const element = `${stageId ?? wayId}.${part}`;
    const known = found.get(element);
    if (known) known.slots.push(slot);
    else found.set(element, { slots: [slot], share: Math.max(LEAST_TOLERANCE, tolerancePct / 100), batch });
  }
  const believed = (most: number): Belief => ({ centre: 0, sigma: most * EVEN, most });
  const batches = new Map<string, { slots: number[]; share: number }>();
  const own = [...found].map(([element, { slots, share, batch }]): BoardPart => {
    const alone =
      batch && slots.length === 1 ? Math.max(LEAST_TOLERANCE, Math.min(share, batch.matchPct / 100)) : share;
    if (batch && slots.length === 1) {
      const together = batches.get(batch.id) ?? { slots: [], share: Math.max(LEAST_TOLERANCE, share - alone) };
      together.slots.push(slots[0]);
      batches.set(batch.id, together);
    }
    const value = slots.reduce((sum, slot) => sum + circuit.values[slot], 0);
    return { element, slots, belief: believed(alone), value };
  });
  return [
    ...own,
    ...[...batches].map(([id, { slots, share }]): BoardPart => ({
      element: id,
      slots,
      belief: believed(share),
      value: NaN,
    })),
  ];
}

/** ln of how far the level of a card that was divided out may be off, and of one that nothing is known of. */
const LEVEL_KNOWN = 0.002;
const LEVEL_UNKNOWN = 1.5;
/** Delays are counted in this many seconds; how far one may be off where the card was divided out, and where not. */
const DELAY_UNIT_S = 1e-5;
const DELAY_KNOWN = 0.005;
const DELAY_UNKNOWN = 20;

/**
 * What a board with its parts somewhere would give at every place that was measured. The state: the logarithm of each
 * part's share, then for each observation that of its level, and its delay.
 */
export class BoardModel {
  readonly parts: readonly BoardPart[];
  readonly beliefs: readonly Belief[];

  constructor(
    private readonly built: Compilation,
    private readonly seen: readonly Seen[],
    private readonly solver: AcSolver,
    parts?: readonly BoardPart[],
  ) {
    this.parts = parts ?? partsOf(built);
    this.beliefs = [
      ...this.parts.map((p) => p.belief),
      ...seen.flatMap(({ uncalibrated }): Belief[] => [
        { centre: 0, sigma: uncalibrated ? LEVEL_UNKNOWN : LEVEL_KNOWN },
        { centre: 0, sigma: uncalibrated ? DELAY_UNKNOWN : DELAY_KNOWN },
      ]),
    ];
  }

  indexOf(element: string): number {
    return this.parts.findIndex((p) => p.element === element);
  }

  /** Where a fit begins: these numbers by their elements, all others as they are believed to be. */
  startAt(
    start: ReadonlyMap<string, number>,
    believed: Float64Array = Float64Array.from(this.beliefs, (b) => b.centre),
  ): Float64Array {
    const state = believed.slice();
    for (const [element, value] of start) state[this.indexOf(element)] = value;
    return state;
  }

  /** Response at a probe, re and im by turns; null where the board has none. */
  response(state: Float64Array, probe: Probe, freqHz: Float64Array): Float64Array | null {
    const circuit = this.circuitAt(state);
    const found = circuit && responseAt(circuit, probe, freqHz, this.solver);
    return found?.ok ? found.value : null;
  }

  /** What is left of all that was seen, in standard deviations. */
  residuals(shareOff: number): Residuals {
    const held = this.seen.map((s) => weighed(s.curve, shareOff));
    return (state) => {
      const circuit = this.circuitAt(state);
      if (!circuit) return null;
      const left: number[] = [];
      for (const [k, { probe, curve }] of this.seen.entries()) {
        const found = responseAt(circuit, probe, curve.freqHz, this.solver);
        if (!found.ok) return null;
        residualsOf(held[k], this.recorded(found.value, curve.freqHz, state, k), left);
      }
      return Float64Array.from(left);
    };
  }

  /** A response as it comes out of the k-th recording: louder or later than it is. */
  private recorded(response: Float64Array, freqHz: Float64Array, state: Float64Array, k: number): Float64Array {
    const at = this.parts.length + 2 * k;
    if (state[at] === 0 && state[at + 1] === 0) return response;
    const [gain, late] = [Math.exp(state[at]), state[at + 1] * DELAY_UNIT_S];
    const out = new Float64Array(response.length);
    freqHz.forEach((f, i) => {
      const angle = -2 * Math.PI * f * late;
      const [re, im] = [gain * Math.cos(angle), gain * Math.sin(angle)];
      out[2 * i] = response[2 * i] * re - response[2 * i + 1] * im;
      out[2 * i + 1] = response[2 * i] * im + response[2 * i + 1] * re;
    });
    return out;
  }

  /** How they move with every number of the state; null where devices bend, whose rest moves too. */
  slopes(shareOff: number): Slopes {
    const held = this.seen.map((s) => weighed(s.curve, shareOff));
    return (state) => {
      if (this.built.live) return null;
      const circuit = this.circuitAt(state);
      if (!circuit) return null;
      const slots = this.parts.flatMap((p) => p.slots);
      const all: number[][] = this.beliefs.map(() => []);
      for (const [k, { probe, curve }] of this.seen.entries()) {
        const moved = this.sensitivities(circuit, probe.terms, curve.freqHz, slots);
        if (!moved) return null;
        const response = this.recorded(moved.response, curve.freqHz, state, k);
        let slot = 0;
        this.parts.forEach((part, p) => {
          const relative = new Float64Array(response.length);
          for (let s = 0; s < part.slots.length; s++, slot++)
            for (let i = 0; i < relative.length; i++) relative[i] += moved.relative[slot][i];
          slopesOf(held[k], response, relative, all[p]);
        });
        this.seen.forEach((_, other) => {
          const own = other === k ? 1 : 0;
          const louder = response.map((__, i) => (i % 2 === 0 ? own : 0));
          const later = response.map((__, i) =>
            i % 2 === 0 ? 0 : -own * 2 * Math.PI * curve.freqHz[(i - 1) / 2] * DELAY_UNIT_S,
          );
          slopesOf(held[k], response, louder, all[this.parts.length + 2 * other]);
          slopesOf(held[k], response, later, all[this.parts.length + 2 * other + 1]);
        });
      }
      return all.map((column) => Float64Array.from(column));
    };
  }

  private sensitivities(
    circuit: Assembled,
    terms: Probe['terms'],
    freqHz: Float64Array,
    slots: readonly number[],
  ): Sensitivity | null {
    const { structure } = circuit;
    const plan = this.planOf(circuit, freqHz);
    if (!plan) return null;
    const output = terms.flatMap(({ node, ground, weights }) => {
      const by =
        weights?.(freqHz) ??
        freqHz.reduce((all, _, i) => all.fill(1, 2 * i, 2 * i + 1), new Float64Array(2 * freqHz.length));
      return [
        { unknown: structure.nodeOf(node) ?? -1, weights: by },
        { unknown: structure.nodeOf(ground) ?? -1, weights: by.map((v) => -v) },
      ];
    });
    const found = sensitivity(circuit, freqHz, output, slots, plan);
    return found.ok ? found.value : null;
  }

  private plan: Plan | null = null;

  private planOf({ structure }: Assembled, freqHz: Float64Array): Plan | null {
    if (this.plan) return this.plan;
    const middle = Math.sqrt(freqHz[0] * freqHz[freqHz.length - 1]);
    const made = planElimination(structure, this.built.circuit.values, middle);
    return 'singularUnknown' in made ? null : (this.plan = made);
  }

  private circuitAt(state: Float64Array): Assembled | null {
    const values = this.built.circuit.values.slice();
    this.parts.forEach(({ slots }, p) => {
      if (state[p] === 0) return;
      const share = Math.exp(state[p]);
      for (const slot of slots) values[slot] *= share;
    });
    const circuit = smallSignalWith(this.built, values);
    return circuit.ok ? circuit.value : null;
  }
}
