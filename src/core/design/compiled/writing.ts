import type { OperatingPoint } from '../../analysis/rest/operating-point';
import type { VaryingSlot } from '../../analysis/tolerance/spread';
import type { ElementInstance } from '../../circuit/netlist';
import type { OpAmp } from '../../device/op-amps';
import type { Photocell } from '../../device/photocell';
import type { Bench } from '../stages/stage-design';
import type { Board } from './board';

export interface CompileOptions {
  readonly values: 'exact' | 'chosen';
  readonly devices: 'ideal' | 'real';
  /** Isolated: each stage is driven stiffly and terminated as its topology declares. */
  readonly joints: 'loaded' | 'isolated';
  /** What is left of the supply that the parts were chosen for, 1 when absent: a battery that sags. */
  readonly supplyShare?: number;
  /** `limited`: op-amps slew, and swing no further than the brief's supply lets them: what runs in time. */
  readonly opAmps?: 'small-signal' | 'limited';
  /** `left`: where devices bend, the circuit is given as it is, and its rest is not looked for. */
  readonly rest?: 'found' | 'left';
  /** A rest that cannot be far, of the same circuit with slightly other values: it is looked for from there. */
  readonly near?: OperatingPoint;
  /** `folded`: voices stand on the currents that their chains come to at rest, and the chains are not there. */
  readonly chains?: 'built' | 'folded';
  /** How warm it all is, °C; 27 where nothing is said. Resistors that rise with warmth do. */
  readonly temperatureC?: number;
  /** A board as it was built, with its parts' own values and faults. */
  readonly board?: Board;
}

/** What stands on a board, or is joined to it: a part, an op-amp, a device, a current that comes from elsewhere. */
export interface Placed {
  /** Null for the way's output resistor. */
  readonly stageId: string | null;
  readonly wayId: string;
  /** Its name in its circuit. */
  readonly part: string;
  readonly mount: 'resistor' | 'capacitor' | 'inductor' | 'potentiometer' | 'device' | 'op-amp' | 'ota' | 'off-board';
  /** What is bought for it, where its value does not say. */
  readonly bought: string | null;
  /** Its leads, and the nodes of the netlist that they are soldered to. */
  readonly leads: readonly { readonly name: string; readonly node: string }[];
}

/** A part of the circuit, and the element whose first value it is. */
export interface Owner {
  readonly element: string;
  readonly stageId: string | null;
  readonly wayId: string;
  readonly part: string;
  readonly tolerancePct: number;
  readonly batch?: VaryingSlot['batch'];
}

/** Nodes of the supply, and the sources that hold them; the middle of a single supply. */
export const RAIL_NODES = { plus: 'rail.plus', minus: 'rail.minus' } as const;
export const RAIL_SOURCES = { plus: 'Vplus', minus: 'Vminus' } as const;
export const VIRTUAL_GROUND = 'virtual-ground';

/** A netlist that is being written, as a stage sees it. */
export interface Writing {
  readonly options: CompileOptions;
  readonly brief: Bench['brief'];
  readonly photocell: Photocell;
  /** The node that stages count their signal from. */
  readonly reference: string;
  readonly elements: ElementInstance[];
  readonly merged: (readonly [string, string])[];
  readonly owners: Owner[];
  readonly placed: Placed[];
  /** Parts that are sorted to one another, by their elements. */
  readonly batches: ReadonlyMap<string, NonNullable<VaryingSlot['batch']>>;
  /** A supply rail's node, with its source the first time it is asked for. */
  rail(name: 'plus' | 'minus'): string;
  /** What a part of the board is, as a share of what it should be. */
  shareOf(element: string): number;
  /** A resistor that may be nothing: zero merges its nodes. */
  resistorOrWire(name: string, a: string, b: string, ohm: number): void;
  opAmp(name: string, plus: string, minus: string, out: string, device: OpAmp | null): void;
}
