import type { ElementDefinition } from '../../circuit/element';
import type { SourceValue } from '../../circuit/netlist';
import type { Photocell } from '../../device/photocell';
import type { Arm } from './arm';
import type { Rational } from '../../filter/rational';
import type { FilterResponse, SectionTarget } from '../../filter/section';
import type { Result } from '../../result';
import type { QuantityKind } from '../../units/quantity';
import type { DesignContext } from './design-context';
import type { Drawing } from './drawing';
import type { ParameterSpec, Parameters } from './parameter';
import type { ClosedForm, PartKind, PartValues } from './part';

/** Where a voice takes its control current: at the pins of OTAs, out of a node, or into nodes. */
export interface ControlOutlet {
  readonly kind: 'pins' | 'sink' | 'source';
  readonly count: number;
}

export interface PartSpec {
  readonly name: string;
  readonly kind: PartKind;
  /** What it does, in a few words. */
  readonly role: string;
  /** What leaving it out means at the bench: the place stays empty, or a wire takes it. */
  readonly leaveOut: 'open' | 'short';
  /** It comes with what is connected (a cable, an input): it counts, but is not bought, chosen or left out. */
  readonly given?: boolean;
  /** Of a capacitor: so large that the signal sees a wire. */
  readonly couples?: boolean;
  /** How far a pot in its place goes either side of its value, as a factor; ten where nothing is said. */
  readonly potReach?: number;
  /** How it rises with warmth, parts in a million a degree; absent: not at all. */
  readonly perDegreePpm?: number;
  /** Of a pot: what turns it, where that is not a knob. */
  readonly turnedBy?: 'pedal';
}

export interface GainRange {
  readonly min: number;
  /** What the circuit gives of itself, with the fewest parts. */
  readonly natural: number;
  readonly max: number;
}

/** Where a stage's netlist is written. Parts that were left out are merged or skipped here, not in the topology. */
export interface BuildContext<Form extends string = string> {
  readonly form: Form;
  /** External nodes, as the environment names them; no topology writes node 0 itself. */
  readonly input: string;
  readonly output: string;
  readonly ground: string;
  readonly reference: string;
  /** What the sleeves of jacks are joined to: ground, or the minus of one supply. */
  readonly common: string;
  /** A node of this stage alone. */
  node(local: string): string;
  has(part: string): boolean;
  /** Places a part between two nodes. */
  part(name: string, a: string, b: string): void;
  /** Places a pot: its track from the end where it is turned down to the end where it is turned up, and the wiper. */
  pot(name: string, low: string, wiper: string, high: string): void;
  opAmp(name: string, plus: string, minus: string, out: string): void;
  /** A transconductance amplifier on the control current. */
  ota(name: string, plus: string, minus: string, out: string): void;
  /** The control current from one node to another; `copy` names those after the first. */
  current(name: string, from: string, to: string, copy?: string): void;
  /** A jack at which a control voltage comes in, against its sleeve. */
  jack(name: string, tip: string, sleeve: string): void;
  /** Value of a part as it is taken, for what is built of it: a device's control current. */
  value(name: string): number;
  /** Supply rails; of a single supply, half of it to either side of the reference. */
  readonly plus: string;
  readonly minus: string;
  /** What faces a lamp. */
  readonly cell: Photocell;
  /** Devices without faults of their own are wanted. */
  readonly ideal: boolean;
  /** kT/q where it stands, V. */
  readonly thermalVolts: number;
  /** Joins two nodes: a circuit that only stands across the signal passes it on. */
  wire(a: string, b: string): void;
  /** Places what is neither part nor op-amp: a source, a coupling. */
  element(
    name: string,
    definition: ElementDefinition,
    nodes: readonly string[],
    values: readonly number[],
    source?: SourceValue,
  ): void;
}

/** What a topology expects at a port; joints are judged against it. */
export interface Termination {
  /** Null: an open circuit (load) is what it expects. A source of 0 means a stiff one. */
  readonly ohm: number | null;
}

