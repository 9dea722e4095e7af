import { expose, transfer, type ProxyMarked } from 'comlink';
import type { Result } from '@/core/result';
import { READERS, type ReaderName } from './readers';

/** Samples go over to the page, they are not copied. */
const buffersOf = (answer: Result<unknown>): ArrayBuffer[] =>
  answer.ok && typeof answer.value === 'object' && answer.value !== null
    ? Object.values(answer.value)
        .flat()
        .flatMap((v) => (v instanceof Float64Array ? [v.buffer as ArrayBuffer] : []))
    : [];

const api = {
  read(reader: ReaderName, bytes: Uint8Array, name: string, tell: ((share: number) => void) & ProxyMarked) {
    const answer: Result<unknown> = READERS[reader](bytes, name, (share) => void tell(share));
    return transfer(answer, buffersOf(answer));
  },
};

export type ReadingApi = typeof api;
expose(api);
