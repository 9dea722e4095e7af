import { proxy, wrap } from 'comlink';
import type { JobAnswers, JobRequest } from '@/core/jobs/run-job';
import { newId } from '@/store/new-id';
import { WORKERS } from './addresses';
import { JobLanes, poolSize, type JobWorker, type RunningJob } from './job-lanes';
import type { JobWorkerApi } from './job.worker';

export type { RunningJob } from './job-lanes';

function makeWorker(): JobWorker<JobRequest> {
  const worker = new Worker(WORKERS.job, { type: 'module' });
  const remote = wrap<JobWorkerApi>(worker);
  const lost = new Promise<void>((resolve) => {
    worker.addEventListener('error', () => resolve());
    worker.addEventListener('messageerror', () => resolve());
    // One that ends without a word, for want of memory or by the browser's own doing, lets go of its lock.
    const name = `job-worker-${newId()}`;
    const freed = () => navigator.locks?.request(name, () => resolve());
    void remote.hold(name).then(freed, () => resolve());
  });
  return {
    run: (id, request, onProgress) => remote.run(id, request, onProgress ? proxy(onProgress) : null),
    cancel: (id) => void remote.cancel(id),
    lost,
    end: () => worker.terminate(),
  };
}

let lanes: JobLanes<JobRequest> | null = null;

/** Sends a job to a worker; what the desk shows goes to one of its own. See `JobLanes` for how it can fail. */
export function startJob<K extends JobRequest['kind']>(
  request: Extract<JobRequest, { kind: K }>,
  onProgress?: (share: number, soFar?: JobAnswers[K]) => void,
): RunningJob<JobAnswers[K]> {
  lanes ??= new JobLanes(makeWorker, poolSize(navigator.hardwareConcurrency));
  return lanes.start<JobAnswers[K]>(request, {
    first: request.kind === 'desk',
    onProgress: onProgress && ((share, soFar) => onProgress(share, soFar as JobAnswers[K] | undefined)),
  });
}
