import type { CurveReader } from '../../analysis/curves/curve-reader';
import { HALF_POWER_DB, type Peak } from '../../analysis/curves/marks';
import type { MaskLimit, Plan, Way } from '../../design/document/schema';
import { plansStanding } from '../../design/stages/targets';
import { alignmentById } from '../../filter/alignments/index';
import type { Complex } from '../../math/complex';
import type { DeskMark } from '../desk/desk-types';
import type { WayReading } from './read-way';

/**
 * How far under the reference a way's cutoff lies, going down and going up with frequency, dB: half power, or what its
 * alignment calls its cutoff.
 */
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

/**
 * What finds itself on a curve: corners, the edges of a peak, slopes, peak and null, each with what it counts from.
 * None of what sings.
 */
export function marksOf(reading: WayReading, way: Way): DeskMark[] {
  if (!reading.stability.stable) return [];
  const corners = reading.reference.of === 'peak' ? aboutPeak(reading) : cutoffs(reading, way);
  return [...corners, ...slopes(reading), ...notches(reading)].sort((a, b) => a.freqHz - b.freqHz);
}

/** Of a curve that counts from its peak: the peak, and its half-power points as cutoffs. */
function aboutPeak({ reader, reference }: WayReading): DeskMark[] {
  const peak: Peak = { freqHz: reference.freqHz, levelDb: reference.levelDb };
  const { edges, ...q } = edgesOf(reader, peak);
  return [
    ...edges.map((edge): DeskMark => ({ kind: 'cutoff', ...edge, ...q, depthDb: HALF_POWER_DB })),
    { kind: 'peak', ...peak, referenceDb: reference.levelDb, ...q },
  ];
}

/** Of a curve that counts from a pass band: where it leaves it, and the peak that stands over it. */
function cutoffs(reading: WayReading, way: Way): DeskMark[] {
  const { reader, reference } = reading;
  const depths = cutoffDepths(way);
  const leaving = (falling: boolean, depthDb: number): DeskMark[] => {
    const levelDb = reference.levelDb + depthDb;
    return reader
      .crossings(levelDb)
      .filter((c) => c.falling === falling)
      .map(({ freqHz }) => ({ kind: 'cutoff', freqHz, levelDb, referenceDb: reference.levelDb, depthDb, falling }));
  };
  return [...leaving(true, depths.falling), ...leaving(false, depths.rising), ...peakOver(reading)];
}

function peakOver({ reader, reference, natural, about }: WayReading): DeskMark[] {
  // Far beyond the corners an op-amp may rise: that is no resonance of the filter.
  const peak = reader.highest(about.fromHz, about.toHz);
  const over = peak.levelDb - reference.levelDb;
  const inside = peak.freqHz > about.fromHz * 1.0001 && peak.freqHz < about.toHz / 1.0001;
  if (!inside || !(over > PEAK_DB)) return [];
  const q = ringingNear(natural, peak.freqHz);
  const mark: DeskMark = { kind: 'peak', ...peak, referenceDb: reference.levelDb, ...(q === null ? {} : { q }) };
  if (over <= -HALF_POWER_DB) return [mark];
  const { edges, ...width } = edgesOf(reader, peak);
  return [mark, ...edges.map((edge): DeskMark => ({ kind: 'band-edge', ...edge, ...width }))];
}

/** dB/octave of one order. */
const AN_ORDER_DB = 20 * Math.log10(2);
/** A flank this many times as steep as its asymptote does not show it. */
const STEEPER = 2;
/** Less than this, dB/octave, is level. */
const LEAST_SLOPE = 1;

/**
 * The asymptotic slope on either side: what its formulas say, or what the outermost octave of its own range shows where
 * there is no formula, and no null lies in it. Written some way down the flank, or at the end of the range where the
 * flank falls far more steeply than that, as before a null.
 */
function slopes({ reader, reference, about, asymptotes }: WayReading): DeskMark[] {
  const flanks = reader
    .crossings(reference.levelDb - FLANK_DB)
    .filter((c) => c.freqHz >= about.fromHz && c.freqHz <= about.toHz);
  const [low, high] = [flanks.find((c) => !c.falling), flanks.findLast((c) => c.falling)];
  const rise = (fromHz: number): number => reader.levelAt(2 * fromHz) - reader.levelAt(fromHz);
  const octave = (fromHz: number): number | null => (reader.dip(fromHz, 2 * fromHz) ? null : rise(fromHz));
  const mark = (slopeDbPerOctave: number | null, flankHz: number, flankFalls: number, endHz: number): DeskMark[] => {
    if (slopeDbPerOctave === null || Math.abs(slopeDbPerOctave) < LEAST_SLOPE) return [];
    const freqHz = Math.abs(flankFalls) < STEEPER * Math.abs(slopeDbPerOctave) ? flankHz : endHz;
    const levelDb = reader.levelAt(freqHz);
    return [{ kind: 'slope', freqHz, levelDb, referenceDb: reference.levelDb, slopeDbPerOctave }];
  };
  const of = (orders: number | null, outermostHz: number): number | null =>
    orders === null ? octave(outermostHz) : orders * AN_ORDER_DB;
  return [
    ...(low ? mark(of(asymptotes.below, about.fromHz), low.freqHz, rise(low.freqHz / 2), about.fromHz) : []),
    ...(high ? mark(of(asymptotes.above, about.toHz / 2), high.freqHz, rise(high.freqHz), about.toHz) : []),
  ];
}

