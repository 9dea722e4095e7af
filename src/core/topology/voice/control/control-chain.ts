import type { BuildContext, ControlOutlet, PartSpec, WorkingLine } from '../../kit/define-topology';
import type { DesignContext } from '../../kit/design-context';
import type { ParameterSpec, Parameters } from '../../kit/parameter';
import type { PartValues } from '../../kit/part';
import type { Sketch } from '../../kit/drawing-blocks';

/** Volts across the ends of a jack's control, until something else is said. */
export interface JackRange {
  readonly fromVolts: number;
  readonly toVolts: number;
}

/**
 * What makes a voice's control current out of voltages: a knob, a pitch input and one for modulation with its
 * attenuator, added up, and turned into a current. It draws that out of one node; the outlet turns it to where the
 * voice takes it.
 */
export interface ControlChain {
  readonly id: string;
  readonly name: string;
  readonly reason: string;
  readonly cautions: readonly string[];
  readonly sources: readonly string[];
  /** How it is built; the first is the usual one. */
  readonly forms: readonly string[];
  readonly parameters: readonly ParameterSpec[];
  readonly opAmps: number;
  /** Outlets of voices that are usually moved by it. */
  readonly usualFor: readonly ControlOutlet['kind'][];
  /** The jack whose volts are the pitch, and the pot that is the knob. */
  readonly pitch: string;
  readonly knob: string;
  /** Pots that are turned down to begin with. */
  readonly closed: readonly string[];
  /** Resistors that stand on trimmers, in the order in which they are set. */
  readonly trimmed: readonly { readonly part: string; readonly sets: 'scale' | 'beginning' }[];
  readonly jacks: Readonly<Record<string, JackRange>>;
  /** Of junctions kept warm: at what, °C; null where they are as warm as everything. */
  heldAtC(form: string): number | null;
  parts(form: string): readonly PartSpec[];
  /**
   * Exact values.
   * @param amps what is drawn with the knob half way and nothing at the jacks, A.
   */
  design(parameters: Parameters, form: string, amps: number, context: DesignContext): PartValues;
  /** What is drawn with given parts, A: transistors without base currents, ideal op-amps. */
  amps(form: string, parts: PartValues): number;
  /** What a volt at the pitch input does: octaves, or amperes. */
  readonly law: 'octaves' | 'amperes';
  /** Places it; the current is drawn out of `drawn`. */
  build(context: BuildContext, drawn: string): void;
  working(form: string, parts: PartValues): readonly WorkingLine[];
  /** The first row of its drawing, as high as said; the port where the current is drawn is called `DRAWN`. */
  draw(form: string): { readonly pieces: Sketch; readonly height: number };
}

export const DRAWN = 'Ic';
/** Track of the knob and of the attenuator, ohm. */
export const TRACK_OHM = 10e3;

export interface Outlet extends ControlOutlet {
  /** Of OTAs: what they are called. */
  readonly names: readonly string[];
}
