import { useCallback, useEffect, useState, useSyncExternalStore } from 'react';
import type { Design } from '@/core/design/document/schema';
import { withoutRecord } from '@/core/design/document/without-record';
import type { JobAnswers, JobRequest } from '@/core/jobs/run-job';
import type { Failure } from '@/core/result';
import { startJob } from '@/workers/job-client';
import { LatestJob } from '@/workers/latest-job';
import { documentStore } from '../document';
import { currentVariantOf } from '../edits/edits';
import { followReading, newsToRead } from '../reading-pace';
import { viewStore, type ViewState } from '../view';
import { apartMs } from './pace';

/** Requests that ask something of a variant. */
export type AboutVariant = Extract<JobRequest, { design: unknown; variantId: string }>;
export type Kind = AboutVariant['kind'];
/** What a question asks besides the design and its variant: plain values. */
export type Asked<K extends Kind> = Omit<Extract<AboutVariant, { kind: K }>, 'kind' | 'design' | 'variantId'>;

export interface Now {
  readonly design: Design;
  readonly view: ViewState;
}

/** The request of a kind, about the variant on the desk. */
export const requestOf = <K extends Kind>(kind: K, design: Design, asked: Asked<K>) =>
  ({ kind, design, variantId: currentVariantOf(design).id, ...asked }) as unknown as Extract<JobRequest, { kind: K }>;

/** What is held of a question: its last answer, and why there is none for the design as it stands. */
interface Held<Answer> {
  readonly value: Answer | null;
  /** The document that the value was worked out for. */
  readonly of: Design | null;
  readonly failure: Failure | null;
}
const NOTHING = { value: null, of: null, failure: null };

/** An answer and the whole of what was asked, as text: to be shown again when the very same is asked another day. */
export interface Kept<Answer> {
  readonly request: string;
  readonly value: Answer;
}

/** What an answer is about at least: a variant of a design. */
export const subjectOf = (design: Design): string => `${design.id} ${currentVariantOf(design).id}`;

/** Something asked: of what document, with what besides, and what it is an answer about. */
interface Asking<K extends Kind> {
  readonly design: Design;
  readonly asked: Asked<K>;
  readonly key: string;
  readonly subject: string;
}

interface Options<K extends Kind> {
  /** Whether it follows every change, or waits until the hand rests. */
  readonly pace: 'frame' | 'rest';
  /** What of a design a worker needs for it. */
  readonly lighten?: (design: Design) => Design;
  /** What an answer is about besides the variant: shown for nothing else. */
  readonly about?: (now: Now, asked: Asked<K>) => string;
  /** What it takes a part of its asking from. */
  readonly follows?: readonly { subscribe(tell: () => void): () => void }[];
}

/** Second thoughts (sensitivities, comparison) wait until the hand rests. */
export const REST_MS = 180;

/**
 * One question about the variant on the desk. While a view looks at it, it follows the document and the view: one job
 * at a time, the newest asking next. Its answer is shown for what it was asked about and for nothing else; while a
 * newer one is worked out the last one stays. When nobody looks, what runs is given up.
 */
export class Question<K extends Kind> {
  private held: Held<JobAnswers[K]> & Pick<Asking<K>, 'subject' | 'key'> = { ...NOTHING, subject: '', key: '' };
  /** The same, followed a few times less often while something is dragged. */
  private read = this.held;
  private lastAsked: Asking<K> | null = null;
  /** What a part of the asking is taken from has changed since it was last looked at. */
  private outdated = false;
  private seen: { readonly now: Now; readonly asking: Asking<K> | null } | null = null;
  private readonly tellers = new Set<() => void>();
  private readonly followers = new Set<() => void>();
  private stop: (() => void) | null = null;

  /**
   * @param ask what is asked besides the variant; null where there is nothing to ask.
   */
  constructor(
    readonly kind: K,
    private readonly ask: (now: Now) => Asked<K> | null,
    private readonly options: Options<K>,
  ) {}

