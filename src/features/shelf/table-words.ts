import type { BackupRow } from '@/store/shelf/restore';

type Table = BackupRow['table'];
/** What rows of a table are called, one and more. */
const WORDS: Readonly<Record<Table, readonly [one: string, more: string]>> = {
  designs: ['design', 'designs'],
  stock: ['part in stock', 'parts in stock'],
  opAmps: ['op-amp', 'op-amps'],
  drivers: ['driver', 'drivers'],
  settings: ['setting', 'settings'],
  removed: ['removed design', 'removed designs'],
};
export const countWords = (table: Table, count: number): string => `${count} ${WORDS[table][count === 1 ? 0 : 1]}`;