/**
 * What both kinds of circuit declare. A circuit comes in forms: the responses of a section, the modes of a network; the
 * first is the default.
 */
interface Circuit<Form extends string> {
  /** Equal to the file's name. */
  readonly id: string;
  readonly name: string;
  /** For a card on the path: a dozen letters or so. */
  readonly shortName: string;
  /** What else it is called, and what one would look for it by. */
  readonly words: readonly string[];
  /** Of what stands in a crossover's way: the way it is mostly put in; the lowest when absent. */
  readonly usualWay?: 'highest';
  readonly family: 'op-amp' | 'rc' | 'loudspeaker' | 'voltage-controlled';
  /** −1 when it turns the signal over. */
  readonly polarity: 1 | -1 | ((form: Form) => 1 | -1);
  readonly inputs: readonly string[];
  readonly outputs: readonly string[];
  /** Switch positions or ways to use it. */
  readonly modes: readonly string[];
  readonly source: Termination;
  /** Why one would choose it, in a sentence. */
  readonly reason: string;
  readonly cautions: readonly string[];
  readonly sources: readonly string[];
  /** How many op-amps it takes. */
  opAmps(form: Form): number;
  parts(form: Form): readonly PartSpec[];
  build(context: BuildContext<Form>): void;
  drawing(form: Form, parts: PartValues): Drawing;
}

/** A circuit that can stand for a section of a plan: it has a cutoff, a Q, a gain, and nothing else to ask for. */
export interface SectionTopology extends Circuit<FilterResponse> {
  readonly role: 'section';
  readonly responses: readonly FilterResponse[];
  readonly order: 0 | 1 | 2;
  readonly load: Termination;
  gainRange(target: Omit<SectionTarget, 'gain'>): GainRange;
  /** Exact values for a target; pinned parts come in through the context. */
  design(target: SectionTarget, context: DesignContext): Result<PartValues>;
  closedForm(response: FilterResponse, parts: PartValues): ClosedForm;
  /** Formulas with this design's numbers in them. */
  working(target: SectionTarget, parts: PartValues): readonly WorkingLine[];
  /** Outputs it has besides, by what they give: nodes of the stage's own; null where it is the stage's output. */
  taps?(form: FilterResponse): readonly { readonly name: string; readonly node: string | null }[];
  /** What tunes it alone, its Q and its gain left as they are, where there is such a part. */
  readonly tuning?: Tuning;
  /**
   * What it is as a block diagram, in the order of the signal: each block and the parts that make it. The blocks
   * in the loop lead from one to the next, the last back to the first.
   */
  blocks?(form: FilterResponse): readonly TopologyBlock[];
}

/** A resistor that moves a section's frequency and nothing else. */
export interface Tuning {
  readonly part: string;
  /** Its value (ohm) for a frequency (Hz), the others as they are; not a resistance where there is none. */
  ohmFor(parts: PartValues, freqHz: number): number;
  /** Parts that may be changed with it to find the level, the frequency staying. */
  readonly levelsWith: string;
}

/** A block of a block diagram, and the parts it is made of. */
export interface TopologyBlock {
  /** `back`: what leads a middle output back to the first block; `after`: what stands beyond the loop. */
  readonly place?: 'back' | 'after';
  readonly name: string;
  readonly says: string;
  readonly parts: readonly string[];
}

export interface FigureSpec {
  readonly label: string;
  readonly kind: QuantityKind;
  of(form: string, parts: PartValues, parameters: Parameters): number;
}