/**
 * The slope of each transition band, positive where the level rises with frequency: from the cutoff to a stop limit,
 * against the highest level beyond it, so that no null makes it steeper than what it takes away.
 */
export function transitionsOf(
  { reader, reference }: WayReading,
  marks: readonly DeskMark[],
  mask: readonly MaskLimit[],
): DeskMark[] {
  return mask.flatMap((limit): DeskMark[] => {
    if (limit.kind !== 'at-least') return [];
    const above = limit.side === 'above';
    const edge = marks
      .filter((m): m is CutoffMark => m.kind === 'cutoff' && m.falling === above)
      .filter((m) => (above ? m.freqHz < limit.freqHz : m.freqHz > limit.freqHz))
      .reduce<CutoffMark | undefined>(
        (a, b) => (a && (above ? a.freqHz > b.freqHz : a.freqHz < b.freqHz) ? a : b),
        undefined,
      );
    if (!edge) return [];
    const { levelDb } = above
      ? reader.highest(limit.freqHz, Math.max(limit.freqHz, reader.span.toHz))
      : reader.highest(Math.min(limit.freqHz, reader.span.fromHz), limit.freqHz);
    return [
      {
        kind: 'transition',
        freqHz: limit.freqHz,
        levelDb,
        referenceDb: reference.levelDb,
        fromHz: edge.freqHz,
        slopeDbPerOctave: (levelDb - edge.levelDb) / Math.log2(limit.freqHz / edge.freqHz),
      },
    ];
  });
}

/**
 * Every null with a pass band on both sides, at half power; where there is none such, the deepest dip in what the path
 * is about.
 */
function notches({ reader, reference, about }: WayReading): DeskMark[] {
  const threshold = reference.levelDb + HALF_POWER_DB;
  const crossings = reader.crossings(threshold);
  const between = crossings.flatMap((c, i) =>
    c.falling && crossings[i + 1] && !crossings[i + 1].falling
      ? (reader.dip(c.freqHz, crossings[i + 1].freqHz) ?? reader.lowest(c.freqHz, crossings[i + 1].freqHz))
      : [],
  );
  const dip = between.length > 0 ? null : reader.dip(about.fromHz, about.toHz);
  return [...between, ...(dip && dip.levelDb < threshold ? [dip] : [])].map((at): DeskMark => ({
    kind: 'notch',
    ...at,
    referenceDb: reference.levelDb,
  }));
}

/** Half-power points of a peak, and its Q by them: centre over width. */
function edgesOf(
  reader: CurveReader,
  peak: Peak,
): {
  edges: Pick<Extract<DeskMark, { kind: 'band-edge' }>, 'freqHz' | 'levelDb' | 'referenceDb' | 'falling'>[];
  q?: number;
} {
  const { low, high } = reader.edgesOf(peak);
  const edges = [low, high].flatMap((edge) =>
    edge
      ? [
          {
            freqHz: edge.freqHz,
            levelDb: peak.levelDb + HALF_POWER_DB,
            referenceDb: peak.levelDb,
            falling: edge.falling,
          },
        ]
      : [],
  );
  return { edges, ...(low && high ? { q: Math.sqrt(low.freqHz * high.freqHz) / (high.freqHz - low.freqHz) } : {}) };
}

/** Within this many octaves of a peak lies the pair that makes it. */
const NEAR_OCTAVES = 0.5;

/** Q of the natural frequency that makes a peak; null where none near it rings. */
function ringingNear(natural: readonly Complex[], peakHz: number): number | null {
  const near = natural.filter(
    ({ re, im }) => im > 0 && re < 0 && Math.abs(Math.log2(Math.hypot(re, im) / (2 * Math.PI * peakHz))) < NEAR_OCTAVES,
  );
  return near.length === 0 ? null : Math.max(...near.map(({ re, im }) => Math.hypot(re, im) / (-2 * re)));
}

/**
 * The cutoff that stands for the whole: the one where it falls, or with none where it rises; undefined where it has
 * neither.
 */
export function mainCutoff(marks: readonly DeskMark[]): CutoffMark | undefined {
  const cutoffs = marks.filter((m): m is CutoffMark => m.kind === 'cutoff');
  return cutoffs.find((m) => m.falling) ?? cutoffs[0];
}
export type CutoffMark = Extract<DeskMark, { kind: 'cutoff' }>;
