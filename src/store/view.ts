import { create } from 'zustand';
import type { WaveId } from '@/core/analysis/time/periodic-waves';
import type { Span } from '@/core/math/grid';
import type { Reading } from '@/core/format/schematic-shapes';
import type { ShapingGoal } from '@/core/jobs/network/shaping';

export const TASKS = ['brief', 'circuit', 'values', 'spread', 'build', 'measure', 'listen', 'log'] as const;
export type Task = (typeof TASKS)[number];
export const CURVE_VIEWS = ['response', 'delay', 'step', 'wave', 'four', 'impedance', 'difference', 'sheet'] as const;
/** What is looked at of a crossover: what is heard and driven first, then each way's own voltage. */
export const SPEAKER_VIEWS = [
  'ways',
  'load',
  'angles',
  'decay',
  'response',
  'delay',
  'step',
  'impedance',
  'difference',
  'sheet',
] as const;
export type CurveView = (typeof CURVE_VIEWS)[number] | (typeof SPEAKER_VIEWS)[number];
export const viewsOf = (family: string): readonly CurveView[] =>
  family === 'loudspeaker' ? SPEAKER_VIEWS : CURVE_VIEWS;
export const TRACES = [
  'asBuilt',
  'ideal',
  'ghost',
  'bare',
  'straight',
  'isolated',
  'taps',
  'bank',
  'family',
  'measured',
  'spread',
  'brief',
  'target',
  'reversed',
  'bareDrivers',
] as const;
export type TraceName = (typeof TRACES)[number];

/** What is shown of a circuit that a voltage or a pedal moves. */
export const VOICE_VIEWS = ['control', 'forms', 'loop', 'level', 'rest', 'cell'] as const;
export type VoiceView = (typeof VOICE_VIEWS)[number];
/** What is played to listen, as far as it is not a recording. */
export type PlayedAs = 'notes' | 'sequence' | 'keys';

/** How the desk is being looked at: not part of the design, not undone, not saved with it. */
export interface ViewState {
  readonly task: Task;
  readonly curveView: CurveView;
  readonly shown: Readonly<Record<TraceName, boolean>>;
  readonly selectedStage: string | null;
  /** Frequencies that the curves are shown over, where another range is wanted than the design calls for. */
  readonly range: Span | null;
  /** Where the cursor stands, Hz on frequency views and s on time views; null when put away. */
  readonly cursor: number | null;
  /** The variant laid under as a ghost. */
  readonly ghostVariant: string | null;
  /** Of which curves the difference is shown, by their keys; null is the usual one. */
  readonly compared: { readonly first: string | null; readonly second: string | null };
  /** While the key is held the ghost is shown in front. */
  readonly flipped: boolean;
  /** The wave that is put through the circuit; its frequency follows the cutoff until one is chosen. */
  readonly wave: WaveId;
  readonly waveHz: number | null;
  /** V peak, of the step too; the brief's level until one is chosen. */
  readonly wavePeakVolts: number | null;
  /** What the source rests at, V. */
  readonly waveOffsetVolts: number;
  /** The wave against time, or what comes out against what goes in. */
  readonly waveAxes: 'time' | 'xy';
  /** While the switch is off: through what resistor of the stage in hand it discharges. */
  readonly dischargeOhm: number | null;
  /** The part in hand, of the stage in hand. */
  readonly selectedPart: string | null;
  /** The parts of a stage that are pointed at, in a drawing, a table or a formula; the first shows what it moves. */
  readonly pointed: { readonly stageId: string; readonly parts: readonly string[] } | null;
  /** The control whose whole rotation is shown. */
  readonly turnedControl: string | null;
  readonly shapingGoal: ShapingGoal;
  /** Of what would meet the brief, the one pointed at. */
  readonly pointedMatch: number | null;
  /** Of the angles: up and down, or from side to side. */
  readonly angleWay: 'up' | 'across';
  /** Angles and decay as curves, or as a map of level over frequency. */
  readonly soundLook: 'curves' | 'map';
  /** A schematic as it is built, as DC sees it, or as the signal does. */
  readonly reading: Reading;
  readonly voiceView: VoiceView;
  readonly playedAs: PlayedAs;
  readonly dragging: boolean;
  /** The link to this design is being looked at. */
  readonly sharing: boolean;
}

const FRESH: ViewState = {
  task: 'brief',
  curveView: 'response',
  shown: {
    asBuilt: true,
    ideal: true,
    ghost: true,
    bare: false,
    straight: false,
    isolated: false,
    taps: false,
    bank: true,
    family: true,
    measured: true,
    spread: true,
    brief: true,
    target: true,
    reversed: false,
    bareDrivers: false,
  },
  selectedStage: null,
  range: null,
  cursor: null,
  ghostVariant: null,
  compared: { first: null, second: null },
  flipped: false,
  wave: 'square',
  waveHz: null,
  wavePeakVolts: null,
  waveOffsetVolts: 0,
  waveAxes: 'time',
  dischargeOhm: null,
  selectedPart: null,
  pointed: null,
  turnedControl: null,
  shapingGoal: { keepHz: 1000, loseHz: 60e3, loseDb: 15 },
  pointedMatch: null,
  angleWay: 'up',
  soundLook: 'curves',
  sharing: false,
  reading: 'built',
  voiceView: 'control',
  playedAs: 'notes',
  dragging: false,
};

export const viewStore = create<ViewState>()(() => FRESH);
export const useView = viewStore;
export const setView = (patch: Partial<ViewState>): void => viewStore.setState(patch);
export const resetView = (): void => viewStore.setState(FRESH);

export const toggleTrace = (name: TraceName): void =>
  viewStore.setState(({ shown }) => ({ shown: { ...shown, [name]: !shown[name] } }));
