import { proxy, wrap, type Remote } from 'comlink';
import type { JobAnswers, JobRequest } from '@/core/jobs/run-job';
import type { Result } from '@/core/result';
import type { JobWorkerApi } from './job.worker';

/** Quick jobs must not wait behind long ones: each kind of work has its own worker. */
type Lane = 'quick' | 'long';
const lanes: Partial<Record<Lane, Remote<JobWorkerApi>>> = {};
let lastId = 0;

function lane(name: Lane): Remote<JobWorkerApi> {
  return (lanes[name] ??= wrap<JobWorkerApi>(new Worker(new URL('./job.worker.ts', import.meta.url), { type: 'module' })));
}

export interface RunningJob<T> {
  readonly answer: Promise<Result<T>>;
  cancel(): void;
}

/** Sends a job to a worker. Cancelling asks it to stop; the answer is then a failure `cancelled`. */
export function startJob<K extends JobRequest['kind']>(request: Extract<JobRequest, { kind: K }>, options: { lane?: Lane; onProgress?: (share: number) => void } = {}): RunningJob<JobAnswers[K]> {
  const worker = lane(options.lane ?? 'quick');
  const id = ++lastId;
  const answer = worker.run(id, request, options.onProgress ? proxy(options.onProgress) : null) as Promise<Result<JobAnswers[K]>>;
  return { answer, cancel: () => void worker.cancel(id) };
}

/**
 * Runs one job at a time and, while it runs, keeps only the newest request: a drag never builds a queue, and stale requests are never computed.
 */
export class LatestJob<K extends JobRequest['kind']> {
  private busy = false;
  private waiting: Extract<JobRequest, { kind: K }> | null = null;

  constructor(private readonly deliver: (answer: Result<JobAnswers[K]>, request: Extract<JobRequest, { kind: K }>) => void) {}

  ask(request: Extract<JobRequest, { kind: K }>): void {
    if (this.busy) {
      this.waiting = request;
      return;
    }
    this.busy = true;
    void startJob<K>(request).answer.then((answer) => {
      this.busy = false;
      const next = this.waiting;
      this.waiting = null;
      if (next) this.ask(next);
      this.deliver(answer, request);
    });
  }

  /** Forgets what waits; what runs will still be delivered. */
  clear(): void {
    this.waiting = null;
  }
}
