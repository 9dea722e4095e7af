import * as z from 'zod';
import { requestOf, ofVariant, gridSchema } from '../define-job';
import type { ParameterSpec } from '../../topology/kit/parameter';
import type { SectionTarget } from '../../filter/section';
import type { PartKind, PartValues } from '../../topology/kit/part';

const deskExtras = z.object({
  /** The path with this stage's capacitors left out. */
  bareStage: z.string().nullish(),
  /** The straight-line trace of what was asked for. */
  straight: z.boolean().optional(),
  /** The chosen parts and real op-amps, no stage loading another. */
  isolated: z.boolean().optional(),
  /** The other outputs of this stage, by itself. */
  tapStage: z.string().nullish(),
});
export type DeskExtras = z.infer<typeof deskExtras>;

export const deskRequest = requestOf('desk', {
  ...ofVariant,
  ghostVariantId: z.string().nullable(),
  grid: gridSchema,
  /** Curves that are only worked out when they are looked at. */
  extras: deskExtras.optional(),
});
export type DeskRequest = z.infer<typeof deskRequest>;

/** Level (dB), phase (degrees, unwrapped) and group delay (s) over the request's grid. */
export interface Trace {
  readonly levelDb: Float64Array;
  readonly phaseDeg: Float64Array;
  readonly delayS: Float64Array;
}

/** Every mark says what it counts from: the level (dB) of the pass band, or of the peak whose edges it marks. */
export type DeskMark = { readonly freqHz: number; readonly levelDb: number; readonly referenceDb: number } & (
  | {
      readonly kind: 'cutoff';
      readonly falling: boolean;
      /** How far under the reference it lies, dB, below zero. */ readonly depthDb: number;
      /** Centre over width, of both edges of a band. */ readonly q?: number;
    }
  /** Half power under a peak that stands on a pass band: a second reading. */
  | { readonly kind: 'band-edge'; readonly falling: boolean; readonly q?: number }
  /** Asymptotic, dB/octave: negative where the level falls with frequency. */
  | { readonly kind: 'slope'; readonly slopeDbPerOctave: number }
  /** From a cutoff (Hz) to a stop limit, dB/octave; negative whichever way it goes. */
  | { readonly kind: 'transition'; readonly fromHz: number; readonly slopeDbPerOctave: number }
  | { readonly kind: 'peak'; readonly q?: number }
  | { readonly kind: 'notch' }
);

/**
 * Whether every natural mode of a circuit decays. With one that grows it oscillates (0 Hz: it runs to a rail); with one
 * that does neither it is undamped: coils and capacitors with no resistance anywhere. No small-signal figure of either
 * means anything.
 */
export interface Stability {
  readonly stable: boolean;
  readonly undamped: boolean;
  /** Frequency of the mode that does not decay, Hz. */
  readonly singsHz: number | null;
}

export interface DeskPart {
  readonly name: string;
  readonly kind: PartKind;
  readonly role: string;
  /** How far a pot in its place goes either side of its value, as a factor. */
  readonly potReach?: number;
  readonly leaveOut: 'open' | 'short';
  readonly exact: number;
  readonly chosen: number;
  readonly typed: boolean;
  readonly pinned: boolean;
  readonly leftOut: boolean;
  readonly tolerancePct: number;
  readonly given: boolean;
  /** Of a pot: the wiper's share of the track from the low end. */
  readonly wiper?: number;
}

/**
 * A circuit's own parameters: what was wanted of each, and what the chosen parts come to; and what else is worth
 * knowing.
 */
export interface DeskNetwork {
  readonly parameters: readonly (Omit<ParameterSpec, 'forms' | 'initial'> & {
    readonly wanted: number;
    readonly got: number;
    /** What exact parts would give where the controls stand; absent where none moves this circuit. */
    readonly aimed?: number;
  })[];
  readonly figures: readonly { readonly label: string; readonly kind: ParameterSpec['kind']; readonly value: number }[];
}

export interface DeskStage {
  readonly id: string;
  /** Chosen values as its formulas take them: parts, wipers, and what it rests on. */
  readonly values: PartValues;
  readonly name: string;
  readonly topology: string;
  /** The response of a section, the mode of a network. */
  readonly form: string;
  /** Null for circuits with parameters of their own. */
  readonly target: SectionTarget | null;
  readonly network: DeskNetwork | null;
  /** Frequencies (Hz) it is about. */
  readonly cornersHz: readonly number[];
  readonly bypassed: boolean;
  readonly retuned: boolean;
  /**
   * What the chosen parts and the real op-amp come to, from the circuit's own poles; null where the circuit has none.
   */
  readonly got: { readonly freqHz: number | null; readonly q: number | null; readonly gainDb: number | null };
  readonly glyph: { readonly freqHz: Float64Array; readonly levelDb: Float64Array | null };
  readonly parts: readonly DeskPart[];
  /** What its parts and devices are called in the whole variant, by their names in the circuit. */
  readonly designators: Readonly<Record<string, string>>;
}

