import { proxy, transfer, wrap } from 'comlink';
import { failure, type Failure } from '@/core/result';
import { WORKERS } from './addresses';
import type { Read, ReaderName } from './readers';
import type { ReadingApi } from './reading.worker';

/** Up to so many bytes a file is read at once: it takes less than a frame. */
const AT_ONCE_BYTES = 200e3;

export interface Reading<K extends ReaderName> {
  /** Null where it was stopped. */
  readonly answer: Promise<Read<K> | Failure<'reading-lost'> | null>;
  readonly stop: () => void;
}

/**
 * Reads a file, a long one in a worker of its own that ends with it. Fails as its reader does, or with `reading-lost`
 * (`file`) where the worker ended before it was done. What it is given is its own from then on.
 * @param tell the share that is read, now and then.
 */
export function readFile<K extends ReaderName>(
  reader: K,
  { bytes, name }: { readonly bytes: Uint8Array; readonly name: string },
  tell: (share: number) => void,
): Reading<K> {
  const lost = failure('reading-lost', { file: name });
  if (bytes.length <= AT_ONCE_BYTES)
    return {
      answer: import('./readers').then(
        ({ READERS }) => READERS[reader](bytes, name, tell) as Read<K>,
        () => lost,
      ),
      stop,
    };
  const worker = new Worker(WORKERS.reading, { type: 'module' });
  const remote = wrap<ReadingApi>(worker);
  let stopped: () => void = stop;
  const ended = new Promise<typeof lost | null>((resolve) => {
    stopped = () => resolve(null);
    worker.addEventListener('error', () => resolve(lost));
    worker.addEventListener('messageerror', () => resolve(lost));
  });
  const read = remote.read(reader, transfer(bytes, [bytes.buffer as ArrayBuffer]), name, proxy(tell)).then(
    (answer) => answer as Read<K>,
    () => lost,
  );
  return { answer: Promise.race([read, ended]).finally(() => worker.terminate()), stop: () => stopped() };
}

/** There is nothing to stop. */
function stop(): void {}
