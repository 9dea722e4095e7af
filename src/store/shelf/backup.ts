import equal from 'fast-deep-equal';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { z } from 'zod';
import { readDesign, readDesignText, writeDesign } from '@/core/design/document/migrate';
import type { Design } from '@/core/design/document/schema';
import { opAmpSchema, type OpAmp } from '@/core/device/op-amps';
import { driverSchema, type Driver } from '@/core/loudspeaker/driver';
import { stockItemSchema, type StockItem } from '@/core/parts/stock';
import { failure, success, type Result, reasonOf } from '@/core/result';
import { database, type RemovedRow, type SettingRow } from './database';
import { newId } from '../new-id';
import { readRow } from './save-design';

const FORMAT = 'jaunty-reed-shelf';
const settingSchema = z.object({ key: z.string(), value: z.unknown() });
const removedSchema = z.object({
  id: z.string(),
  title: z.string(),
  updatedAt: z.string(),
  revision: z.number().int().min(1),
  removedAt: z.iso.datetime(),
  design: z.unknown(),
});
const manifestSchema = z.object({
  format: z.literal(FORMAT),
  version: z.literal(1),
  designs: z.array(z.object({ file: z.string(), updatedAt: z.string(), revision: z.number().int().min(1) })),
});

/** A design with the day and the count of its last change; of a file without a manifest, as it comes in. */
export interface BackedUp {
  readonly design: Design;
  readonly updatedAt: string | null;
  readonly revision: number;
}
export interface Fault {
  readonly file: string;
  readonly code: string;
  readonly data: Readonly<Record<string, string | number | boolean | readonly string[]>>;
}

/** What a file holds that can be taken, and what of it does not read. */
export interface Backup {
  readonly designs: readonly BackedUp[];
  readonly stock: readonly StockItem[];
  readonly opAmps: readonly OpAmp[];
  readonly drivers: readonly Driver[];
  readonly settings: readonly SettingRow[];
  readonly removed: readonly RemovedRow[];
  readonly faults: readonly Fault[];
}

/**
 * Everything that lies in the browser as one zip: designs with their dates, stock, op-amps, drivers, settings, and what
 * was removed of late.
 */
export async function backupShelf(): Promise<Uint8Array<ArrayBuffer>> {
  const [rows, stock, opAmps, drivers, settings, removed] = await Promise.all([
    database.designs.toArray(),
    database.stock.toArray(),
    database.opAmps.toArray(),
    database.drivers.toArray(),
    database.settings.toArray(),
    database.removed.toArray(),
  ]);
  const files: Record<string, Uint8Array> = {};
  const json = (name: string, value: unknown) => (files[name] = strToU8(`${JSON.stringify(value, null, 2)}\n`));
  const designs = rows.map((row, i) => {
    const read = readRow(row);
    // What does not read is kept as it lies, under a number: its name may be what is wrong with it.
    const file = `designs/${read.ok ? row.id : `unread-${i + 1}`}.json`;
    if (read.ok) files[file] = strToU8(writeDesign(read.value));
    else json(file, row.design);
    return { file, updatedAt: row.updatedAt, revision: row.revision };
  });
  json('shelf.json', { format: FORMAT, version: 1, designs });
  json('stock.json', stock);
  json('op-amps.json', opAmps);
  json('drivers.json', drivers);
  json('settings.json', settings);
  json('removed.json', removed);
  return zipSync(files) as Uint8Array<ArrayBuffer>;
}

/** Files that are not designs. */
const TABLES = new Set(['shelf.json', 'stock.json', 'op-amps.json', 'drivers.json', 'settings.json', 'removed.json']);
const NOTHING: Backup = { designs: [], stock: [], opAmps: [], drivers: [], settings: [], removed: [], faults: [] };
const isZip = (bytes: Uint8Array): boolean => bytes[0] === 0x50 && bytes[1] === 0x4b;

/** Reads one design as JSON, or a whole backup: every good file is taken, the others are named. */
export function readBackup(bytes: Uint8Array, name: string): Result<Backup> {
  if (!isZip(bytes)) {
    const one = readDesignText(new TextDecoder().decode(bytes));
    return one.ok ? success({ ...NOTHING, designs: [{ design: one.value, updatedAt: null, revision: 1 }] }) : one;
  }
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes);
  } catch (error) {
    return failure('broken-zip', { file: name, reason: reasonOf(error) });
  }
  const read = new BackupFiles(files);
  const backup: Backup = {
    designs: read.designs(),
    stock: read.table('stock.json', stockItemSchema),
    opAmps: read.table('op-amps.json', opAmpSchema),
    drivers: read.table('drivers.json', driverSchema),
    settings: read.table('settings.json', settingSchema),
    removed: read.table('removed.json', removedSchema),
    faults: read.faults,
  };
  const { designs, stock, opAmps, drivers, faults } = backup;
  const anything = designs.length + stock.length + opAmps.length + drivers.length + faults.length > 0;
  return anything ? success(backup) : failure('empty-zip', { file: name });
}

