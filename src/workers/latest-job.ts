import type { Result } from '@/core/result';
import type { RunningJob } from './job-lanes';

/**
 * Runs one job at a time and, while it runs, keeps only the newest request: a drag never builds a queue, and stale
 * requests are never computed.
 */
export class LatestJob<Asked, Answer> {
  private running: RunningJob<Answer> | null = null;
  private waiting: Asked | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private answeredAt = -Infinity;
  private closed = false;

  /** @param apartMs one job begins no sooner than this after the answer of the one before it. */
  constructor(
    private readonly start: (asked: Asked) => RunningJob<Answer>,
    private readonly deliver: (answer: Result<Answer>, asked: Asked) => void,
    private readonly apartMs: () => number = () => 0,
  ) {}

  ask(asked: Asked): void {
    if (this.closed) return;
    this.waiting = asked;
    if (!this.running) this.goOn();
  }

  /** Begins what waits, now or as soon as it may. */
  private goOn(): void {
    clearTimeout(this.timer);
    const asked = this.waiting;
    if (asked === null) return;
    const apart = this.apartMs();
    const wait = this.answeredAt + apart - performance.now();
    if (apart > 0 && wait > 0) {
      this.timer = setTimeout(() => this.goOn(), wait);
      return;
    }
    this.waiting = null;
    this.running = this.start(asked);
    void this.running.answer.then((answer) => {
      this.running = null;
      this.answeredAt = performance.now();
      if (this.closed) return;
      this.goOn();
      this.deliver(answer, asked);
    });
  }

  /** Whoever asked is gone: what waits is forgotten, what runs is given up and not delivered. */
  close(): void {
    clearTimeout(this.timer);
    this.waiting = null;
    this.closed = true;
    this.running?.cancel();
  }
}
