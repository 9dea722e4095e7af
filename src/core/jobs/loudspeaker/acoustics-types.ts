import * as z from 'zod';
import { requestOf, ofVariant, gridSchema } from '../define-job';
import type { Check, DeskStage } from '../desk/desk-types';
import type { Excursion } from './excursion';
import type { Overlap } from './overlap';

export const acousticsRequest = requestOf('acoustics', {
  ...ofVariant,
  ghostVariantId: z.string().nullable(),
  grid: gridSchema,
});
export type AcousticsRequest = z.infer<typeof acousticsRequest>;

/** One driver with all that stands before it. Levels in dB SPL at 1 m for 2.83 V from the source. */
export interface AcousticWay {
  readonly wayId: string;
  readonly name: string;
  readonly driver: string | null;
  readonly levelDb: Float64Array;
  readonly phaseDeg: Float64Array;
  /** Volts at the driver over the source's, dB. */
  readonly voltsDb: Float64Array;
  readonly targetDb: Float64Array;
  /** The driver with nothing before it. */
  readonly bareDb: Float64Array | null;
  /** What its driver can have where it is to play, before any pad, dB; null without a driver. */
  readonly ableDb: number | null;
  /** Theory wants it turned over against the lowest way. */
  readonly turned: boolean;
  readonly stages: readonly DeskStage[];
}

export interface Crossing {
  readonly lower: string;
  readonly upper: string;
  readonly lowerName: string;
  readonly upperName: string;
  readonly plannedHz: number;
  readonly freqHz: number;
  readonly levelDb: number;
  /** How far each lies under the sum there, dB: 6 in phase, 3 a quarter turn apart. */
  readonly belowSumDb: number;
  /** Of the upper over the lower as they stand, degrees. */
  readonly phaseDeg: number;
  /** Theory wants the two of opposite polarity. */
  readonly theoryTurned: boolean;
  /** Where the two sound together, and how well their phases go along there. */
  readonly overlap: Overlap;
  /** Group delay of the sum there, s. */
  readonly delayS: number;
  /** How much deeper the sum is there with the upper turned over, dB. */
  readonly nullDb: number;
}

export interface LoadCurve {
  readonly ohm: Float64Array;
  readonly phaseDeg: Float64Array;
  /** The resistor that would heat the amplifier as much, ohm. */
  readonly dissipationOhm: Float64Array;
  readonly lowestOhm: number;
  readonly lowestHz: number;
  readonly phaseThereDeg: number;
  readonly hottestOhm: number;
  readonly hottestHz: number;
}

/** How far the sum strays over the range that counts, dB: over and under what it is judged by. */
export interface Flatness {
  readonly fromHz: number;
  readonly toHz: number;
  readonly overDb: number;
  readonly overHz: number;
  readonly underDb: number;
  readonly underHz: number;
}

/** What one part turns to heat, or a driver takes, W, with the amplifier's volts and a programme. */
export interface PartPower {
  readonly stageId: string | null;
  readonly wayId: string;
  readonly part: string;
  readonly watts: number;
  /** The most across it with a sine of the brief's volts, V peak; null of a driver. */
  readonly peakVolts: number | null;
  /** Of a coil with a core: the most through it with that sine, A peak, and what fills its core; null of others. */
  readonly core: { readonly peakAmps: number; readonly fullAmps: number } | null;
  /** What it bears, W; null where nothing is said. */
  readonly ratingWatts: number | null;
}

export interface Acoustics {
  readonly variantId: string;
  readonly freqHz: Float64Array;
  readonly ways: readonly AcousticWay[];
  readonly sumDb: Float64Array;
  readonly sumPhaseDeg: Float64Array;
  readonly reversedDb: Float64Array;
  readonly targetDb: Float64Array;
  readonly targetLevelDb: number;
  readonly ghost: {
    readonly sumDb: Float64Array;
    readonly ways: readonly Float64Array[];
    readonly ohm: Float64Array | null;
  } | null;
  readonly crossings: readonly Crossing[];
  readonly load: LoadCurve | null;
  /** Against a level line, and against the sum that the plans' alignments make of themselves. */
  readonly flat: Flatness;
  readonly aligned: Flatness;
  readonly power: readonly PartPower[];
  readonly excursions: readonly Excursion[];
  readonly checks: readonly Check[];
}
