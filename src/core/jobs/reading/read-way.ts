import { readCircuit, type CurveReader } from '../../analysis/curves/curve-reader';
import { AUDIO_BAND, type Span } from '../../math/grid';
import { levelAt } from '../../analysis/curves/marks';
import { naturalFrequencies } from '../../analysis/roots/poles';
import type { AcSolver } from '../../analysis/ac/solver';
import type { Compilation, CompiledWay } from '../../design/compiled/compile';
import type { Way } from '../../design/document/schema';
import type { DesignedStage } from '../../design/stages/stage-design';
import { alignmentById } from '../../filter/alignments/index';
import type { Complex } from '../../math/complex';
import { failure, success, type Failure, type Result } from '../../result';
import type { Stability } from '../desk/desk-types';
import { plansStanding } from '../../design/stages/targets';
import { asymptotesOf, declaredPassBand, flatEndDb, type Asymptotes, type PassBand } from './pass-band';

/** What a way's marks count from: its pass band's own level. */
export interface Reference {
  readonly of: 'pass-band' | 'peak';
  readonly freqHz: number;
  readonly levelDb: number;
}

/** A way as it is built, read: its curve, what its figures count from, and whether it stands still at all. */
export interface WayReading {
  readonly reader: CurveReader;
  readonly natural: readonly Complex[];
  readonly stability: Stability;
  readonly reference: Reference;
  /**
   * Where slopes and nulls are looked for: hearing, and a decade beyond the corners. What coupling capacitors do far
   * below is nobody's filter.
   */
  readonly about: Span;
  /** What its slopes come to far from its corners. */
  readonly asymptotes: Asymptotes;
}

/** How far beyond the outermost corners a curve is read; over no less than what is heard. */
const BEYOND = 100;

const standing = (stages: readonly DesignedStage[]): DesignedStage[] => stages.filter((s) => !s.stage.bypassed);
/** Where sections put their nulls: beyond those a curve is level only two decades further out. */
const nullsOf = (stages: readonly DesignedStage[]): number[] =>
  standing(stages).flatMap((s) => (s.role === 'section' && s.target.zeroHz ? [s.target.zeroHz] : []));

const cornersOf = (stages: readonly DesignedStage[]): number[] => standing(stages).flatMap((s) => s.cornersHz);

/**
 * Where a way is read: the audio band, what is on show, two decades beyond its corners and its nulls, and under its
 * lowest natural frequency: a part may have moved it far from where it was meant.
 */
export function spanOf(stages: readonly DesignedStage[], natural: readonly Complex[], view: Span = AUDIO_BAND): Span {
  const corners = [...cornersOf(stages), ...nullsOf(stages)];
  const lowest = natural.map((s) => Math.hypot(s.re, s.im) / (2 * Math.PI * UNDER_LOWEST)).filter((f) => f > LOWEST_HZ);
  return {
    fromHz: Math.min(AUDIO_BAND.fromHz, view.fromHz, ...corners.map((f) => f / BEYOND), ...lowest),
    toHz: Math.max(AUDIO_BAND.toHz, view.toHz, ...corners.map((f) => f * BEYOND)),
  };
}

/**
 * How far under its lowest natural frequency a curve is read; what lies lower than a thousandth of a hertz is a leak.
 */
const UNDER_LOWEST = 30;
const LOWEST_HZ = 1e-4;

/** Of circuits that stand: several things are read of each, and all ask for these first. */
const known = new WeakMap<Compilation['circuit'], readonly Complex[]>();

/** Natural frequencies of a circuit, rad/s, about the corners of its stages. */
export function naturalOf({ circuit, ways }: Pick<Compilation, 'circuit' | 'ways'>): readonly Complex[] {
  const before = known.get(circuit);
  if (before) return before;
  const corners = ways.flatMap((w) => cornersOf(w.stages));
  const about = corners.length > 0 ? Math.sqrt(Math.min(...corners) * Math.max(...corners)) : 1000;
  const found = naturalFrequencies(circuit, 2 * Math.PI * about);
  known.set(circuit, found);
  return found;
}

