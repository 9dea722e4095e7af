import { defineJob } from '../define-job';
import { acousticsRequest } from './acoustics-types';
import { CurveReader } from '../../analysis/curves/curve-reader';
import { highestPoint, refineCrossing } from '../../analysis/curves/marks';
import { levelsDb, phasesDeg } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { driverOf } from '../../design/compiled/netlist-writer';
import { designatorsOf } from '../../design/stages/designators';
import type { Design, Variant } from '../../design/document/schema';
import { driverResponse } from '../../loudspeaker/driver-response';
import { equivalentDissipationOhm } from '../../loudspeaker/listening';
import { AUDIO_BAND, logGrid } from '../../math/grid';
import { failure, success, type Result } from '../../result';
import { fromDecibels } from '../../units/quantity';
import { checkSpeakers } from './acoustics-checks';
import type { Acoustics, AcousticsRequest, Crossing, Flatness, LoadCurve } from './acoustics-types';
import { deskStage } from '../desk/desk';
import { naturalOf } from '../reading/read-way';
import { bandGrid, excursionsOf } from './excursion';
import { overlapOf } from './overlap';
import { powerInParts } from './speaker-power';
import {
  acousticTarget,
  alignedSumDb,
  speakerSystem,
  sumOf,
  systemAt,
  type AcousticTarget,
  type SpeakerSystem,
} from './speaker-system';
import { USUAL_LISTENING } from '../../design/document/usual-listening';

/**
 * Everything that is heard and driven of a crossover at one moment. Fails as the design does, or with
 * `no-such-variant`.
 */
export function runAcoustics(
  { design, variantId, ghostVariantId, grid }: AcousticsRequest,
  solver: AcSolver,
): Result<Acoustics> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const freqHz = logGrid(grid.fromHz, grid.toHz, grid.points);
  const solved = speakerSystem(design, variant, freqHz, solver);
  if (!solved.ok) return solved;
  const system = solved.value;
  const target = acousticTarget(design, variant, freqHz);
  const pressures = system.ways.map((w) => w.pressure);
  const sum = sumOf(pressures);
  const sumDb = levelsDb(sum);
  // Every second way against its neighbours: where drivers meet in step, this is a deep dip.
  const reversedDb = levelsDb(sumOf(pressures.map((p, w) => (w % 2 === 1 ? p.map((v) => -v) : p))));
  const at = (frequencies: Float64Array) => systemAt(design, variant, system, frequencies, solver);
  const wide = at(bandGrid(design, variant, system.built));
  if (!wide.ok) return wide;
  const crossings = crossingsOf(system, target, sumDb, reversedDb, at);
  const load = loadOf(design, variant, system, solver);
  const ghost = ghostOf(design, ghostVariantId, freqHz, solver);
  const names = designatorsOf(system.built.ways);
  const partial = {
    variantId,
    freqHz,
    ways: system.ways.map(({ way, volts, pressure }, w) => {
      const driver = driverOf(design, way);
      return {
        wayId: way.id,
        name: way.name,
        driver: driver?.name ?? null,
        levelDb: levelsDb(pressure),
        phaseDeg: phasesDeg(pressure),
        voltsDb: levelsDb(volts),
        targetDb: target.ways[w],
        bareDb: driver ? levelsDb(driverResponse(driver, freqHz)) : null,
        ableDb: target.ableDb[w],
        turned: target.turned[w],
        stages: system.built.ways[w].stages.map((designed) => deskStage(design, way, designed, names, solver)),
      };
    }),
    sumDb,
    sumPhaseDeg: phasesDeg(sum),
    reversedDb,
    targetDb: target.sumDb,
    targetLevelDb: target.levelDb,
    ghost,
    crossings,
    load,
    ...flatnessOf(variant, target, system, at),
    power: powerInParts(design, variant, system, solver),
    excursions: excursionsOf(design, variant, wide.value),
  };
  return success({ ...partial, checks: checkSpeakers(design, variant, wide.value, partial) });
}

