import equal from 'fast-deep-equal';
import { database, type ShelfRow } from './database';
import { newId } from '../new-id';
import type { BackedUp, Backup } from './read-backup';
import { readRow } from './save-design';
import { tellShelf } from './shelf-rows';
import { TABLE_NAMES, tableNamed, type TableName } from './shelf-tables';

/**
 * How a row of a backup stands to the shelf: not there, there alike, or there otherwise; of a design by its date.
 * `twice`: the backup itself has another of the same id before it.
 */
export type RowState = 'new' | 'same' | 'older' | 'newer' | 'differs' | 'twice';
/** What becomes of it: taken, in place of what is there; taken beside that; or left. */
export type RowChoice = 'take' | 'beside' | 'leave';

interface Row<Table, Value> {
  readonly table: Table;
  readonly key: string;
  readonly title: string;
  readonly state: RowState;
  readonly value: Value;
}
export type BackupRow = Row<'designs', BackedUp> | Row<TableName, Readonly<Record<string, unknown>>>;

/** What is proposed: what is not there and what is newer come in, nothing else is touched. */
export const proposed = ({ state }: BackupRow): RowChoice =>
  state === 'new' || state === 'newer' ? 'take' : state === 'twice' ? 'beside' : 'leave';

/** Every row of a backup with how it stands to the shelf, designs first. */
export async function compareWithShelf({ designs, tables }: Backup): Promise<BackupRow[]> {
  const rows: BackupRow[] = [];
  const seen = new Set<string>();
  for (const value of designs) {
    const { id: key, title } = value.design;
    const state = seen.has(key) ? 'twice' : stateOf(value, await database.designs.get(key));
    seen.add(key);
    rows.push({ table: 'designs', key, title: title || 'untitled', state, value });
  }
  for (const table of TABLE_NAMES) {
    const { keyOf, titleOf, rows: lying, besides } = tableNamed(table);
    for (const value of tables[table]) {
      const key = keyOf(value);
      const there = (await lying().get(key)) ?? (await besides?.().get(key));
      const state = there === undefined ? 'new' : equal(there, value) ? 'same' : 'differs';
      rows.push({ table, key, title: titleOf(value), state, value });
    }
  }
  return rows;
}

function stateOf({ design, updatedAt }: BackedUp, row: ShelfRow | undefined): RowState {
  if (!row) return 'new';
  const lies = readRow(row);
  if (lies.ok && equal(lies.value, design)) return 'same';
  const [ours, theirs] = [Date.parse(row.updatedAt), updatedAt === null ? NaN : Date.parse(updatedAt)];
  return theirs > ours ? 'newer' : theirs < ours ? 'older' : 'differs';
}

/** What a restore put where, and what lay there before: with it the shelf is as it was. */
export interface Restored {
  readonly taken: Readonly<Partial<Record<BackupRow['table'], number>>>;
  readonly before: readonly {
    readonly table: BackupRow['table'];
    readonly key: string;
    readonly lay: unknown;
    /** Of a design: the revision that it was put at. */
    readonly revision: number | null;
  }[];
}

const allTables = () => [database.designs, ...TABLE_NAMES.map((name) => tableNamed(name).rows() as never)];

/** Puts the rows that are chosen onto the shelf, all or none; nothing else is touched. */
export async function restoreRows(
  rows: readonly { readonly row: BackupRow; readonly choice: RowChoice }[],
  now = new Date(),
): Promise<Restored> {
  const taken: Partial<Record<BackupRow['table'], number>> = {};
  const before: Restored['before'][number][] = [];
  await database.transaction('rw', allTables(), async () => {
    for (const { row, choice } of rows) {
      if (choice === 'leave') continue;
      taken[row.table] = (taken[row.table] ?? 0) + 1;
      if (row.table === 'designs') before.push(await putDesign(row.value, choice === 'beside', now));
      else {
        const table = tableNamed(row.table).rows();
        before.push({ table: row.table, key: row.key, lay: await table.get(row.key), revision: null });
        await table.put(row.value);
      }
    }
  });
  for (const { table, key, revision } of before) if (table === 'designs') tellShelf({ id: key, revision });
  return { taken, before };
}

async function putDesign(
  { design, updatedAt, revision }: BackedUp,
  beside: boolean,
  now: Date,
): Promise<Restored['before'][number]> {
  const lay = beside ? undefined : await database.designs.get(design.id);
  const kept = beside ? { ...design, id: newId(), title: `${design.title} (copy)` } : design;
  const put = lay ? Math.max(lay.revision + 1, revision) : revision;
  const at = updatedAt ?? now.toISOString();
  await database.designs.put({ id: kept.id, title: kept.title, updatedAt: at, revision: put, design: kept });
  return { table: 'designs', key: kept.id, lay, revision: put };
}

/**
 * Takes a restore back: what lay there lies there again, what came in is gone. A design that has been changed since
 * stays. Gives how many rows stay.
 */
export async function undoRestore({ before }: Restored): Promise<number> {
  let stay = 0;
  const told: { id: string; revision: number | null }[] = [];
  await database.transaction('rw', allTables(), async () => {
    for (const { table, key, lay, revision } of [...before].reverse()) {
      if (table !== 'designs') {
        const rows = tableNamed(table).rows();
        await (lay === undefined ? rows.delete(key) : rows.put(lay as never));
        continue;
      }
      const here = await database.designs.get(key);
      if (here?.revision !== revision) {
        stay++;
        continue;
      }
      if (lay === undefined) await database.designs.delete(key);
      // Newer than what it takes the place of: a tab that has it open sees that it is behind.
      else await database.designs.put({ ...(lay as ShelfRow), revision: revision + 1 });
      told.push({ id: key, revision: lay === undefined ? null : revision + 1 });
    }
  });
  for (const news of told) tellShelf(news);
  return stay;
}
