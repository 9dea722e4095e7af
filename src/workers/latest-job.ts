import type { Result } from '@/core/result';
import type { RunningJob } from './job-lanes';

/**
 * Runs one job at a time and, while it runs, keeps only the newest request: a drag never builds a queue, and stale
 * requests are never computed.
 */
export class LatestJob<Asked, Answer> {
  private running: RunningJob<Answer> | null = null;
  private waiting: Asked | null = null;
  private closed = false;

  constructor(
    private readonly start: (asked: Asked) => RunningJob<Answer>,
    private readonly deliver: (answer: Result<Answer>, asked: Asked) => void,
  ) {}

  ask(asked: Asked): void {
    if (this.closed) return;
    if (this.running) {
      this.waiting = asked;
      return;
    }
    this.running = this.start(asked);
    void this.running.answer.then((answer) => {
      this.running = null;
      const next = this.waiting;
      this.waiting = null;
      if (next) this.ask(next);
      if (!this.closed) this.deliver(answer, asked);
    });
  }

  /** Whoever asked is gone: what waits is forgotten, what runs is given up and not delivered. */
  close(): void {
    this.waiting = null;
    this.closed = true;
    this.running?.cancel();
  }
}