function ghostOf(design: Design, id: string | null, freqHz: Float64Array, solver: AcSolver): Acoustics['ghost'] {
  const variant = id === null ? undefined : design.variants.find((v) => v.id === id);
  const solved = variant ? speakerSystem(design, variant, freqHz, solver) : null;
  if (!variant || !solved?.ok) return null;
  return {
    sumDb: levelsDb(sumOf(solved.value.ways.map((w) => w.pressure))),
    ways: solved.value.ways.map((w) => levelsDb(w.pressure)),
    ohm: loadOf(design, variant, solved.value, solver)?.ohm ?? null,
  };
}

type SystemAt = (freqHz: Float64Array) => Result<SpeakerSystem>;

/** The sum over the range that counts, read against a level line and against its alignments' own sum. */
function flatnessOf(
  variant: Variant,
  { levelDb, turned }: AcousticTarget,
  { built }: SpeakerSystem,
  at: SystemAt,
): Pick<Acoustics, 'flat' | 'aligned'> {
  const { fromHz, toHz } = variant.listening ?? USUAL_LISTENING;
  const natural = naturalOf(built);
  const judged = (wantedDb: (freqHz: Float64Array) => Float64Array): Flatness => {
    const reader = new CurveReader(
      (freqHz) => {
        const system = at(freqHz);
        const wanted = wantedDb(freqHz);
        return system.ok
          ? sumOf(system.value.ways.map((w) => w.pressure)).map((v, i) => v / fromDecibels(levelDb + wanted[i >> 1]))
          : new Float64Array(2 * freqHz.length).fill(NaN);
      },
      natural,
      { fromHz, toHz },
    );
    const [over, under] = [reader.highest(), reader.lowest()];
    return { fromHz, toHz, overDb: over.levelDb, overHz: over.freqHz, underDb: under.levelDb, underHz: under.freqHz };
  };
  return {
    flat: judged((freqHz) => new Float64Array(freqHz.length)),
    aligned: judged((freqHz) => alignedSumDb(variant, turned, freqHz)),
  };
}

/**
 * Where neighbours meet: as loud as one another, how far apart in phase, and how deep the sum dips with one turned
 * over.
 */
function crossingsOf(
  { ways, freqHz }: SpeakerSystem,
  target: AcousticTarget,
  sumDb: Float64Array,
  reversedDb: Float64Array,
  systemAtHz: SystemAt,
): Crossing[] {
  const order = ways
    .map((_, w) => w)
    .sort((a, b) => middleOf(target.ways[a], freqHz) - middleOf(target.ways[b], freqHz));
  return order.slice(1).flatMap((upper, k): Crossing[] => {
    const lower = order[k];
    const meets = meetingOf(target.ways[lower], target.ways[upper], freqHz, null);
    if (meets === null) return [];
    const levels = [lower, upper].map((w) => levelsDb(ways[w].pressure));
    const at = meetingOf(levels[0], levels[1], freqHz, freqHz[meets]);
    // The very place where both are as loud: the ways are solved there themselves.
    const meeting = exactMeeting(
      systemAtHz,
      lower,
      upper,
      at === null ? [freqHz[meets], freqHz[meets]] : [freqHz[at - 1], freqHz[at]],
    );
    if (!meeting) return [];
    const near = Array.from(freqHz.keys())
      .filter((i) => Math.abs(Math.log2(freqHz[i] / meeting.freqHz)) <= 0.25)
      .map((i) => sumDb[i] - reversedDb[i]);
    return [
      {
        lower: ways[lower].way.id,
        upper: ways[upper].way.id,
        lowerName: ways[lower].way.name,
        upperName: ways[upper].way.name,
        ...meeting,
        overlap: overlapAbout(systemAtHz, lower, upper, meeting.freqHz),
        plannedHz: freqHz[meets],
        theoryTurned: target.turned[upper] !== target.turned[lower],
        nullDb: near.reduce((most, v) => (Math.abs(v) > Math.abs(most) ? v : most), 0),
      },
    ];
  });
}

