import type { CurveReader } from '../../analysis/curves/curve-reader';
import { HALF_POWER_DB, type Peak } from '../../analysis/curves/marks';
import type { Plan, Way } from '../../design/document/schema';
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
  return [...corners, ...slopes(reading), ...notch(reading)].sort((a, b) => a.freqHz - b.freqHz);
}

/** Of a curve that counts from its peak: the peak, and its half-power points as cutoffs. */
function aboutPeak({ reader, reference }: WayReading): DeskMark[] {
  const peak = reader.highest();
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

function peakOver({ reader, reference, natural }: WayReading): DeskMark[] {
  const peak = reader.highest();
  const over = peak.levelDb - reference.levelDb;
  const inside = peak.freqHz > reader.span.fromHz * 1.0001 && peak.freqHz < reader.span.toHz / 1.0001;
  if (!inside || !(over > PEAK_DB)) return [];
  const q = ringingNear(natural, peak.freqHz);
  const mark: DeskMark = { kind: 'peak', ...peak, referenceDb: reference.levelDb, ...(q === null ? {} : { q }) };
  if (over <= -HALF_POWER_DB) return [mark];
  const { edges, ...width } = edgesOf(reader, peak);
  return [mark, ...edges.map((edge): DeskMark => ({ kind: 'band-edge', ...edge, ...width }))];
}

/** A slope is read where it is steepest and written where it can be seen: some way down the flank. */
function slopes({ reader, reference, about }: WayReading): DeskMark[] {
  const { fall, rise } = reader.slopes(about.fromHz, about.toHz);
  return [fall, rise]
    .filter(({ dbPerOctave }) => Math.abs(dbPerOctave) > 1)
    .map(({ dbPerOctave, freqHz: at }) => {
      const flank = reader.crossings(reference.levelDb - FLANK_DB).find((c) => c.falling === dbPerOctave < 0);
      return {
        kind: 'slope',
        freqHz: flank?.freqHz ?? at,
        levelDb: flank ? reference.levelDb - FLANK_DB : reader.levelAt(at),
        referenceDb: reference.levelDb,
        slopeDbPerOctave: dbPerOctave,
      };
    });
}

function notch({ reader, reference, about }: WayReading): DeskMark[] {
  const dip = reader.dip(about.fromHz, about.toHz);
  return dip && dip.levelDb < reference.levelDb + HALF_POWER_DB
    ? [{ kind: 'notch', ...dip, referenceDb: reference.levelDb }]
    : [];
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
