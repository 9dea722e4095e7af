import { useMemo, useSyncExternalStore } from 'react';
import type { Design } from '@/core/design/document/schema';
import { withoutRecord } from '@/core/design/document/without-record';
import type { JobAnswers } from '@/core/jobs/run-job';
import type { Failure, Result } from '@/core/result';
import { startJob, type RunningJob } from '@/workers/job-client';
import { documentStore, useDesign } from '../document';
import { requestOf, subjectOf, type Asked, type Kind } from './question';

interface Said<K extends Kind> {
  readonly value: JobAnswers[K];
  readonly asked: Asked<K>;
  readonly of: Design;
}
interface State<K extends Kind> {
  /** Share done; null: it is not running. */
  readonly progress: number | null;
  /** What it last said, what it was asked, and of what document. */
  readonly result: Said<K> | null;
  /** What it would say if it were stopped now, of a job that tells. */
  readonly soFar: Said<K> | null;
  /** Why it said nothing when it was last asked. */
  readonly failure: Failure | null;
}
const IDLE = { progress: null, result: null, soFar: null, failure: null };

const subjectNow = (): string => {
  const { design } = documentStore.getState();
  return design ? subjectOf(design) : '';
};

/**
 * A long job about the variant on the desk that is asked for by hand: one of its kind at a time. Progress, result and
 * failure are shown for the variant that it was asked of and for no other.
 */
export class LongJob<K extends Kind> {
  private state: State<K> = IDLE;
  private subject = '';
  private running: RunningJob<JobAnswers[K]> | null = null;
  private readonly tellers = new Set<() => void>();

  /** @param lighten what of a design a worker needs for it. */
  constructor(
    readonly kind: K,
    private readonly lighten: (design: Design) => Design = withoutRecord,
  ) {}

  readonly subscribe = (tell: () => void): (() => void) => {
    this.tellers.add(tell);
    const stop = documentStore.subscribe(tell);
    return () => {
      this.tellers.delete(tell);
      stop();
    };
  };

  readonly current = (): State<K> => (this.subject === subjectNow() ? this.state : IDLE);

  /** Begins it. Resolves with null where it was stopped or overtaken, or another variant has come to the desk. */
  readonly run = async (asked: Asked<K>): Promise<Result<JobAnswers[K]> | null> => {
    const { design } = documentStore.getState();
    if (!design) return null;
    this.running?.cancel();
    const subject = subjectNow();
    if (this.subject !== subject) this.state = IDLE;
    this.subject = subject;
    const job = startJob<K>(requestOf(this.kind, this.lighten(design), asked), (progress, value) => {
      if (this.running !== job) return;
      this.set({ progress, ...(value === undefined ? {} : { soFar: { value, asked, of: design } }) });
    });
    this.running = job;
    this.set({ progress: 0, soFar: null, failure: null });
    const answer = await job.answer;
    if (this.running !== job) return null;
    this.running = null;
    this.set({
      progress: null,
      soFar: null,
      ...(answer.ok ? { result: { value: answer.value, asked, of: design } } : { failure: answer }),
    });
    return subjectNow() === subject ? answer : null;
  };

  /** Stops it; the best that it had so far is its answer, where it told. */
  readonly cancel = (): void => {
    if (!this.running) return;
    this.running.cancel();
    this.running = null;
    const { soFar } = this.state;
    this.set({ progress: null, soFar: null, ...(soFar ? { result: soFar } : {}) });
  };

  /** Puts away what it said, and what it was about to say. */
  readonly forget = (): void => {
    this.cancel();
    this.set({ result: null, failure: null });
  };

  /** What it said holds for the document as it stands now: it was taken from it. */
  readonly stillHolds = (): void => {
    const { result } = this.current();
    const { design } = documentStore.getState();
    if (result && design) this.set({ result: { ...result, of: design } });
  };

  private set(patch: Partial<State<K>>): void {
    this.state = { ...this.state, ...patch };
    for (const tell of this.tellers) tell();
  }
}

/**
 * Whether the circuits, tolerances, drivers or surroundings are others than those that something was worked out for.
 */
export const changedSince = (workedOutFor: Design, now: Design): boolean =>
  workedOutFor.id !== now.id ||
  workedOutFor.variants !== now.variants ||
  workedOutFor.drivers !== now.drivers ||
  workedOutFor.preferences !== now.preferences ||
  workedOutFor.brief !== now.brief ||
  workedOutFor.currentVariant !== now.currentVariant;

const idle = () => IDLE;

/** A long job as it stands for the variant on the desk; `stale`: what it said is of another circuit. */
export function useLongJob<K extends Kind>(
  job: LongJob<K>,
): State<K> & { readonly running: boolean; readonly stale: boolean } {
  const state: State<K> = useSyncExternalStore(job.subscribe, job.current, idle);
  const stale = useDesign((now) => state.result !== null && changedSince(state.result.of, now));
  return useMemo(() => ({ ...state, running: state.progress !== null, stale }), [state, stale]);
}
