import { proxy, wrap, type Remote } from 'comlink';
import type { JobAnswers, JobRequest } from '@/core/jobs/run-job';
import type { Result } from '@/core/result';
import type { JobWorkerApi } from './job.worker';
import { poolSize, WorkerPool } from './worker-pool';

let workers: WorkerPool<Remote<JobWorkerApi>> | null = null;
let lastId = 0;

function pool(): WorkerPool<Remote<JobWorkerApi>> {
  return (workers ??= new WorkerPool(
    () => wrap<JobWorkerApi>(new Worker(new URL('./job.worker.ts', import.meta.url), { type: 'module' })),
    poolSize(navigator.hardwareConcurrency),
  ));
}

export interface RunningJob<T> {
  readonly answer: Promise<Result<T>>;
  cancel(): void;
}

/**
 * Sends a job to a worker: what the desk shows to a worker of its own, the rest to whichever has the least to do.
 * Cancelling asks it to stop; the answer is then a failure `cancelled`.
 */
export function startJob<K extends JobRequest['kind']>(
  request: Extract<JobRequest, { kind: K }>,
  onProgress?: (share: number) => void,
): RunningJob<JobAnswers[K]> {
  const { worker, release } = request.kind === 'desk' ? pool().first : pool().leastBusy;
  const id = ++lastId;
  const answer = (
    worker.run(id, request, onProgress ? proxy(onProgress) : null) as Promise<Result<JobAnswers[K]>>
  ).finally(release);
  return { answer, cancel: () => void worker.cancel(id) };
}
