import { expose, type ProxyMarked } from 'comlink';
import { JobRunner, type JobRequest } from '@/core/jobs/run-job';

const runner = new JobRunner();
const running = new Map<number, { aborted: boolean }>();

const api = {
  /** Holds a lock as long as the worker lives; resolves when it is held, or at once where there are no locks. */
  hold: (name: string): Promise<void> =>
    new Promise((resolve) => {
      if (!navigator.locks) return resolve();
      void navigator.locks.request(name, () => {
        resolve();
        return new Promise(() => {});
      });
    }),
  async run(
    id: number,
    request: JobRequest,
    onProgress: (((share: number, soFar?: unknown) => void) & ProxyMarked) | null,
  ): Promise<unknown> {
    const signal = { aborted: false };
    running.set(id, signal);
    try {
      return await runner.run(request as never, {
        signal,
        progress: (share, soFar) => void onProgress?.(share, soFar),
        pause: () => new Promise((resolve) => setTimeout(resolve, 0)),
        now: () => performance.now(),
      });
    } finally {
      running.delete(id);
    }
  },
  cancel(id: number): void {
    const signal = running.get(id);
    if (signal) signal.aborted = true;
  },
};

export type JobWorkerApi = typeof api;
expose(api);
