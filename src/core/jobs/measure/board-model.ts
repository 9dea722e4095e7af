import type { Assembled } from '../../circuit/structure';
import type { AcSolver } from '../../analysis/ac/solver';
import type { Compilation } from '../../design/compiled/compile';
import { planElimination, type Plan } from '../../analysis/elimination/plan';
import { sensitivity, type Sensitivity } from '../../analysis/tolerance/sensitivity';
import { residualsOf, slopesOf, weighed, type Observation } from '../../measure/observation';
import { within, type Belief, type Residuals, type Slopes } from '../../measure/posterior';
import { circuitWith, type BuiltVariant, type MovedCircuit } from '../reading/built-variant';
import { responseAt, type Probe } from './probes';
import { restVolts } from './rest-volts';
import type { Brief } from '../../design/document/schema';

/** One number of a board that is not known to the last digit: a part’s value, as the logarithm of its share. */
export interface BoardPart {
  /** `stage.part`, or the batch that parts have in common. */
  readonly element: string;
  /** Elements of a batch. */
  readonly members: readonly string[];
  readonly belief: Belief;
  /** What it is chosen to be; NaN for what a batch has in common. */
  readonly value: number;
}

export interface Seen {
  readonly probe: Probe;
  /** The circuit as it stood: its controls, outputs and modes. */
  readonly built: BuiltVariant;
  readonly curve: Observation;
  /** Its level and delay are of whatever it was recorded with: no card was divided out. */
  readonly uncalibrated: boolean;
  /** A delay was taken off its phase: what is left of it is not known. */
  readonly late?: boolean;
}

/** A meter's reading at rest, V from ground. */
export interface Read {
  readonly node: string;
  readonly built: BuiltVariant;
  readonly volts: number;
}

/** Loosest and tightest that a part is believed to be, as a share. */
const LEAST_TOLERANCE = 1e-4;

/** The parts of a variant, however it stood, and what is believed of them: within tolerances, batches together. */
function partsOf(builts: readonly Compilation[]): BoardPart[] {
  const found = new Map<string, { share: number; batch: Compilation['parts'][number]['batch']; value: number }>();
  for (const { parts, circuit } of builts) {
    const known = new Set(found.keys());
    for (const part of parts) {
      const element = elementOf(part);
      if (known.has(element)) continue;
      const share = Math.max(LEAST_TOLERANCE, part.tolerancePct / 100);
      const value = (found.get(element)?.value ?? 0) + circuit.values[part.slot];
      found.set(element, { share, batch: found.has(element) ? undefined : part.batch, value });
    }
  }
  const batches = new Map<string, { members: string[]; share: number }>();
  const own = [...found].map(([element, { share, batch, value }]): BoardPart => {
    const alone = batch ? Math.max(LEAST_TOLERANCE, Math.min(share, batch.matchPct / 100)) : share;
    if (batch) {
      const together = batches.get(batch.id) ?? { members: [], share: Math.max(LEAST_TOLERANCE, share - alone) };
      together.members.push(element);
      batches.set(batch.id, together);
    }
    return { element, members: [element], belief: within(alone), value };
  });
  return [
    ...own,
    ...[...batches].map(([id, { members, share }]): BoardPart => ({
      element: id,
      members,
      belief: within(share),
      value: NaN,
    })),
  ];
}

const elementOf = ({ stageId, wayId, part }: Compilation['parts'][number]): string => `${stageId ?? wayId}.${part}`;

/** ln of how far the level of a card that was divided out may be off, and of one that nothing is known of. */
const LEVEL_KNOWN = 0.002;
const LEVEL_UNKNOWN = 1.5;
/**
 * Delays are counted in this many seconds; how far one may be off where the card was divided out (a sample or so
 * between
 * two recordings), and where not.
 */
const DELAY_UNIT_S = 1e-5;
const DELAY_KNOWN = 3;
const DELAY_UNKNOWN = 20;
/** States whose numbers differ by less than this rest near one another: one step of a fit. */
const NEAR = 1.1;

/**
 * What a board with its parts somewhere would give at every place that was measured. The state: the logarithm of each
 * part's share, then for each observation that of its level, and its delay.
 */
export class BoardModel {
  readonly parts: readonly BoardPart[];
  readonly beliefs: readonly Belief[];
  private readonly slotsIn = new Map<Compilation, readonly (readonly number[])[]>();
  private readonly plans = new Map<Compilation, Plan | null>();
  private readonly rests = new Map<Compilation, { readonly state: Float64Array; readonly rest: Float64Array }>();
  private last: { readonly state: Float64Array; readonly moved: Map<Compilation, MovedCircuit | null> } | null = null;

