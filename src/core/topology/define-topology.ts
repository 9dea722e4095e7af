import type { FilterResponse, SectionTarget } from '../filter/section';
import type { Result } from '../result';
import type { DesignContext } from './design-context';
import type { Drawing } from './drawing';
import type { ClosedForm, PartKind, PartValues } from './part';

export interface PartSpec {
  readonly name: string;
  readonly kind: PartKind;
  /** What it does, in a few words. */
  readonly role: string;
  /** What leaving it out means at the bench: the place stays empty, or a wire takes it. */
  readonly leaveOut: 'open' | 'short';
}

export interface GainRange {
  readonly min: number;
  /** What the circuit gives of itself, with the fewest parts. */
  readonly natural: number;
  readonly max: number;
}

/** Where a stage's netlist is written. Parts that were left out are merged or skipped here, not in the topology. */
export interface BuildContext {
  readonly response: FilterResponse;
  /** External nodes, as the environment names them; no topology writes node 0 itself. */
  readonly input: string;
  readonly output: string;
  readonly ground: string;
  readonly reference: string;
  /** A node of this stage alone. */
  node(local: string): string;
  has(part: string): boolean;
  /** Places a part between two nodes. */
  part(name: string, a: string, b: string): void;
  opAmp(name: string, plus: string, minus: string, out: string): void;
}

/** What a topology expects at a port; joints are judged against it. */
export interface Termination {
  /** Null: an open circuit (load) is what it expects. A source of 0 means a stiff one. */
  readonly ohm: number | null;
}

export interface Topology {
  /** Equal to the file's name. */
  readonly id: string;
  readonly name: string;
  /** For a card on the path: a dozen letters or so. */
  readonly shortName: string;
  readonly family: 'op-amp' | 'rc' | 'loudspeaker';
  readonly responses: readonly FilterResponse[];
  readonly order: 0 | 1 | 2;
  readonly opAmps: number;
  /** −1 when it turns the signal over. */
  readonly polarity: 1 | -1;
  readonly inputs: readonly string[];
  readonly outputs: readonly string[];
  /** Switch positions or ways to use it; the first is the default. */
  readonly modes: readonly string[];
  readonly source: Termination;
  readonly load: Termination;
  /** Why one would choose it, in a sentence. */
  readonly reason: string;
  readonly cautions: readonly string[];
  readonly sources: readonly string[];
  /** Noise gain at high frequency, for stability: what the op-amp's feedback network divides by. */
  noiseGain(response: FilterResponse, parts: PartValues): number;
  gainRange(target: Omit<SectionTarget, 'gain'>): GainRange;
  parts(response: FilterResponse): readonly PartSpec[];
  /** Exact values for a target; pinned parts come in through the context. */
  design(target: SectionTarget, context: DesignContext): Result<PartValues>;
  closedForm(response: FilterResponse, parts: PartValues): ClosedForm;
  build(context: BuildContext): void;
  /** Formulas with this design's numbers in them. */
  working(target: SectionTarget, parts: PartValues): readonly WorkingLine[];
  drawing(response: FilterResponse, parts: PartValues): Drawing;
}

export interface WorkingLine {
  readonly says: string;
  readonly formula: string;
  readonly value: string;
}
