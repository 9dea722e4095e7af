import { failure, type Failure } from '../result';
import { brokenAt } from './broken';
import type { Recording } from './impulse';

/** Why a recording cannot be read. */
export type AnalyseFailure =
  | 'not-a-sweep'
  | 'rate-differs'
  | 'silent-recording'
  | 'recording-clipped'
  | 'recording-too-short'
  | 'recording-broken'
  | 'sweep-not-found'
  | 'channels-swapped';

/** Peak, re full scale, under which there was nothing to hear: −100 dB. */
export const LEAST_PEAK = 1e-5;
/** Samples at full scale, three or more in a row: from this share on a recording is of no use. */
const MOST_CLIPPED = 1e-5;
const FULL_SCALE = 0.9999;
const IN_A_ROW = 3;

/** Full scale 1. */
export const peakOf = (samples: Float64Array): number => samples.reduce((m, v) => Math.max(m, Math.abs(v)), 0);

type Asked = [asked: { readonly rateHz: number; readonly played: number }, what: 'recording' | 'reference'];

/**
 * Why a recording is of no use, whatever was played into it; null where it is of some. @param asked the rate that it is
 * to have, and samples that were played.
 */
export function faultOf({ samples, rateHz }: Recording, ...[asked, what]: Asked): Failure<AnalyseFailure> | null {
  if (rateHz !== asked.rateHz) return failure('rate-differs', { what, rateHz, wantedHz: asked.rateHz });
  let [peak, clipped, row] = [0, 0, 0];
  for (let i = 0; i < samples.length; i++) {
    const size = Math.abs(samples[i]);
    if (size > peak) peak = size;
    row = size >= FULL_SCALE ? row + 1 : 0;
    if (row === IN_A_ROW) clipped += IN_A_ROW;
    else if (row > IN_A_ROW) clipped++;
  }
  if (!(peak > LEAST_PEAK)) return failure('silent-recording', { what });
  if (clipped > MOST_CLIPPED * samples.length)
    return failure('recording-clipped', { what, share: clipped / samples.length });
  if (samples.length < asked.played)
    return failure('recording-too-short', { what, seconds: samples.length / rateHz, neededS: asked.played / rateHz });
  return null;
}

/** The same of a sweep, which goes on from its first tone to its last. */
export function faultOfSweep(recording: Recording, ...[asked, what]: Asked): Failure<AnalyseFailure> | null {
  const fault = faultOf(recording, asked, what);
  if (fault) return fault;
  const flat = flattenedShare(recording.samples);
  if (flat > MOST_FLAT) return failure('recording-clipped', { what, share: flat });
  const atS = brokenAt(recording);
  return atS === null ? null : failure('recording-broken', { what, atS });
}

/** Half waves this near the recording's peak are looked at, and samples this near a half wave's own top are flat. */
const NEAR_PEAK = 0.97;
const NEAR_TOP = 0.005;
/** Shorter half waves than this, samples, have no shape; and so few of them say nothing. */
const SHORTEST = 16;
const FEWEST_HALVES = 8;
/** Of a sine a share of 2 acos(1 − 0.005)/π = 6.4 % lies so near its top; over this, its top was cut off. */
const MOST_FLAT = 0.16;

/**
 * How much of the loudest half waves is flat, as a share: a recording that was clipped before it was scaled shows it
 * whatever its level. 0 where too few are loud.
 */
function flattenedShare(samples: Float64Array): number {
  const loud = NEAR_PEAK * peakOf(samples);
  const shares: number[] = [];
  let start = 0;
  for (let i = 1; i <= samples.length; i++) {
    if (i < samples.length && samples[i] > 0 === samples[start] > 0) continue;
    if (i - start >= SHORTEST) {
      let top = 0;
      for (let k = start; k < i; k++) top = Math.max(top, Math.abs(samples[k]));
      if (top >= loud && top > LEAST_PEAK) {
        let near = 0;
        for (let k = start; k < i; k++) if (Math.abs(samples[k]) >= (1 - NEAR_TOP) * top) near++;
        shares.push(near / (i - start));
      }
    }
    start = i;
  }
  if (shares.length < FEWEST_HALVES) return 0;
  return shares.sort((a, b) => a - b)[shares.length >> 1];
}