  /**
   * @param built as the variant stands now. @param meter what was read at rest.
   * @param dead element of an op-amp that does nothing in these circuits.
   */
  constructor(
    private readonly built: Compilation,
    readonly seen: readonly Seen[],
    private readonly solver: AcSolver,
    private readonly meter: { readonly brief: Brief; readonly read: readonly Read[] } | null = null,
    parts?: readonly BoardPart[],
    private readonly dead: string | null = null,
  ) {
    const builts = [...seen.map((s) => s.built), ...(meter?.read ?? []).map((r) => r.built), built];
    this.parts = parts ?? partsOf([...new Set(builts)]);
    this.beliefs = [
      ...this.parts.map((p) => p.belief),
      ...seen.flatMap(({ uncalibrated, late }): Belief[] => [
        { centre: 0, sigma: uncalibrated ? LEVEL_UNKNOWN : LEVEL_KNOWN },
        { centre: 0, sigma: uncalibrated || late ? DELAY_UNKNOWN : DELAY_KNOWN },
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

  /** Response at a place, re and im by turns; null where the board has none. */
  response(
    state: Float64Array,
    { probe, built = this.built }: { readonly probe: Probe; readonly built?: Compilation },
    freqHz: Float64Array,
  ): Float64Array | null {
    const circuit = this.circuitAt(state, built)?.small;
    const found = circuit && responseAt(circuit, probe, freqHz, this.solver);
    return found?.ok ? found.value : null;
  }

  /** What is left of all that was seen, in standard deviations; and of what a meter read, where anything bends. */
  residuals(shareOff: number): Residuals {
    const held = this.seen.map((s) => weighed(s.curve, shareOff));
    return (state) => {
      const left: number[] = [];
      for (const [k, { probe, built, curve }] of this.seen.entries()) {
        const circuit = this.circuitAt(state, built);
        const found = circuit && responseAt(circuit.small, probe, curve.freqHz, this.solver);
        if (!found?.ok) return null;
        residualsOf(held[k], this.recorded(found.value, curve.freqHz, state, k), left);
      }
      const rest = this.restOf(state, (built) => built.live !== null);
      if (!rest) return null;
      left.push(...rest.map(({ off, sigma }) => off / sigma));
      return Float64Array.from(left);
    };
  }

  /**
   * ln of the likelihood of what a meter read at a state, beyond what the residuals have of it: where nothing bends all
   * of it, else how widely it could have been.
   */
  logOfReadings(state: Float64Array): number {
    const rest = this.restOf(state);
    if (!rest) return -Infinity;
    return rest.reduce((sum, { off, sigma, live }) => sum - Math.log(sigma) - (live ? 0 : (off / sigma) ** 2 / 2), 0);
  }

  /** How far every reading lies off, V, and its standard deviation; null where the board does not rest. */
  restOf(
    state: Float64Array,
    wanted: (built: Compilation) => boolean = () => true,
  ): { off: number; sigma: number; live: boolean }[] | null {
    if (!this.meter) return [];
    const all: { off: number; sigma: number; live: boolean }[] = [];
    const { brief, read } = this.meter;
    for (const built of new Set(read.map((r) => r.built))) {
      if (!wanted(built)) continue;
      const moved = this.circuitAt(state, built);
      if (!moved) return null;
      const own = read.filter((r) => r.built === built);
      const nodes = own.map((r) => r.node);
      restVolts(built, brief, moved, nodes, this.dead).forEach(({ volts, sigma }, k) =>
        all.push({ off: volts - own[k].volts, sigma, live: moved.rest !== null }),
      );
    }
    return all;
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
      const all: number[][] = this.beliefs.map(() => []);
      for (const [k, { probe, built, curve }] of this.seen.entries()) {
        const slots = this.slotsOf(built);
        const circuit = this.circuitAt(state, built)?.small;
        const moved = circuit && this.sensitivities(circuit, built, probe.terms, curve.freqHz, slots.flat());
        if (!moved) return null;
        const response = this.recorded(moved.response, curve.freqHz, state, k);
        let slot = 0;
        slots.forEach((own, p) => {
          const relative = new Float64Array(response.length);
          for (let s = 0; s < own.length; s++, slot++)
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
    built: Compilation,
    terms: Probe['terms'],
    freqHz: Float64Array,
    slots: readonly number[],
  ): Sensitivity | null {
    const { structure } = circuit;
    const plan = this.planOf(circuit, built, freqHz);
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

  private planOf({ structure }: Assembled, built: Compilation, freqHz: Float64Array): Plan | null {
    const known = this.plans.get(built);
    if (known !== undefined) return known;
    const middle = Math.sqrt(freqHz[0] * freqHz[freqHz.length - 1]);
    const made = planElimination(structure, built.circuit.values, middle);
    const plan = 'singularUnknown' in made ? null : made;
    this.plans.set(built, plan);
    return plan;
  }

  /** Slots of every number of the state in a circuit: none where a part is not in it. */
  private slotsOf(built: Compilation): readonly (readonly number[])[] {
    const known = this.slotsIn.get(built);
    if (known) return known;
    const made = this.parts.map(({ members }) =>
      built.parts.filter((part) => members.includes(elementOf(part))).map((part) => part.slot),
    );
    this.slotsIn.set(built, made);
    return made;
  }

  /** A circuit with its parts somewhere; null where it has no rest. */
  private circuitAt(state: Float64Array, built: Compilation): MovedCircuit | null {
    if (this.last?.state !== state) this.last = { state, moved: new Map() };
    const { moved } = this.last;
    const known = moved.get(built);
    if (known !== undefined) return known;
    const values = built.circuit.values.slice();
    this.slotsOf(built).forEach((slots, p) => {
      if (state[p] === 0) return;
      const share = Math.exp(state[p]);
      for (const slot of slots) values[slot] *= share;
    });
    // A fit goes by small steps: where it rested last is near where it rests now, or the step is too long.
    const last = this.rests.get(built);
    const near = last && state.every((v, i) => Math.abs(v - last.state[i]) < NEAR);
    const circuit = circuitWith(built, values, near ? last.rest : undefined);
    const found = circuit.ok ? circuit.value : null;
    moved.set(built, found);
    if (found?.rest) this.rests.set(built, { state, rest: found.rest });
    return found;
  }
}
