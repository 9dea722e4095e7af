import type { CurveReader} from '../analysis/curve-reader';
import { readCircuit, type Span } from '../analysis/curve-reader';
import { HALF_POWER_DB, levelAt, type Peak } from '../analysis/marks';
import { naturalFrequencies } from '../analysis/poles';
import { groupDelaysS, levelsDb, phasesDeg } from '../analysis/response';
import type { AcSolver } from '../analysis/solver';
import type { Compilation, CompiledWay } from '../design/compile';
import type { Plan, Way } from '../design/schema';
import type { DesignedStage } from '../design/stage-design';
import { alignmentById } from '../filter/alignments/index';
import type { Complex } from '../math/complex';
import { success, type Result } from '../result';
import type { DeskMark, Stability, Trace } from './desk-types';

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
  /** Where slopes and nulls are looked for: hearing, and a decade beyond the corners. What coupling capacitors do far below is nobody's filter. */
  readonly about: Span;
}

/** How far beyond the outermost corners a curve is read. */
const BEYOND = 100;
/** Of hearing: no curve is read over less. */
const AUDIO: Span = { fromHz: 20, toHz: 20e3 };

const standing = (stages: readonly DesignedStage[]): DesignedStage[] => stages.filter((s) => !s.stage.bypassed);
export const cornersOf = (stages: readonly DesignedStage[]): number[] => standing(stages).flatMap((s) => s.cornersHz);

/** Where a way is read: the audio band, what is on show, two decades beyond its corners, and under its lowest natural frequency: a part may have moved it far from where it was meant. */
export function spanOf(stages: readonly DesignedStage[], natural: readonly Complex[], view: Span = AUDIO): Span {
  const corners = cornersOf(stages);
  const lowest = natural.map((s) => Math.hypot(s.re, s.im) / (2 * Math.PI * UNDER_LOWEST)).filter((f) => f > LOWEST_HZ);
  return { fromHz: Math.min(AUDIO.fromHz, view.fromHz, ...corners.map((f) => f / BEYOND), ...lowest), toHz: Math.max(AUDIO.toHz, view.toHz, ...corners.map((f) => f * BEYOND)) };
}

/** How far under its lowest natural frequency a curve is read; what lies lower than a thousandth of a hertz is a leak. */
const UNDER_LOWEST = 30;
const LOWEST_HZ = 1e-4;

/** Natural frequencies of a circuit, rad/s, about the corners of its stages. */
export function naturalOf({ circuit, ways }: Pick<Compilation, 'circuit' | 'ways'>): Complex[] {
  const corners = ways.flatMap((w) => cornersOf(w.stages));
  const about = corners.length > 0 ? Math.sqrt(Math.min(...corners) * Math.max(...corners)) : 1000;
  return naturalFrequencies(circuit, 2 * Math.PI * about);
}

/** A natural frequency this near the axis, as a share of its size, is taken to lie on it: rounding, not growth. */
const ON_AXIS = 1e-7;

/** Whether every natural frequency dies away; the one that grows fastest for its frequency says what is heard instead. */
export function stabilityOf(natural: readonly Complex[]): Stability {
  const growing = natural.filter((s) => s.re > ON_AXIS * Math.hypot(s.re, s.im) && Math.hypot(s.re, s.im) > 1e-3);
  if (growing.length === 0) return { stable: true, singsHz: null };
  const worst = growing.reduce((a, b) => (b.re > a.re ? b : a));
  return { stable: false, singsHz: Math.abs(worst.im) / (2 * Math.PI) };
}

/** Reads a way of a compiled variant as it is built. Fails as the solver does. */
export function readWay(built: Compilation, way: Way, compiled: CompiledWay, solver: AcSolver, view?: Span, natural = naturalOf(built)): Result<WayReading> {
  const read = readCircuit(built.circuit, compiled.output, spanOf(compiled.stages, natural, view), solver, natural);
  if (!read.ok) return read;
  return success({ reader: read.value, natural, stability: stabilityOf(natural), reference: referenceOf(read.value, way, compiled.stages), about: aboutOf(compiled.stages) });
}

