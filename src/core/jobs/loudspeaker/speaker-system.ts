import { levelsDb } from '../../analysis/curves/response';
import { quantile } from '../../analysis/tolerance/spread';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile, type Compilation } from '../../design/compiled/compile';
import { driverOf } from '../../design/compiled/netlist-writer';
import { type CompileOptions } from '../../design/compiled/writing';
import type { Design, Variant, Way } from '../../design/document/schema';
import { USUAL_LISTENING } from '../../design/document/usual-listening';
import { sectionsOf } from '../../design/stages/targets';
import { cascadeResponse } from '../../filter/section';
import { curveAt, driverResponse, measuredDirectivity } from '../../loudspeaker/driver-response';
import { bringAlong, pathTo, type Listener, type Position } from '../../loudspeaker/listening';
import { success, type Result } from '../../result';
import { fromDecibels } from '../../units/quantity';
import { timesResponse } from '../../math/complex';
import { AUDIO_BAND, logGrid } from '../../math/grid';

const AT_ORIGIN: Position = { acrossM: 0, upM: 0, backM: 0 };

/**
 * What a way does: volts at its driver for 1 V from the source, and what the listener gets of it, both re, im by turns.
 */
export interface SystemWay {
  readonly way: Way;
  readonly volts: Float64Array;
  /** 1 for 0 dB SPL, for 2.83 V from the source; polarity and trim in it. */
  readonly pressure: Float64Array;
}
export interface SpeakerSystem {
  readonly freqHz: Float64Array;
  readonly built: Compilation;
  readonly ways: readonly SystemWay[];
}

const NOWHERE_DB = 90;
/** Gain that power amplifiers have as a rule, dB: levels of active ways are those when such a one gives 2.83 V. */
const USUAL_AMPLIFIER_DB = 26;
const amplifierDb = ({ load }: Way): number =>
  load.kind === 'driver' && load.amplifier ? load.amplifier.gainDb - USUAL_AMPLIFIER_DB : 0;

/**
 * What of a way does not change while its parts do: its driver's pressure for 2.83 V as it reaches the listener,
 * polarity and trim and amplifier in it.
 */
export function wayTransfer(design: Design, way: Way, freqHz: Float64Array, listener: Listener): Float64Array {
  const driver = driverOf(design, way);
  const pressure = driver
    ? driverResponse(driver, freqHz).slice()
    : Float64Array.from({ length: 2 * freqHz.length }, (_, i) => (i % 2 === 0 ? fromDecibels(NOWHERE_DB) : 0));
  const path = pathTo(listener, way.position ?? AT_ORIGIN);
  const aside = driver ? measuredDirectivity(driver, freqHz, path.offAxisRad) : null;
  bringAlong(pressure, freqHz, path, aside ? 0 : (driver?.radiusM ?? 0));
  const gain = way.polarity * fromDecibels(way.levelTrimDb + amplifierDb(way));
  return pressure.map((v, i) => v * gain * (aside ? aside[i >> 1] : 1));
}

/** All ways of a variant, fed together, at a listener's place. Fails as the design or the solver does. */
export function speakerSystem(
  design: Design,
  variant: Variant,
  freqHz: Float64Array,
  solver: AcSolver,
  { listener, options = AS_BUILT }: { listener?: Listener; options?: CompileOptions } = {},
): Result<SpeakerSystem> {
  const built = compile(design, variant, options);
  if (!built.ok) return built;
  return systemAt(design, variant, { built: built.value }, freqHz, solver, listener);
}

/** The same at any other frequencies, the circuit as it stands. Fails as the solver does. */
export function systemAt(
  design: Design,
  variant: Variant,
  { built }: Pick<SpeakerSystem, 'built'>,
  freqHz: Float64Array,
  solver: AcSolver,
  listener: Listener = variant.listening ?? USUAL_LISTENING,
): Result<SpeakerSystem> {
  const solved = solver.sweep(
    built.circuit,
    freqHz,
    built.ways.map((w) => w.output),
  );
  if (!solved.ok) return solved;
  return success({
    freqHz,
    built,
    ways: variant.ways.map((way, w) => ({
      way,
      volts: solved.value[w],
      pressure: timesResponse(solved.value[w], wayTransfer(design, way, freqHz, listener)),
    })),
  });
}

export function sumOf(pressures: readonly Float64Array[]): Float64Array {
  const sum = new Float64Array(pressures[0]?.length ?? 0);
  for (const p of pressures) for (let i = 0; i < sum.length; i++) sum[i] += p[i];
  return sum;
}

/** What a way's plans ask of the sound, 1 in the pass band. */
const acousticIdeal = (way: Way, freqHz: Float64Array): Float64Array =>
  cascadeResponse(
    (way.aim ? [way.aim] : way.plans).flatMap((plan) => sectionsOf(plan)),
    freqHz,
  );

export interface AcousticTarget extends Aim {
  /** Of each way, and of all together in the polarity that theory wants: dB. */
  readonly ways: readonly Float64Array[];
  readonly sumDb: Float64Array;
}

/** Enough to say what level the drivers can have, and which polarity adds, whatever is on show. */
const OWN_POINTS = 301;