  readonly subscribe = (tell: () => void): (() => void) => {
    this.tellers.add(tell);
    this.stop ??= this.start();
    return () => {
      this.tellers.delete(tell);
      if (this.tellers.size > 0) return;
      this.stop?.();
      this.stop = null;
    };
  };

  /** Is told of answers that others asked for, and asks for none. */
  readonly follow = (tell: () => void): (() => void) => {
    this.followers.add(tell);
    return () => void this.followers.delete(tell);
  };

  /** The answer about what is on the desk, for what is watched or for what is read. */
  readonly current = (reading: 'watched' | 'read' = 'watched'): Held<JobAnswers[K]> => {
    const held = reading === 'read' ? this.read : this.held;
    return this.asking()?.subject === held.subject ? held : NOTHING;
  };

  /** Whether the answer on show is of the document as it was before, and a newer one is on its way. */
  readonly isBehind = (): boolean => {
    const { value, of, failure } = this.current();
    return value !== null && failure === null && of !== documentStore.getState().design;
  };

  /** Takes an answer as if it had been asked for the design as it stands. */
  readonly place = (value: JobAnswers[K]): void => {
    this.lastAsked = this.asking();
    if (this.lastAsked) this.hold({ value, of: this.lastAsked.design, failure: null }, this.lastAsked);
  };

  /** The answer to what is asked now, to be kept; null while there is none. */
  readonly toKeep = (): Kept<JobAnswers[K]> | null => {
    const { value, of, subject, key } = this.held;
    const asking = this.asking();
    const answers = asking && of === asking.design && subject === asking.subject && key === asking.key;
    return answers && value !== null ? { request: JSON.stringify(this.request(asking)), value } : null;
  };

  /** Shows what was kept of the very same asking, until it is answered anew. */
  readonly recall = ({ request, value }: Kept<JobAnswers[K]>): void => {
    const asking = this.asking();
    if (asking && JSON.stringify(this.request(asking)) === request)
      this.hold({ value, of: null, failure: null }, asking);
  };

  /** What a worker is asked. */
  private request({ design, asked }: Asking<K>): Extract<JobRequest, { kind: K }> {
    return requestOf(this.kind, (this.options.lighten ?? withoutRecord)(design), asked);
  }

  private start(): () => void {
    const { pace, follows = [] } = this.options;
    const lane = new LatestJob<Asking<K>, JobAnswers[K]>(
      (asking) => startJob<K>(this.request(asking)),
      (answer, asking) => {
        const before = this.held.subject === asking.subject ? this.held : NOTHING;
        this.hold(
          answer.ok ? { value: answer.value, of: asking.design, failure: null } : { ...before, failure: answer },
          asking,
        );
      },
      apartMs,
    );
    let timer: ReturnType<typeof setTimeout> | undefined;
    let followed = this.asking();
    const ask = () => {
      const asking = this.asking();
      if (!asking || asking === this.lastAsked) return;
      this.lastAsked = asking;
      lane.ask(asking);
    };
    const follow = () => {
      const asking = this.asking();
      // A cursor that moves changes nothing that is asked, and keeps no second thought waiting.
      if (asking === followed) return;
      const elsewhere = asking?.subject !== followed?.subject;
      followed = asking;
      clearTimeout(timer);
      if (pace === 'frame') ask();
      else timer = setTimeout(ask, REST_MS);
      if (elsewhere) this.tell();
    };
    const stops = [
      documentStore.subscribe(follow),
      viewStore.subscribe(follow),
      followReading(() => this.catchUp()),
      ...follows.map((other) =>
        other.subscribe(() => {
          this.outdated = true;
          follow();
        }),
      ),
    ];
    ask();
    return () => {
      clearTimeout(timer);
      for (const stop of stops) stop();
      lane.close();
      // What was given up is asked again by whoever looks next.
      if (this.held.of !== this.lastAsked?.design) this.lastAsked = null;
    };
  }

