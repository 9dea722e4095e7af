import { readScopeCsv } from '@/core/format/scope-csv';
import { readWav } from '@/core/format/wav';
import type { Result } from '@/core/result';
import { readShelfFile } from '@/store/shelf/read-backup';

type Reader = (bytes: Uint8Array, name: string, tell: (share: number) => void) => Result<unknown>;

/** What reads files that may be long: each from its bytes, telling the share that it has read. */
export const READERS = {
  wav: (bytes, _name, tell) => readWav(bytes, tell),
  scope: (bytes, _name, tell) => readScopeCsv(new TextDecoder().decode(bytes), tell),
  shelf: readShelfFile,
} as const satisfies Record<string, Reader>;
export type ReaderName = keyof typeof READERS;
export type Read<K extends ReaderName> = ReturnType<(typeof READERS)[K]>;