interface Aim {
  readonly levelDb: number;
  /** What each way's driver can have where it is to play, dB; null without a driver. */
  readonly ableDb: readonly (number | null)[];
  /** Whether theory wants each way turned over. */
  readonly turned: readonly boolean[];
}

/**
 * The level that is asked for, or that the quietest driver can have over the range that counts, dB; what each can have;
 * and whether theory wants each way turned over.
 */
export function aimOf(design: Design, variant: Variant): Aim {
  const { fromHz, toHz, levelDb: asked } = variant.listening ?? USUAL_LISTENING;
  const range = logGrid(fromHz, toHz, OWN_POINTS);
  const ableDb = variant.ways.map((way) =>
    passBandLevel(design, way, levelsDb(acousticIdeal(way, range)), range, fromHz, toHz),
  );
  const whole = logGrid(AUDIO_BAND.fromHz, AUDIO_BAND.toHz, OWN_POINTS);
  return {
    levelDb: asked ?? Math.min(...ableDb.flatMap((db) => db ?? []), 200),
    ableDb,
    turned: bestPolarity(variant.ways.map((way) => acousticIdeal(way, whole))),
  };
}

/** What is aimed at: every way's alignment at the level that is asked for, or that its quietest driver can have. */
export function acousticTarget(design: Design, variant: Variant, freqHz: Float64Array): AcousticTarget {
  const aim = aimOf(design, variant);
  const house = houseDb(variant, freqHz);
  return {
    ...aim,
    ways: variant.ways.map((way) => levelsDb(acousticIdeal(way, freqHz)).map((v, i) => v + aim.levelDb + house[i])),
    sumDb: alignedSumDb(variant, aim.turned, freqHz).map((v) => v + aim.levelDb),
  };
}

/** What the ways' alignments add up to in the polarity that theory wants, on the curve that is aimed at, dB. */
export function alignedSumDb(variant: Variant, turned: readonly boolean[], freqHz: Float64Array): Float64Array {
  const house = houseDb(variant, freqHz);
  return levelsDb(sumOf(variant.ways.map((way, w) => acousticIdeal(way, freqHz).map((v) => (turned[w] ? -v : v))))).map(
    (v, i) => v + house[i],
  );
}

/** Where a curve of the maker's own is 0 dB, and about which a tilt turns, Hz. */
const PIVOT_HZ = 1000;

/** What is aimed at instead of a level sum: a tilt and a curve of the maker's own, dB. */
function houseDb({ listening }: Pick<Variant, 'listening'>, freqHz: Float64Array): Float64Array {
  const house = listening?.house;
  if (!house) return new Float64Array(freqHz.length);
  const { tiltDb, curve } = house;
  const levels = curve && curveAt(curve, freqHz).levelDb;
  const pivot = curve ? curveAt(curve, Float64Array.of(PIVOT_HZ)).levelDb[0] : 0;
  return freqHz.map((f, i) => tiltDb * Math.log2(f / PIVOT_HZ) + (levels ? levels[i] - pivot : 0));
}

/** What a network's coils and joints cost a driver before anything is padded, dB. */
const PASSIVE_LOSS_DB = 0.7;
/**
 * A network can take humps down but fill no dips: the level that a driver can have is near the low end of what it does
 * of itself.
 */
const LOW_END = 0.2;

/** The level (dB) that a driver can have where its way is to play, within the range that counts. */
function passBandLevel(
  design: Design,
  way: Way,
  idealDb: Float64Array,
  freqHz: Float64Array,
  fromHz: number,
  toHz: number,
): number | null {
  const driver = driverOf(design, way);
  if (!driver) return null;
  const gain = way.levelTrimDb + amplifierDb(way);
  const levels = levelsDb(driverResponse(driver, freqHz));
  const inside = Array.from(freqHz.keys()).filter((i) => freqHz[i] >= fromHz && freqHz[i] <= toHz && idealDb[i] > -3);
  if (inside.length === 0) return null;
  const able = quantile(
    inside.map((i) => levels[i]).sort((a, b) => a - b),
    LOW_END,
  );
  return able + gain - (way.load.kind === 'driver' && way.load.amplifier ? 0 : PASSIVE_LOSS_DB);
}

/** Which ways are turned over so that the ideals' sum is flattest: each against those below it. */
function bestPolarity(ideals: readonly Float64Array[]): boolean[] {
  const turned: boolean[] = [];
  let sum = new Float64Array(ideals[0]?.length ?? 0);
  ideals.forEach((ideal, w) => {
    const tries = [1, -1].map((sign) => sumOf([sum, ideal.map((v) => sign * v)]));
    const lowest = tries.map((t) => Math.min(...passing(t, ideals.slice(0, w + 1))));
    const turn = w > 0 && lowest[1] > lowest[0] + 0.05;
    turned.push(turn);
    sum = tries[turn ? 1 : 0] as Float64Array<ArrayBuffer>;
  });
  return turned;
}

/** Levels (dB) of a sum where any of its ways is within 12 dB of passing. */
function passing(sum: Float64Array, ideals: readonly Float64Array[]): number[] {
  const levels = ideals.map((ideal) => levelsDb(ideal));
  return Array.from(levelsDb(sum)).filter((_, i) => levels.some((l) => l[i] > -12));
}
