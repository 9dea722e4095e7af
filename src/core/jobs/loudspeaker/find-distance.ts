import type * as z from 'zod';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import type { Design, Variant } from '../../design/document/schema';
import { atSetting } from '../../design/document/setting';
import { settingSchema } from '../../design/document/setting-schema';
import { observationOf } from '../../measure/observation';
import { timesResponse } from '../../math/complex';
import { failure, success, type Result } from '../../result';
import { column, defineJob, ofVariant, requestOf } from '../define-job';
import { speakerSystem, sumOf, wayTransfer } from './speaker-system';
import { USUAL_LISTENING } from '../../design/document/usual-listening';

const distanceRequest = requestOf('find-distance', {
  ...ofVariant,
  freqHz: column,
  levelDb: column,
  setting: settingSchema.nullable(),
});

/** How far behind the baffle the sound of a way seems to begin. */
export interface FoundDistance {
  readonly wayId: string;
  readonly name: string;
  readonly setM: number;
  readonly foundM: number;
}

export interface FoundDistances {
  readonly ways: readonly FoundDistance[];
  /** Root mean square of measured less predicted, its level taken off, as they are set and as they are found, dB. */
  readonly setDb: number;
  readonly foundDb: number;
}

/** Looked through on either side of where it is set, m, by steps that are a fifth of a wave at 20 kHz. */
const REACH_M = 0.12;
const STEP_M = 0.003;
const FINE_M = 0.0005;
const POINTS = 160;
const FEWEST = 8;
/** Levels this far under the top are the room's as often as the drivers'. */
const WITHIN_DB = 40;
const ROUNDS = 2;

/**
 * The distances of the drivers, all but the first, that bring the sum nearest to one that was measured: most surely
 * with one driver turned over, where the sum has a null that a few millimetres move (S. H. Linkwitz, J. Audio Eng.
 * Soc. 24, 1976, Active crossover networks for noncoincident drivers, 2). Fails as the design does, with `not-
 * acoustic`, or `nothing-measured`.
 */
function findDistance(
  { design, variantId, freqHz, levelDb, setting }: z.infer<typeof distanceRequest>,
  solver: AcSolver,
): Result<FoundDistances> {
  const now = design.variants.find((v) => v.id === variantId);
  if (!now) return failure('no-such-variant', { variant: variantId });
  if (now.join !== 'acoustic' || now.ways.length < 2) return failure('not-acoustic', {});
  const variant = setting ? atSetting(now, setting) : now;
  const seen = observationOf({ freqHz, levelDb, phaseDeg: null, noiseDb: null }, -Infinity, POINTS);
  const measured = { freqHz: seen.freqHz, levelDb: seen.logSize.map((v) => (20 * v) / Math.LN10) };
  if (measured.freqHz.length < FEWEST) return failure('nothing-measured', { probe: 'sum' });
  const system = speakerSystem(design, variant, measured.freqHz, solver);
  if (!system.ok) return system;
  const volts = system.value.ways.map((w) => w.volts);
  const back = variant.ways.map((way) => way.position?.backM ?? 0);
  const offOf = offFrom(design, variant, volts, measured);
  const found = [...back];
  const setDb = offOf(back);
  for (let round = 0; round < ROUNDS; round++)
    for (let w = 1; w < found.length; w++) {
      found[w] = best(offOf, found, w, back[w] - REACH_M, back[w] + REACH_M, STEP_M);
      found[w] = best(offOf, found, w, found[w] - STEP_M, found[w] + STEP_M, FINE_M);
    }
  return success({
    ways: variant.ways
      .slice(1)
      .map(({ id, name }, i) => ({ wayId: id, name, setM: back[i + 1], foundM: found[i + 1] })),
    setDb,
    foundDb: offOf(found),
  });
}

type Off = (backM: readonly number[]) => number;

function best(offOf: Off, at: readonly number[], w: number, from: number, to: number, step: number): number {
  let [least, where] = [Infinity, at[w]];
  for (let k = 0; k <= Math.round((to - from) / step); k++) {
    const tried = from + k * step;
    const off = offOf(at.map((m, i) => (i === w ? tried : m)));
    if (off < least) [least, where] = [off, tried];
  }
  return where;
}

/** How far the sum lies off with its drivers so far back, its level taken off: a microphone's is its own. */
function offFrom(
  design: Design,
  variant: Variant,
  volts: readonly Float64Array[],
  { freqHz, levelDb }: { readonly freqHz: Float64Array; readonly levelDb: Float64Array },
): Off {
  const listener = variant.listening ?? USUAL_LISTENING;
  const top = levelDb.reduce((m, v) => Math.max(m, v), -Infinity);
  const counted = [...levelDb.keys()].filter((i) => levelDb[i] > top - WITHIN_DB);
  const known = new Map<string, Float64Array>();
  const heard = (w: number, backM: number): Float64Array => {
    const key = `${w} ${backM.toFixed(6)}`;
    const before = known.get(key);
    if (before) return before;
    const way = variant.ways[w];
    const position = { acrossM: 0, upM: 0, ...way.position, backM };
    const out = timesResponse(volts[w], wayTransfer(design, { ...way, position }, freqHz, listener));
    known.set(key, out);
    return out;
  };
  return (backM) => {
    const predicted = levelsDb(sumOf(backM.map((m, w) => heard(w, m))));
    const differences = counted.map((i) => levelDb[i] - predicted[i]);
    const mean = differences.reduce((s, v) => s + v, 0) / differences.length;
    return Math.sqrt(differences.reduce((s, v) => s + (v - mean) ** 2, 0) / differences.length);
  };
}

export const findDistanceJob = defineJob(distanceRequest, (request, { solver }) => findDistance(request, solver));
