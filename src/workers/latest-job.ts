import type { JobAnswers, JobRequest } from '@/core/jobs/run-job';
import type { Result } from '@/core/result';

/**
 * Runs one job at a time and, while it runs, keeps only the newest request: a drag never builds a queue, and stale
 * requests are never computed.
 */
export class LatestJob<K extends JobRequest['kind']> {
  private busy = false;
  private waiting: Extract<JobRequest, { kind: K }> | null = null;
  private closed = false;

  constructor(
    private readonly start: (request: Extract<JobRequest, { kind: K }>) => {
      readonly answer: Promise<Result<JobAnswers[K]>>;
    },
    private readonly deliver: (answer: Result<JobAnswers[K]>, request: Extract<JobRequest, { kind: K }>) => void,
  ) {}

  ask(request: Extract<JobRequest, { kind: K }>): void {
    if (this.closed) return;
    if (this.busy) {
      this.waiting = request;
      return;
    }
    this.busy = true;
    void this.start(request).answer.then((answer) => {
      this.busy = false;
      const next = this.waiting;
      this.waiting = null;
      if (next) this.ask(next);
      if (!this.closed) this.deliver(answer, request);
    });
  }

  /** Whoever asked is gone: what waits is forgotten, and what runs is not delivered. */
  close(): void {
    this.waiting = null;
    this.closed = true;
  }
}