/**
 * Between two frequencies where one way passes the other: the place, how loud either is, how far under the sum, and
 * their phase.
 */
function exactMeeting(
  systemAtHz: SystemAt,
  lower: number,
  upper: number,
  [from, to]: readonly [number, number],
): Pick<Crossing, 'freqHz' | 'levelDb' | 'belowSumDb' | 'phaseDeg' | 'delayS'> | null {
  const apart = (at: number): number => {
    const system = systemAtHz(Float64Array.of(at));
    if (!system.ok) return NaN;
    const [a, b] = [lower, upper].map((w) => levelsDb(system.value.ways[w].pressure)[0]);
    return a - b;
  };
  const { freqHz } = refineCrossing({ freqHz: Math.sqrt(from * to), falling: true }, Math.sqrt(to / from), 0, apart);
  const system = systemAtHz(Float64Array.of(freqHz));
  if (!system.ok) return null;
  const pressures = system.value.ways.map((w) => w.pressure);
  const phase = (w: number) => Math.atan2(pressures[w][1], pressures[w][0]);
  const levelDb = levelsDb(pressures[lower])[0];
  return {
    freqHz,
    levelDb,
    belowSumDb: levelsDb(sumOf(pressures))[0] - levelDb,
    phaseDeg: wrapped(((phase(upper) - phase(lower)) * 180) / Math.PI),
    delayS: delayOf(systemAtHz, freqHz),
  };
}

/** Octaves either way of where two meet that are looked over, and in how many points, whatever is on show. */
const OVERLAP_OCTAVES = 5;
const OVERLAP_POINTS = 501;

function overlapAbout(systemAtHz: SystemAt, lower: number, upper: number, meetsHz: number): Crossing['overlap'] {
  const reach = 2 ** OVERLAP_OCTAVES;
  const freqHz = logGrid(
    Math.max(AUDIO_BAND.fromHz, meetsHz / reach),
    Math.min(AUDIO_BAND.toHz, meetsHz * reach),
    OVERLAP_POINTS,
  );
  const system = systemAtHz(freqHz);
  if (!system.ok) return { fromHz: meetsHz, toHz: meetsHz, worstDeg: NaN, worstHz: meetsHz };
  const [low, high] = [lower, upper].map((w) => {
    const { pressure } = system.value.ways[w];
    return { levelDb: levelsDb(pressure), phaseDeg: phasesDeg(pressure) };
  });
  return overlapOf(low, high, freqHz, meetsHz);
}

/** A step of frequency that a phase turns little over. */
const STEP = 1e-4;

/** Group delay of the sum at a frequency, s: how its phase turns over a small step. */
function delayOf(systemAtHz: SystemAt, freqHz: number): number {
  const [low, high] = [freqHz * (1 - STEP), freqHz * (1 + STEP)];
  const system = systemAtHz(Float64Array.of(low, high));
  if (!system.ok) return NaN;
  const [a, b, c, d] = sumOf(system.value.ways.map((w) => w.pressure));
  // The phase between the two, of their ratio: no jump can come in.
  const turned = Math.atan2(d * a - c * b, c * a + d * b);
  return -turned / (2 * Math.PI * (high - low));
}

/** The middle of where a way is within 6 dB of its best, as a place of the logarithm. */
function middleOf(levelDb: Float64Array, freqHz: Float64Array): number {
  const best = levelDb.reduce((m, v) => Math.max(m, v), -Infinity);
  const inside = Array.from(freqHz.keys()).filter((i) => levelDb[i] > best - 6);
  return inside.reduce((sum, i) => sum + Math.log(freqHz[i]), 0) / Math.max(1, inside.length);
}

/**
 * The point where a falling level meets a rising one, nearest to a frequency when there are several; null when they do
 * not.
 */