/** The joint before stage `index` (or, past the last, at the load). */
export interface DeskJoint {
  readonly index: number;
  /** Worst change of level (dB) in the pass band, loaded against terminated as declared, and where. */
  readonly lossDb: number;
  readonly atHz: number;
  /** Size of the impedance it drives there, ohm; null when nothing is connected. */
  readonly seesOhm: number | null;
  /** Size of the impedance it is driven from there, ohm. */
  readonly fromOhm: number;
  readonly verdict: 'ok' | 'warn' | 'bad';
}

export interface BriefVerdict {
  readonly limitId: string;
  readonly met: boolean;
  /** Room left at the worst place, dB; negative when missed. */
  readonly byDb: number;
  readonly atHz: number;
}

export type CheckLevel = 'ok' | 'warn' | 'bad';

/** A finding as facts; the interface words it. `stageId` says where it stands. */
/** What is checked of a path and its stages. */
export type PathCheckCode =
  | 'brief-met'
  | 'brief-missed'
  | 'gain-short'
  | 'gain-surplus'
  | 'joint-load'
  | 'joint-source'
  | 'joint'
  | 'not-stable'
  | 'stable'
  | 'beyond-reach'
  | 'bandwidth'
  | 'sings'
  | 'undamped'
  | 'latches'
  | 'supply-short'
  | 'rests-at-rail'
  | 'no-room'
  | 'swing'
  | 'slew'
  | 'off-target'
  | 'resistor-low'
  | 'resistor-high'
  | 'capacitor-small'
  | 'capacitor-large'
  | 'range';
/** What is checked of a crossover. */
export type SpeakerCheckCode =
  | 'load-low'
  | 'load-fine'
  | 'sum-flat'
  | 'sum-aligned'
  | 'ways-oppose'
  | 'ways-in-step'
  | 'phases-mixed'
  | 'too-hot'
  | 'core-full'
  | 'cone-far'
  | 'safe-band';
export type CheckCode = PathCheckCode | SpeakerCheckCode;

export interface Check {
  readonly id: string;
  readonly level: CheckLevel;
  readonly code: CheckCode;
  readonly stageId: string | null;
  readonly data: Readonly<Record<string, string | number>>;
  /** What would mend it, if the desk can do it at a click. */
  readonly cure: Cure | null;
  /** What else would help. */
  readonly others?: readonly Cure[];
}

export type Cure =
  | { readonly kind: 'set-output-resistor'; readonly ohm: number }
  | { readonly kind: 'insert-buffer'; readonly joint: number }
  | {
      readonly kind: 'insert-follower';
      readonly joint: number;
      readonly loadOhm: number;
      readonly emitterVolts: number;
    }
  | { readonly kind: 'use-form'; readonly stageId: string; readonly form: string }
  | { readonly kind: 'use-topology'; readonly stageId: string; readonly topology: string }
  /** Change a driver's terminals over. */
  | { readonly kind: 'turn-over'; readonly wayId: string }
  | { readonly kind: 'use-device'; readonly stageId: string; readonly device: string }
  /** Factors for where the stage's parts are aimed. */
  | { readonly kind: 'predistort'; readonly stageId: string; readonly freq: number; readonly q: number };

export interface DeskResult {
  readonly variantId: string;
  readonly freqHz: Float64Array;
  readonly asBuilt: Trace;
  readonly ideal: Trace;
  readonly ghost: Trace | null;
  /** Without the capacitors of one stage. */
  readonly bare: (Trace & { readonly stageId: string }) | null;
  readonly isolated: Trace | null;
  readonly straightDb: Float64Array | null;
  /** What a stage gives at its other outputs, fed by all that stands before it. */
  readonly taps: readonly (Trace & { readonly name: string })[];
  /**
   * Each nuisance's level at the output, dB re the signal at the source: as built, and with the capacitors of the stage
   * in hand left out.
   */
  readonly nuisances: readonly { readonly id: string; readonly levelDb: number; readonly bareDb: number | null }[];
  /**
   * Pass-band gain asked for, and where the pass band as built lies, dB: its plateau, or its peak. Marks and limits
   * count from the latter.
   */
  readonly askedDb: number;
  readonly passLevelDb: number;
  readonly passLevelOf: 'pass-band' | 'peak';
  readonly stability: Stability;
  readonly marks: readonly DeskMark[];
  readonly handles: readonly { readonly planId: string; readonly freqHz: number; readonly levelDb: number }[];
  readonly stages: readonly DeskStage[];
  readonly joints: readonly DeskJoint[];
  readonly brief: readonly BriefVerdict[];
  readonly checks: readonly Check[];
  readonly shortfallDb: number;
  /** Null where nothing says what the pass band should be, or the circuit oscillates. */
  readonly worstErrorDb: number | null;
  readonly supplyAmps: number;
}
