/**
 * Which worker takes a job. The first is kept for what must answer within a frame, and so keeps the plans and programs
 * of the circuit on the desk; the others share the rest, each job going to the one with the least to do.
 */
export class WorkerPool<W> {
  private readonly workers: W[] = [];
  private readonly busy: number[] = [];

  constructor(
    private readonly make: () => W,
    private readonly size: number,
  ) {}

  /** The worker for what must not wait. */
  get first(): { readonly worker: W; release(): void } {
    return this.take(0);
  }

  /** The least busy of the others; a worker is made when all are at work and there may be more. */
  get leastBusy(): { readonly worker: W; release(): void } {
    let best = 1;
    for (let i = 1; i < Math.max(2, this.size); i++) if ((this.busy[i] ?? 0) < (this.busy[best] ?? 0)) best = i;
    return this.take(best);
  }

  private take(index: number): { readonly worker: W; release(): void } {
    this.workers[index] ??= this.make();
    this.busy[index] = (this.busy[index] ?? 0) + 1;
    let held = true;
    return {
      worker: this.workers[index],
      release: () => {
        if (held) this.busy[index]--;
        held = false;
      },
    };
  }
}

/** Two at least, so that long work never blocks the desk; no more than the machine has cores to spare. */
export const poolSize = (cores: number): number => Math.max(2, Math.min(5, cores - 1));
