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