function meetingOf(
  lower: Float64Array,
  upper: Float64Array,
  freqHz: Float64Array,
  nearHz: number | null,
): number | null {
  const found: number[] = [];
  for (let i = 1; i < freqHz.length; i++) if (lower[i - 1] > upper[i - 1] && lower[i] <= upper[i]) found.push(i);
  if (found.length === 0) return null;
  // Far down both, curves cross by chance: the loudest meeting is the one that is heard.
  return found.sort((a, b) =>
    nearHz === null
      ? upper[b] - upper[a]
      : Math.abs(Math.log(freqHz[a] / nearHz)) - Math.abs(Math.log(freqHz[b] / nearHz)),
  )[0];
}

const wrapped = (deg: number): number => ((((deg + 180) % 360) + 360) % 360) - 180;

/** What the amplifier works into; null where every way has an amplifier of its own. */
function loadOf(
  design: Design,
  variant: Variant,
  { built, freqHz }: SpeakerSystem,
  solver: AcSolver,
): LoadCurve | null {
  if (variant.ways.every((way) => way.load.kind !== 'driver' || way.load.amplifier)) return null;
  const z = impedanceAt(design, built, freqHz, solver);
  if (!z) return null;
  const ohm = freqHz.map((_, i) => Math.hypot(z[2 * i], z[2 * i + 1]));
  const phaseDeg = freqHz.map((_, i) => (Math.atan2(z[2 * i + 1], z[2 * i]) * 180) / Math.PI);
  return {
    ohm,
    phaseDeg,
    dissipationOhm: ohm.map((z, i) => equivalentDissipationOhm(z, phaseDeg[i])),
    ...leastLoad(design, built, solver),
  };
}

/**
 * Impedance (re, im by turns) that the source works into: 1 V over the current out of it, less what the source itself
 * has.
 */
function impedanceAt(
  design: Design,
  { circuit }: SpeakerSystem['built'],
  freqHz: Float64Array,
  solver: AcSolver,
): Float64Array | null {
  const currents = solver.branchCurrents(circuit, freqHz, ['Vin']);
  if (!currents.ok) return null;
  const [amps] = currents.value;
  const out = new Float64Array(2 * freqHz.length);
  freqHz.forEach((_, i) => {
    const [re, im] = [-amps[2 * i], -amps[2 * i + 1]];
    const square = re * re + im * im;
    out[2 * i] = re / square - design.brief.source.ohm;
    out[2 * i + 1] = -im / square;
  });
  return out;
}

/** The least load and the hottest over the audio band, found on the curve itself. */
function leastLoad(
  design: Design,
  built: SpeakerSystem['built'],
  solver: AcSolver,
): Omit<LoadCurve, 'ohm' | 'phaseDeg' | 'dissipationOhm'> {
  const at = (freqHz: Float64Array) =>
    impedanceAt(design, built, freqHz, solver) ?? new Float64Array(2 * freqHz.length).fill(NaN);
  const reader = new CurveReader(at, naturalOf(built), AUDIO_BAND);
  const { freqHz: lowestHz } = reader.lowest();
  const polar = ([re, im]: Float64Array | number[]) => ({
    ohm: Math.hypot(re, im),
    phaseDeg: (Math.atan2(im, re) * 180) / Math.PI,
  });
  const lowest = polar(reader.responseAt(lowestHz));
  const response = at(reader.freqHz);
  const heat = reader.freqHz.map((_, i) => {
    const { ohm, phaseDeg } = polar([response[2 * i], response[2 * i + 1]]);
    return -equivalentDissipationOhm(ohm, phaseDeg);
  });
  const hottest = highestPoint(reader.freqHz, heat);
  return {
    lowestOhm: lowest.ohm,
    lowestHz,
    phaseThereDeg: lowest.phaseDeg,
    hottestOhm: -hottest.levelDb,
    hottestHz: hottest.freqHz,
  };
}

export const acousticsJob = defineJob(acousticsRequest, (request, { solver }) => runAcoustics(request, solver));
