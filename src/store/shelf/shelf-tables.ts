import type { ZodType } from 'zod';
import * as z from 'zod';
import { opAmpSchema } from '@/core/device/op-amps';
import { driverSchema } from '@/core/loudspeaker/driver';
import { stockItemSchema, type StockItem } from '@/core/parts/stock';
import { PART_UNITS } from '@/core/topology/kit/part-units';
import { formatQuantity } from '@/core/units/quantity';
import { database } from './database';

/** Rows of a table beside the designs, as they lie in the browser and in a backup. */
type Row = Readonly<Record<string, unknown>>;
interface Rows {
  get(key: string): PromiseLike<Row | undefined>;
  put(row: Row): PromiseLike<unknown>;
  delete(key: string): PromiseLike<unknown>;
  toArray(): PromiseLike<Row[]>;
}

/** A table beside the designs: where it lies in a backup, what its rows are, and what they are known by. */
export interface ShelfTable {
  readonly file: string;
  readonly schema: ZodType<Row>;
  readonly keyOf: (row: Row) => string;
  readonly titleOf: (row: Row) => string;
  /** The table of the database that is open. */
  readonly rows: () => Rows;
  /** Where a row of the same key would be in the way of one of this table. */
  readonly besides?: () => Pick<Rows, 'get'>;
}

const settingSchema = z.object({ key: z.string().min(1), value: z.unknown() });
const removedSchema = z.object({
  id: z.string(),
  title: z.string(),
  updatedAt: z.string(),
  revision: z.number().int().min(1),
  removedAt: z.iso.datetime(),
  design: z.unknown(),
});

const named = (row: Row): string => String(row.name || row.id);
/** A part by its name, or by its value. */
const partNamed = ({ name, kind, value }: StockItem): string =>
  name || value === null || kind === 'op-amp'
    ? name || kind
    : `${formatQuantity(value, PART_UNITS[kind], { digits: 3 })} ${kind}`;
const idOf = (row: Row): string => String(row.id);

export const SHELF_TABLES = {
  stock: {
    file: 'stock.json',
    schema: stockItemSchema,
    keyOf: idOf,
    titleOf: (row) => partNamed(row as StockItem),
    rows: () => database.stock as unknown as Rows,
  },
  opAmps: {
    file: 'op-amps.json',
    schema: opAmpSchema,
    keyOf: idOf,
    titleOf: named,
    rows: () => database.opAmps as unknown as Rows,
  },
  drivers: {
    file: 'drivers.json',
    schema: driverSchema,
    keyOf: idOf,
    titleOf: named,
    rows: () => database.drivers as unknown as Rows,
  },
  settings: {
    file: 'settings.json',
    schema: settingSchema,
    keyOf: (row) => String(row.key),
    titleOf: (row) => String(row.key),
    rows: () => database.settings as unknown as Rows,
  },
  removed: {
    file: 'removed.json',
    schema: removedSchema,
    keyOf: idOf,
    titleOf: (row) => String(row.title || 'untitled'),
    rows: () => database.removed as unknown as Rows,
    // A design that is on the shelf is not removed.
    besides: () => database.designs as unknown as Rows,
  },
} as const satisfies Record<string, ShelfTable>;
export type TableName = keyof typeof SHELF_TABLES;
export const TABLE_NAMES = Object.keys(SHELF_TABLES) as TableName[];
export const tableNamed = (name: TableName): ShelfTable => SHELF_TABLES[name];