  /** What would be asked now: the same as before, as long as nothing of it has changed. */
  private asking(): Asking<K> | null {
    const { design } = documentStore.getState();
    const view = viewStore.getState();
    if (!design) return null;
    const { seen } = this;
    if (seen && !this.outdated && seen.now.design === design && seen.now.view === view) return seen.asking;
    this.outdated = false;
    const now = { design, view };
    const asked = this.ask(now);
    const about = asked && (this.options.about?.(now, asked) ?? '');
    const asking = asked && { design, asked, key: JSON.stringify(asked), subject: `${subjectOf(design)} ${about}` };
    const before = seen?.asking;
    const same =
      before?.design === design && before.key === asking?.key && before.subject === asking.subject ? before : null;
    this.seen = { now, asking: same ?? asking };
    return this.seen.asking;
  }

  private hold(held: Held<JobAnswers[K]>, { subject, key }: Pick<Asking<K>, 'subject' | 'key'>): void {
    this.held = { ...held, subject, key };
    if (!viewStore.getState().dragging) this.read = this.held;
    this.tell();
    newsToRead();
  }

  /** What is read is what is watched, when its turn has come. */
  private catchUp(): void {
    if (this.read === this.held) return;
    this.read = this.held;
    this.tell();
  }

  private tell(): void {
    for (const tell of this.tellers) tell();
    for (const tell of this.followers) tell();
  }
}

const nothing = () => null;

/**
 * What a question's answer says, null until it is there; the question is asked while this is mounted. While something
 * is dragged it follows a few times less often, as the design does.
 * @param select a part of the answer: the same one as long as the answer is the same.
 */
export function useAnswer<K extends Kind, T = JobAnswers[K]>(
  question: Question<K>,
  select: (value: JobAnswers[K]) => T = (value) => value as unknown as T,
  reading: 'watched' | 'read' = 'read',
): T | null {
  const now = () => {
    const { value } = question.current(reading);
    return value === null ? null : select(value);
  };
  return useSyncExternalStore(question.subscribe, now, nothing);
}

/** The same with every answer that comes while something is dragged: for curves and what stands on them. */
export const useLiveAnswer = <K extends Kind, T = JobAnswers[K]>(
  question: Question<K>,
  select?: (value: JobAnswers[K]) => T,
): T | null => useAnswer(question, select, 'watched');

/** An answer that is behind for longer is marked, ms: a newer one that comes within that is not waited for. */
export const LATE_MS = 400;

/** Whether what is shown of a question has been of the document as it was before for a while. */
export function useIsLate<K extends Kind>(question: Question<K>): boolean {
  const subscribe = useCallback(
    (tell: () => void) => {
      const stops = [question.subscribe(tell), documentStore.subscribe(tell)];
      return () => stops.forEach((stop) => stop());
    },
    [question],
  );
  const behind = useSyncExternalStore(subscribe, question.isBehind, () => false);
  const [late, setLate] = useState(false);
  useEffect(() => {
    if (!behind) return;
    const timer = setTimeout(() => setLate(true), LATE_MS);
    return () => {
      clearTimeout(timer);
      setLate(false);
    };
  }, [behind]);
  return behind && late;
}

/** What can fail to answer. */
export type Askable = Pick<Question<never>, 'subscribe'> & { current(): Pick<Held<unknown>, 'failure'> };

/** Why the first of some questions that has no answer for the design as it stands has none. */
export function useFailure(questions: readonly Askable[]): Failure | null {
  const subscribe = useCallback(
    (tell: () => void) => {
      const stops = questions.map((question) => question.subscribe(tell));
      return () => stops.forEach((stop) => stop());
    },
    [questions],
  );
  const now = () => questions.map((question) => question.current().failure).find((found) => found !== null) ?? null;
  return useSyncExternalStore(subscribe, now, nothing);
}