/** How far beyond the corners a slope is still theirs, as a factor. */
const THEIRS = 10;
function aboutOf(stages: readonly DesignedStage[]): Span {
  const corners = cornersOf(stages);
  return { fromHz: Math.min(AUDIO.fromHz, ...corners.map((f) => f / THEIRS)), toHz: Math.max(AUDIO.toHz, ...corners.map((f) => f * THEIRS)) };
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
 * The level a way's figures count from: that of its pass band, where it lies flat; the highest, of what passes a band, of a pass band that ripples by design, and of what lies flat nowhere.
 */
export function referenceOf(reader: CurveReader, way: Way, stages: readonly DesignedStage[]): Reference {
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

/** The same reference of a curve that was drawn with other part values, on the reading's own points. */
export const referenceOfDraw = ({ reference }: WayReading, freqHz: Float64Array, levelDb: Float64Array): number => (reference.of === 'peak' ? levelDb.reduce((m, v) => Math.max(m, v), -Infinity) : levelAt(freqHz, levelDb, reference.freqHz));

/** What a way's pass band ripples by design, dB: of its plans, and of circuits that are asked for a ripple themselves. */
const rippleOf = (way: Way, stages: readonly DesignedStage[]): number =>
  plansStanding(way).reduce((sum, plan) => sum + (alignmentById(plan.alignment).hasRipple ? plan.rippleDb : 0), 0) + standing(stages).reduce((sum, s) => sum + (s.role === 'network' ? (s.parameters.rippleDb ?? 0) : 0), 0);

const passesBand = (designed: DesignedStage): boolean => (designed.role === 'section' ? designed.target.response === 'bandpass' : (designed.topology.readAtPeak?.(designed.form) ?? false));

/** Plans of which any stage stands on the path and counts. */
export const plansStanding = ({ plans, stages }: Way): Plan[] => plans.filter((plan) => stages.some(({ target, bypassed }) => !bypassed && (target.kind === 'section' || target.kind === 'plan') && target.plan === plan.id));

/** How far under the reference a way's cutoff lies, going down and going up with frequency, dB: half power, or what its alignment calls its cutoff. */
function cutoffDepths(way: Way): { falling: number; rising: number } {
  const of = (response: Plan['response']): number | null => {
    const plans = plansStanding(way).filter((p) => p.response === response);
    if (plans.length !== 1) return plans.length === 0 ? null : HALF_POWER_DB;
    return (plans[0].cutoffAt === 'own' ? alignmentById(plans[0].alignment).ownCutoffDb : undefined) ?? HALF_POWER_DB;
  };
  const [low, high] = [of('lowpass'), of('highpass')];
  return { falling: low ?? high ?? HALF_POWER_DB, rising: high ?? low ?? HALF_POWER_DB };
}

/** A peak so far over the pass band is worth a mark, dB; and from so far on it has half-power points of its own. */
const PEAK_DB = 0.05;
/** How far down a flank its slope is written, dB. */
const FLANK_DB = 22;

/** What finds itself on a curve: corners, the edges of a peak, slopes, peak and null, each with what it counts from. None of what sings. */
export function marksOf({ reader, reference, stability, natural, about }: WayReading, way: Way): DeskMark[] {
  if (!stability.stable) return [];
  const depths = cutoffDepths(way);
  const peak = reader.highest();
  const marks: DeskMark[] = [];
  const over = peak.levelDb - reference.levelDb;
  const inside = peak.freqHz > reader.span.fromHz * 1.0001 && peak.freqHz < reader.span.toHz / 1.0001;
  const edges = edgesOf(reader, peak);
  if (reference.of === 'peak') {
    const q = edges.q === undefined ? {} : { q: edges.q };
    marks.push(...edges.edges.map((edge): DeskMark => ({ kind: 'cutoff', ...edge, ...q, depthDb: HALF_POWER_DB })), { kind: 'peak', ...peak, referenceDb: reference.levelDb, ...q });
  } else {
    for (const [falling, depthDb] of [[true, depths.falling], [false, depths.rising]] as const) {
      const levelDb = reference.levelDb + depthDb;
      marks.push(...reader.crossings(levelDb).filter((c) => c.falling === falling).map((c): DeskMark => ({ kind: 'cutoff', freqHz: c.freqHz, levelDb, referenceDb: reference.levelDb, depthDb, falling })));
    }
    if (inside && over > PEAK_DB) {
      const ringing = ringingNear(natural, peak.freqHz);
      marks.push({ kind: 'peak', ...peak, referenceDb: reference.levelDb, ...(ringing === null ? {} : { q: ringing }) });
      if (over > -HALF_POWER_DB) marks.push(...edges.edges.map((edge): DeskMark => ({ kind: 'band-edge', ...edge, ...(edges.q === undefined ? {} : { q: edges.q }) })));
    }
  }
  const { fall, rise } = reader.slopes(about.fromHz, about.toHz);
  // A slope is read where it is steepest and written where it can be seen: some way down the flank.
  for (const { slope, freqHz: at } of [fall, rise]) {
    if (Math.abs(slope) <= 1) continue;
    const flank = reader.crossings(reference.levelDb - FLANK_DB).find((c) => c.falling === slope < 0);
    marks.push({ kind: 'slope', freqHz: flank?.freqHz ?? at, levelDb: flank ? reference.levelDb - FLANK_DB : reader.levelAt(at), referenceDb: reference.levelDb, slopeDbPerOctave: slope });
  }
  const dip = reader.dip(about.fromHz, about.toHz);
  if (dip && dip.levelDb < reference.levelDb + HALF_POWER_DB) marks.push({ kind: 'notch', ...dip, referenceDb: reference.levelDb });
  return marks.sort((a, b) => a.freqHz - b.freqHz);
}

/** Half-power points of a peak, and its Q by them: centre over width. */
function edgesOf(reader: CurveReader, peak: Peak): { edges: Pick<Extract<DeskMark, { kind: 'band-edge' }>, 'freqHz' | 'levelDb' | 'referenceDb' | 'falling'>[]; q?: number } {
  const { low, high } = reader.edgesOf(peak);
  const edges = [low, high].flatMap((edge) => (edge ? [{ freqHz: edge.freqHz, levelDb: peak.levelDb + HALF_POWER_DB, referenceDb: peak.levelDb, falling: edge.falling }] : []));
  return { edges, ...(low && high ? { q: Math.sqrt(low.freqHz * high.freqHz) / (high.freqHz - low.freqHz) } : {}) };
}

/** Within this many octaves of a peak lies the pair that makes it. */
const NEAR_OCTAVES = 0.5;

/** Q of the natural frequency that makes a peak; null where none near it rings. */
function ringingNear(natural: readonly Complex[], peakHz: number): number | null {
  const near = natural.filter(({ re, im }) => im > 0 && re < 0 && Math.abs(Math.log2(Math.hypot(re, im) / (2 * Math.PI * peakHz))) < NEAR_OCTAVES);
  return near.length === 0 ? null : Math.max(...near.map(({ re, im }) => Math.hypot(re, im) / (-2 * re)));
}

/**
 * A response on show with its phase in the turn that the pass band gives it: between −180 and 180 degrees where the marks count from, and continuous from there.
 * The reader follows it as closely as it must, so that a coarse grid loses no turn.
 */
export function anchoredTrace(freqHz: Float64Array, response: Float64Array, { reader, reference }: Pick<WayReading, 'reader' | 'reference'>): Trace {
  const turns = -360 * Math.round((at(reader, reference.freqHz) - TURN_MIDDLE) / 360);
  const phaseDeg = phasesDeg(response).map((_, i) => {
    const raw = (Math.atan2(response[2 * i + 1], response[2 * i]) * 180) / Math.PI;
    const meant = at(reader, freqHz[i]) + turns;
    return raw + 360 * Math.round((meant - raw) / 360);
  });
  return { levelDb: levelsDb(response), phaseDeg, delayS: groupDelaysS(freqHz, phaseDeg) };
}

/** An inverting pass band is said to stand at +180°, though rounding puts it a hair to either side. */
const TURN_MIDDLE = 1;

/** The reader's phase at a frequency, degrees: straight between its samples, held beyond its ends. */
function at({ freqHz, phaseDeg }: CurveReader, f: number): number {
  if (f <= freqHz[0]) return phaseDeg[0];
  let [low, high] = [0, freqHz.length - 1];
  if (f >= freqHz[high]) return phaseDeg[high];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (freqHz[middle] <= f) low = middle;
    else high = middle;
  }
  const t = Math.log(f / freqHz[low]) / Math.log(freqHz[high] / freqHz[low]);
  return phaseDeg[low] + t * (phaseDeg[high] - phaseDeg[low]);
}

/** A trace's phase moved by whole turns until it lies nearest another's, on the whole: predicted beside built, measured beside both. */
export function inTurnWith(trace: Trace, other: Trace): Trace {
  const off = Array.from(trace.phaseDeg, (p, i) => other.phaseDeg[i] - p).filter(Number.isFinite).sort((a, b) => a - b);
  const turns = 360 * Math.round((off[off.length >> 1] ?? 0) / 360);
  return turns === 0 ? trace : { ...trace, phaseDeg: trace.phaseDeg.map((p) => p + turns) };
}