/** The files of a backup, read one by one; what does not read is kept as a fault. */
class BackupFiles {
  readonly faults: Fault[] = [];

  constructor(private readonly files: Readonly<Record<string, Uint8Array>>) {}

  designs(): BackedUp[] {
    const manifest = manifestSchema.safeParse(this.parsed('shelf.json'));
    const listed = new Map(manifest.success ? manifest.data.designs.map((d) => [d.file, d]) : []);
    return Object.keys(this.files).flatMap((file): BackedUp[] => {
      if (!file.endsWith('.json') || TABLES.has(file)) return [];
      const given = this.parsed(file);
      if (given === undefined) return [];
      const read = readDesign(given);
      if (!read.ok) {
        this.faults.push({ file, code: read.code, data: read.data });
        return [];
      }
      const entry = listed.get(file);
      return [{ design: read.value, updatedAt: entry?.updatedAt ?? null, revision: entry?.revision ?? 1 }];
    });
  }

  /** Items of a table that read; each that does not is named by its place. */
  table<T>(file: string, schema: z.ZodType<T>): T[] {
    const given = this.parsed(file);
    if (given === undefined) return [];
    const broken = (issue: string) => {
      this.faults.push({ file, code: 'broken-table', data: { issues: [issue] } });
      return [];
    };
    if (!Array.isArray(given)) return broken('it is no list');
    return given.flatMap((item, i) => {
      const read = schema.safeParse(item);
      if (read.success) return [read.data];
      const [issue] = read.error.issues;
      return broken(`${[i, ...issue.path].join('.')}: ${issue.message}`);
    });
  }

  private parsed(file: string): unknown {
    if (!this.files[file]) return undefined;
    try {
      return JSON.parse(strFromU8(this.files[file]));
    } catch (error) {
      this.faults.push({ file, code: 'not-json', data: { message: reasonOf(error) } });
      return undefined;
    }
  }
}

/** Designs of a backup whose ids lie on the shelf with something else in them. */
export async function clashes({ designs }: Backup): Promise<BackedUp[]> {
  const found: BackedUp[] = [];
  for (const one of designs) {
    const row = await database.designs.get(one.design.id);
    const lies = row && readRow(row);
    if (row && !(lies?.ok && equal(lies.value, one.design))) found.push(one);
  }
  return found;
}

/** What is done with a design whose id lies on the shelf with something else in it. */
export type OnClash = 'keep-both' | 'replace' | 'skip';

/** Puts a backup onto the shelf; what lies there alike stays as it lies. Gives how many designs came in. */
export async function restoreBackup(backup: Backup, onClash: OnClash, now = new Date()): Promise<number> {
  const { designs, stock, opAmps, drivers, settings, removed } = backup;
  const different = new Set((await clashes(backup)).map((c) => c.design.id));
  const { designs: table } = database;
  return database.transaction(
    'rw',
    [table, database.stock, database.opAmps, database.drivers, database.settings, database.removed],
    async () => {
      let taken = 0;
      for (const { design, updatedAt, revision } of designs) {
        const row = await table.get(design.id);
        const clashing = row !== undefined && different.has(design.id);
        if (row && (!clashing || onClash === 'skip')) continue;
        const beside = clashing && onClash === 'keep-both';
        const kept = beside ? { ...design, id: newId(), title: `${design.title} (copy)` } : design;
        await table.put({
          id: kept.id,
          title: kept.title,
          updatedAt: updatedAt ?? now.toISOString(),
          revision: row && !beside ? Math.max(row.revision + 1, revision) : revision,
          design: kept,
        });
        taken++;
      }
      const add = async <T extends { id: string }>(
        into: { get(id: string): PromiseLike<T | undefined>; put(item: T): PromiseLike<unknown> },
        items: readonly T[],
      ) => {
        for (const item of items) if (onClash === 'replace' || !(await into.get(item.id))) await into.put(item);
      };
      await add<StockItem>(database.stock as never, stock);
      await add<OpAmp>(database.opAmps as never, opAmps);
      await add<Driver>(database.drivers as never, drivers);
      await add<RemovedRow>(database.removed as never, removed);
      for (const setting of settings)
        if (onClash === 'replace' || !(await database.settings.get(setting.key))) await database.settings.put(setting);
      return taken;
    },
  );
}
