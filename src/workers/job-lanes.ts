import { failure, type Result, reasonOf } from '@/core/result';

/** How far a job is (0 to 1), and what it would answer if it were stopped now, where it says so. */
export type OnProgress = (share: number, soFar?: unknown) => void;

/** A worker as the lanes need it: runs a job by number, is told to give one up, and may be lost with what it had. */
export interface JobWorker<Request> {
  run(id: number, request: Request, onProgress: OnProgress | null): Promise<unknown>;
  cancel(id: number): void;
  /** Settles when the worker has crashed or could not be loaded: what it was asked is then never answered. */
  readonly lost: Promise<void>;
  end(): void;
}

export interface RunningJob<T> {
  readonly answer: Promise<Result<T>>;
  cancel(): void;
}

interface Lane<Request> {
  readonly worker: JobWorker<Request>;
  busy: number;
}

const LOST = Symbol('lost');
/** A job is asked anew so often when its worker is lost under it: it may be what it dies of. */
const MOST_TRIES = 2;

/**
 * Which worker takes a job. The first is kept for what must answer within a frame, and so keeps the plans and programs
 * of the circuit on the desk; the others share the rest, each job going to the one with the least to do. Every job is
 * answered: what throws, what is lost with its worker and what is cancelled are failures.
 */
export class JobLanes<Request extends { readonly kind: string }> {
  private readonly lanes: (Lane<Request> | undefined)[] = [];
  private lastId = 0;

  constructor(
    private readonly make: () => JobWorker<Request>,
    private readonly size: number,
  ) {}

  /**
   * Begins a job. Its answer never rejects: it fails with `cancelled` as soon as it is cancelled, `job-failed` (`kind`,
   * `reason`) where it threw, or `worker-lost` (`kind`). Progress is told only until there is an answer.
   * @param first on the lane that is kept for what must not wait.
   */
  start<T>(
    request: Request,
    { first = false, onProgress }: { first?: boolean; onProgress?: OnProgress } = {},
  ): RunningJob<T> {
    const id = ++this.lastId;
    let over = false;
    let giveUp: () => void = () => {};
    let cancelled: () => void = () => {};
    const cancelling = new Promise<Result<T>>((resolve) => (cancelled = () => resolve(failure('cancelled'))));
    const progress = onProgress ? (share: number, soFar?: unknown) => void (over || onProgress(share, soFar)) : null;
    const running = async (): Promise<Result<T>> => {
      for (let tries = 1; ; tries++) {
        const index = first ? 0 : this.leastBusy();
        const lane = this.lane(index);
        lane.busy++;
        giveUp = () => lane.worker.cancel(id);
        try {
          const outcome = await Promise.race([
            lane.worker.run(id, request, progress),
            lane.worker.lost.then(() => LOST),
          ]);
          if (outcome !== LOST) return outcome as Result<T>;
        } catch (error) {
          return failure('job-failed', {
            kind: request.kind,
            reason: reasonOf(error),
          });
        } finally {
          lane.busy--;
        }
        this.replace(index, lane);
        if (over || tries === MOST_TRIES) return failure('worker-lost', { kind: request.kind });
      }
    };
    const answer = Promise.race([running(), cancelling]).finally(() => (over = true));
    return {
      answer,
      cancel: () => {
        if (over) return;
        over = true;
        giveUp();
        cancelled();
      },
    };
  }

  private lane(index: number): Lane<Request> {
    return (this.lanes[index] ??= { worker: this.make(), busy: 0 });
  }

  /** A worker is made when all others are at work and there may be more. */
  private leastBusy(): number {
    const busy = (i: number) => this.lanes[i]?.busy ?? 0;
    let best = 1;
    for (let i = 1; i < Math.max(2, this.size); i++) if (busy(i) < busy(best)) best = i;
    return best;
  }

  private replace(index: number, lost: Lane<Request>): void {
    lost.worker.end();
    if (this.lanes[index] === lost) this.lanes[index] = undefined;
  }
}

/** Two at least, so that long work never blocks the desk; no more than the machine has cores to spare. */
export const poolSize = (cores: number): number => Math.max(2, Math.min(5, cores - 1));