/** A natural frequency this near the axis, as a share of its size, is taken to lie on it: rounding, not growth. */
const ON_AXIS = 1e-7;

/**
 * Whether every natural frequency dies away; the one that grows fastest for its frequency says what is heard instead.
 */
export function stabilityOf(natural: readonly Complex[]): Stability {
  const growing = natural.filter((s) => s.re > ON_AXIS * Math.hypot(s.re, s.im) && Math.hypot(s.re, s.im) > 1e-3);
  if (growing.length > 0) {
    const worst = growing.reduce((a, b) => (b.re > a.re ? b : a));
    return { stable: false, undamped: false, singsHz: Math.abs(worst.im) / (2 * Math.PI) };
  }
  const endless = natural.find((s) => s.im > 1 && Math.abs(s.re) <= ON_AXIS * s.im);
  return { stable: !endless, undamped: endless !== undefined, singsHz: endless ? endless.im / (2 * Math.PI) : null };
}

/** The failure of whoever needs a circuit whose modes all decay: `sings` or `undamped`, each with `freqHz`. */
export const notSteady = ({ undamped, singsHz }: Stability): Failure<'sings' | 'undamped'> =>
  failure(undamped ? 'undamped' : 'sings', { freqHz: singsHz ?? 0 });

/** Reads a way of a compiled variant as it is built. Fails as the solver does. */
export function readWay(
  built: Compilation,
  way: Way,
  compiled: CompiledWay,
  solver: AcSolver,
  view?: Span,
  natural = naturalOf(built),
): Result<WayReading> {
  const read = readCircuit(built.circuit, compiled.output, spanOf(compiled.stages, natural, view), solver, natural);
  if (!read.ok) return read;
  return success({
    reader: read.value,
    natural,
    stability: stabilityOf(natural),
    reference: referenceOf(read.value, way, compiled.stages),
    about: aboutOf(compiled.stages),
    asymptotes: asymptotesOf(way, compiled.stages),
  });
}

/** How far beyond the corners a slope is still theirs, as a factor. */
const THEIRS = 10;
function aboutOf(stages: readonly DesignedStage[]): Span {
  const corners = cornersOf(stages);
  return {
    fromHz: Math.min(AUDIO_BAND.fromHz, ...corners.map((f) => f / THEIRS)),
    toHz: Math.max(AUDIO_BAND.toHz, ...corners.map((f) => f * THEIRS)),
  };
}

/** A plateau so far under the peak is no pass band but what leaks through, dB. */
const LEAKS_DB = 60;
/** A peak whose half-power points lie further apart than this ratio is no resonance on a pass band but one itself. */
const BROAD = 4;
/** Less than this over the plateau, dB, its half-power points say nothing of how broad it is. */
const WELL_OVER_DB = 6;
/** So far beyond its ripple, with op-amps that lift its edge, a pass band's highest point is a resonance, dB. */
const RIPPLE_ROOM_DB = 1.5;

/**
 * The level a way's figures count from: that of its pass band, where it lies flat; the highest, of what passes a band,
 * of a pass band that ripples by design, and of what lies flat nowhere.
 */
function referenceOf(reader: CurveReader, way: Way, stages: readonly DesignedStage[]): Reference {
  const declared = declaredPassBand(way, stages);
  if (declared) return declaredReference(reader, way, stages, declared);
  const peak = reader.highest();
  const highest: Reference = { of: 'peak', ...peak };
  if (standing(stages).some(passesBand)) return highest;
  const plateau = reader.plateau();
  if (!plateau || plateau.levelDb < peak.levelDb - LEAKS_DB) return highest;
  const ripple = rippleOf(way, stages);
  if (ripple > 0 && peak.levelDb - plateau.levelDb <= ripple + RIPPLE_ROOM_DB) return { ...highest, of: 'pass-band' };
  const { low, high } = peak.levelDb - plateau.levelDb > WELL_OVER_DB ? reader.edgesOf(peak) : {};
  if (low && high && high.freqHz / low.freqHz > BROAD) return highest;
  return { of: 'pass-band', freqHz: plateau.atHz, levelDb: plateau.levelDb };
}

