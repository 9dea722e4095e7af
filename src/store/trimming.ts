import { create } from 'zustand';
import type { Analysed } from '@/core/measure/analyse';
import type { Sweep } from '@/core/measure/sweep';
import type { Failure } from '@/core/result';
import { ANALYSE, measuringStore, recordOnCard, setMeasuring, stopCard, type Place } from './measuring';
import { LongJob } from './questions/long-job';

/** A board is swept again and again while something on it is turned. */

/** One sweep of those that repeat while something is turned: how far it lies off, and its deepest place. */
export interface TrimStep {
  readonly rmsDb: number;
  readonly worst: { readonly freqHz: number; readonly db: number } | null;
  readonly deepest: { readonly freqHz: number; readonly levelDb: number };
  /** How far what is turned stood: times what it is. */
  readonly share: number;
}

interface Trimming {
  readonly repeating: boolean;
  /** Of the simulated board: what is turned, and how many times it stands over what it is. */
  readonly part: string | null;
  readonly share: number;
  readonly steps: readonly TrimStep[];
  /** Why the last sweep of the simulated board said nothing. */
  readonly failure: Failure | null;
}
const NO_TRIM: Trimming = { repeating: false, part: null, share: 1, steps: [], failure: null };
export const trimStore = create<Trimming>()(() => NO_TRIM);
export const setTrim = (patch: Partial<Trimming>): void => trimStore.setState(patch);
export const stopTrim = (): void => {
  setTrim({ repeating: false });
  TRIM.cancel();
  stopCard();
};
export const resetTrim = (): void => {
  stopTrim();
  trimStore.setState(NO_TRIM);
};
const TRIM = new LongJob('sweep-board');

/** Sweeps that are kept in sight, and how long each takes at the most, s. */
const MOST_STEPS = 40;
const TRIM_SECONDS = 0.5;

/**
 * Sweeps again and again until it is stopped, or fails: nothing is kept but how far each lies from what was predicted.
 * @param judge how far a sweep lies off, as the desk stands.
 */
export async function repeatSweeps(
  sweep: Sweep,
  place: Place,
  judge: (found: Analysed) => Omit<TrimStep, 'share'> | null,
): Promise<void> {
  const short = { ...sweep, seconds: Math.min(TRIM_SECONDS, sweep.seconds) };
  setTrim({ repeating: true, steps: [], failure: null });
  setMeasuring({ failed: null, notes: [] });
  while (trimStore.getState().repeating) {
    const { share } = trimStore.getState();
    const found = await sweptOnce(short, place);
    if (!trimStore.getState().repeating) return;
    const step = found && judge(found);
    if (!step) return setTrim({ repeating: false, failure: found ? null : TRIM.current().failure });
    setTrim({ steps: [...trimStore.getState().steps, { ...step, share }].slice(-MOST_STEPS) });
  }
}

async function sweptOnce(sweep: Sweep, place: Place): Promise<Analysed | null> {
  const { instrument, board, hidden } = measuringStore.getState();
  if (instrument === 'workshop') {
    const { part, share } = trimStore.getState();
    const answer = await TRIM.run({
      sweep,
      tones: null,
      place: place.id,
      board,
      hidden,
      turned: part === null ? null : { part, share },
    });
    return answer?.ok ? answer.value : null;
  }
  const recorded = await recordOnCard(sweep, null, () => {});
  if (!recorded) return null;
  const { samples, second } = recorded;
  const answer = await ANALYSE.run({ samples, rateHz: sweep.rateHz, sweep, tones: null, reference: second });
  return answer?.ok ? answer.value : null;
}