/** A circuit with questions of its own: it stands on the path beside the plans, and is asked for its own parameters. */
export interface NetworkTopology extends Circuit<string> {
  readonly role: 'network';
  readonly parameters: readonly ParameterSpec[];
  /** It is moved by a current, and this is where it takes it. */
  readonly outlet?: (form: string) => ControlOutlet;
  /** What the control current (A) comes to with the parts that make it; absent where nothing in the circuit does. */
  readonly controlAmps?: (form: string, parts: PartValues) => number;
  /** What it is to be terminated with. */
  load(parameters: Parameters): Termination;
  /** Exact values for a set of parameters; pinned parts come in through the context. */
  design(parameters: Parameters, form: string, context: DesignContext): Result<PartValues>;
  /** What the parameters come to with given parts, ideal op-amp, source and load as declared. */
  measures(form: string, parts: PartValues, parameters: Parameters): Parameters;
  /** What else is worth knowing of given parts, though it is not asked for. */
  readonly figures?: readonly FigureSpec[];
  /** Transfer function with given parts, ideal op-amp, source and load as declared, where the textbook has one. */
  transfer?(form: string, parts: PartValues, parameters: Parameters): Rational;
  working(form: string, parts: PartValues, parameters: Parameters): readonly WorkingLine[];
  /** Its rest, and so its values, depend on the supply: its part values carry it under `SUPPLY`. */
  readonly supplied?: boolean;
  /** What a new design of it runs on, V of one supply, where that is usual; absent: the bench's two rails. */
  readonly usualSupplyVolts?: number;
  /** It has a lit cell: its part values carry the cell’s resistance under `CELL`. */
  readonly celled?: boolean;
  /** Forms whose figures count from their peak: what passes a band, though it lies flat somewhere besides. */
  readonly readAtPeak?: (form: string) => boolean;
  /** Frequencies (Hz) it is about, where its parameters do not say. */
  readonly cornersHz?: readonly number[];
  /** Parts that say how near it is to singing: the loop's gain rises with the reciprocal of the first that is there. */
  readonly resonance?: (form: string) => string;
  /** The part in line at the input: less of it, more level. */
  readonly levelPart?: (form: string) => string;
  /**
   * A loop of its own: the part through which the signal comes back, the node (`out`, or its own) that drives it, and
   * the nodes that the signal passes on its way round.
   */
  readonly loop?: (
    form: string,
  ) => { readonly part: string; readonly drivenBy: string; readonly path: readonly string[] } | null;
  /** A form that does at once what two others do. */
  readonly combines?: { readonly whole: string; readonly of: readonly [string, string] };
  /** Parts that the textbook's formulas leave out, by name: what that costs is shown with the forms. */
  readonly neglected?: readonly string[];
  /** An amplifier of Rf and Ri whose gain capacitors shape into shelves: its corners are worked out and asked for. */
  readonly shelved?: boolean;
  /** A stage of one transistor, whose input is mended by a bootstrap or by a follower before it. */
  readonly oneTransistor?: boolean;
  /** The rungs it is built of, where it is a ladder: for laying it out on a board. */
  readonly arms?: (form: string) => readonly Arm[];
  /**
   * Outputs that are not against ground, by name: a driver hangs between two nodes of the stage (`in`, `out` or its
   * own).
   */
  readonly hanging?: (form: string) => Readonly<Record<string, { readonly plus: string; readonly minus: string }>>;
}

/** Whether a circuit turns the signal over in a form. */
export const polarityOf = (topology: Topology, form: string): 1 | -1 =>
  typeof topology.polarity === 'function' ? (topology.polarity as (form: string) => 1 | -1)(form) : topology.polarity;

export type Topology = SectionTopology | NetworkTopology;

/** The parameters that count in a form. */
export const parametersOf = (topology: NetworkTopology, form: string): readonly ParameterSpec[] =>
  topology.parameters.filter((p) => !p.forms || p.forms.includes(form));

export interface WorkingLine {
  readonly says: string;
  /**
   * The formula as TeX; part names as subscripts (`R_1`, `C_{1b}`), so that this design's numbers can be put in their
   * place.
   */
  readonly tex: string;
  readonly value: string;
}