/** So far inside its cutoff a pass band is looked for that lies flat nowhere, as a factor. */
const INSIDE = 2;
const insideTop = (toHz: number, span: Span): number => Math.min(span.toHz, toHz / INSIDE);

/** How far beyond a declared pass band its top may have been moved by the parts, as a factor. */
const MOVED = 1.5;

/**
 * The reference of a way that declares where it passes. What leaks through a stop band, and what an op-amp adds far
 * beyond, is never one.
 */
function declaredReference(
  reader: CurveReader,
  way: Way,
  stages: readonly DesignedStage[],
  { fromHz, toHz }: PassBand,
): Reference {
  const { span } = reader;
  const [low, high] = [Math.max(span.fromHz, fromHz / MOVED), Math.min(span.toHz, toHz * MOVED)];
  const band = fromHz > 0 && toHz < Infinity;
  const within = low < high ? reader.highest(low, high) : reader.highest();
  // Parts that stand for another band than was declared: its top is where it is.
  const atEnd = within.freqHz <= low * 1.001 || within.freqHz >= high / 1.001;
  const peak = low >= high || (band && atEnd) ? reader.highest() : within;
  const highest: Reference = { of: 'peak', ...peak };
  const peaked = standing(stages).some(passesBand) || plansStanding(way).some((p) => p.response === 'bandpass');
  if (low >= high || peaked) return highest;
  const flat = passPlateau(reader, fromHz, toHz);
  if (!flat) {
    const inside = band ? null : reader.flattestBetween(Math.max(span.fromHz, INSIDE * fromHz), insideTop(toHz, span));
    return inside ? { of: 'pass-band', ...inside } : highest;
  }
  const ripple = rippleOf(way, stages);
  if (ripple === 0) return { of: 'pass-band', freqHz: flat.atHz, levelDb: flat.levelDb };
  // What ripples by design counts from the top of its ripple; with a resonance over it, from where that top should lie.
  return peak.levelDb - flat.levelDb <= ripple + RIPPLE_ROOM_DB
    ? { ...highest, of: 'pass-band' }
    : { of: 'pass-band', freqHz: flat.atHz, levelDb: flat.levelDb - flatEndDb(way) };
}

/**
 * Where a declared pass band lies flat: of a high-pass the first stretch above its cutoff, since an op-amp may rise or
 * fall far beyond; otherwise the highest.
 */
function passPlateau(reader: CurveReader, fromHz: number, toHz: number) {
  const top = reader.highest().levelDb;
  const found = reader
    .plateaus(Math.max(reader.span.fromHz, fromHz), Math.min(reader.span.toHz, toHz))
    .filter((p) => p.levelDb > top - LEAKS_DB);
  if (fromHz > 0 && toHz === Infinity) return found[0];
  return found.reduce<(typeof found)[number] | undefined>((a, b) => (a && a.levelDb >= b.levelDb ? a : b), undefined);
}

/** The same reference of a curve that was drawn with other part values, on the reading's own points. */
export const referenceOfDraw = ({ reference }: WayReading, freqHz: Float64Array, levelDb: Float64Array): number =>
  reference.of === 'peak'
    ? levelDb.reduce((m, v) => Math.max(m, v), -Infinity)
    : levelAt(freqHz, levelDb, reference.freqHz);

/**
 * What a way's pass band ripples by design, dB: of its plans, and of circuits that are asked for a ripple themselves.
 */
const rippleOf = (way: Way, stages: readonly DesignedStage[]): number =>
  plansStanding(way).reduce((sum, plan) => sum + (alignmentById(plan.alignment).hasRipple ? plan.rippleDb : 0), 0) +
  standing(stages).reduce((sum, s) => sum + (s.role === 'network' ? (s.parameters.rippleDb ?? 0) : 0), 0);

const passesBand = (designed: DesignedStage): boolean =>
  designed.role === 'section'
    ? designed.target.response === 'bandpass'
    : (designed.topology.readAtPeak?.(designed.form) ?? false);
