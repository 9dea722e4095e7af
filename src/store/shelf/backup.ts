import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { strToU8, zipSync } from 'fflate';
import { writeDesign } from '@/core/design/document/migrate';
import { reasonOf } from '@/core/result';
import { database } from './database';
import { readRow } from './save-design';
import { TABLE_NAMES, tableNamed } from './shelf-tables';

/** What a backup says it is, and the file in it that says so. */
export const BACKUP_FORMAT = 'jaunty-reed-shelf';
export const BACKUP_VERSION = 2;
export const MANIFEST = 'shelf.json';

export const hashOf = (bytes: Uint8Array): string => bytesToHex(sha256(bytes));

/** A row that is in a backup as it lies, since it does not read, or as a remark where it cannot be written either. */
export interface UnreadRow {
  readonly file: string;
  readonly title: string;
  readonly reason: string;
}
export interface WrittenBackup {
  readonly bytes: Uint8Array<ArrayBuffer>;
  readonly unread: readonly UnreadRow[];
}

const jsonOf = (value: unknown): string => `${JSON.stringify(value, null, 2)}\n`;

/**
 * Everything that lies in the browser as one zip: designs with their dates, stock, op-amps, drivers, settings, and what
 * was removed of late; and a manifest that says what there should be, each file with its hash. Every row is written by
 * itself: one that does not read keeps no other back.
 */
export async function backupShelf(): Promise<WrittenBackup> {
  const files: Record<string, Uint8Array> = {};
  const unread: UnreadRow[] = [];
  const listed: object[] = [];
  const put = (file: string, text: string, about: object = {}) => {
    files[file] = strToU8(text);
    listed.push({ file, sha256: hashOf(files[file]), ...about });
  };
  for (const [i, row] of (await database.designs.toArray()).entries()) {
    const { updatedAt, revision } = row;
    const read = readRow(row);
    if (read.ok) {
      put(`designs/${row.id}.json`, writeDesign(read.value), { updatedAt, revision });
      continue;
    }
    // Under a number: its name may be what is wrong with it.
    const file = `designs/unread-${i + 1}.json`;
    put(file, asItLies(row.design), { updatedAt, revision });
    unread.push({ file, title: titleOf(row.title), reason: read.code });
  }
  for (const name of TABLE_NAMES) {
    const { file, rows } = tableNamed(name);
    const texts = (await rows().toArray()).map((row) => asItLies(row).trimEnd());
    put(file, texts.length === 0 ? '[]\n' : `[\n${texts.join(',\n')}\n]\n`, { rows: texts.length });
  }
  files[MANIFEST] = strToU8(jsonOf({ format: BACKUP_FORMAT, version: BACKUP_VERSION, files: listed }));
  return { bytes: zipSync(files) as Uint8Array<ArrayBuffer>, unread };
}

const titleOf = (title: unknown): string => (typeof title === 'string' && title !== '' ? title : 'untitled');

/** A row as JSON; of one that JSON cannot say, why. */
function asItLies(row: unknown): string {
  try {
    return jsonOf(row ?? null);
  } catch (error) {
    return jsonOf({ unwritten: reasonOf(error) });
  }
}
