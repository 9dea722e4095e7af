import Dexie, { type EntityTable } from 'dexie';
import { create } from 'zustand';
import type { Driver } from '@/core/loudspeaker/driver';
import type { OpAmp } from '@/core/device/op-amps';
import type { ShelfCard } from '@/core/jobs/desk/shelf-card';
import type { StockItem } from '@/core/parts/stock';
import type { Result } from '@/core/result';

/**
 * A design as it lies in the browser, as whatever version of the program wrote it. `revision` rises with every save, so
 * that two tabs can tell who is behind.
 */
export interface ShelfRow {
  id: string;
  title: string;
  updatedAt: string;
  revision: number;
  design: unknown;
}

export interface SettingRow {
  key: string;
  value: unknown;
}

/** What can be undone of a design, packed; of the revision that it was left at. */
export interface HistoryRow {
  id: string;
  revision: number;
  packed: Uint8Array<ArrayBuffer>;
}

/** A design that was taken off the shelf, and when: it can be brought back for a while. */
export interface RemovedRow extends ShelfRow {
  removedAt: string;
}

/** What the shelf shows of a design, or why it does not read: of a revision, worked out by a version of the program. */
export interface CardRow {
  id: string;
  revision: number;
  by: string;
  card: Result<ShelfCard>;
}

/** What the desk last showed of a design, by the kind of what was asked, and the build of the workers that said so. */
export interface AnswerRow {
  id: string;
  by: string;
  at: string;
  answers: Readonly<Record<string, unknown>>;
}

type Database = Dexie & {
  designs: EntityTable<ShelfRow, 'id'>;
  settings: EntityTable<SettingRow, 'key'>;
  stock: EntityTable<StockItem, 'id'>;
  opAmps: EntityTable<OpAmp, 'id'>;
  drivers: EntityTable<Driver, 'id'>;
  histories: EntityTable<HistoryRow, 'id'>;
  removed: EntityTable<RemovedRow, 'id'>;
  cards: EntityTable<CardRow, 'id'>;
  answers: EntityTable<AnswerRow, 'id'>;
};

function made(): Database {
  const dexie = new Dexie('jaunty-reed') as Database;
  dexie.version(1).stores({ designs: 'id, updatedAt', settings: 'key' });
  dexie.version(2).stores({ stock: 'id' });
  dexie.version(3).stores({ opAmps: 'id', drivers: 'id' });
  dexie.version(4).stores({ histories: 'id' });
  dexie.version(5).stores({ removed: 'id, removedAt', pictures: 'id' });
  dexie.version(6).stores({ cards: 'id', pictures: null });
  dexie.version(7).stores({ answers: 'id, at' });
  // Another tab, or the browser, deletes it: no new version is what that is told by.
  dexie.on('versionchange', (event) => {
    if (!event.newVersion) storageStore.setState({ deleted: true });
  });
  return dexie;
}

export let database = made();

export interface Storage {
  /** `memory`: the browser gives no database; what is done is gone with the tab. */
  readonly kind: 'opening' | 'browser' | 'memory';
  /** Why there is none. */
  readonly reason: string | null;
  /** Whether the browser has promised not to throw it away; null until it was asked. */
  readonly kept: boolean | null;
  /** Whether the database was deleted while this tab had it open: what was on the shelf is gone. */
  readonly deleted: boolean;
  /** How full it is, as a share of what the browser gives; null where it does not say. */
  readonly share: number | null;
}
export const storageStore = create<Storage>()(() => ({
  kind: 'opening',
  reason: null,
  kept: null,
  deleted: false,
  share: null,
}));

const reasonOf = (error: unknown): string =>
  error instanceof Dexie.MissingAPIError
    ? 'it has no IndexedDB'
    : error instanceof Error
      ? error.message
      : String(error);

const OPEN_MS = 10_000;
let opening: Promise<void> | null = null;

/** Opens the browser's database, or where there is none a stand-in in memory. Resolves when the tables can be used. */
export function openStorage(): Promise<void> {
  return (opening ??= (async () => {
    try {
      await Promise.race([
        database.open(),
        new Promise((_, reject) => setTimeout(() => reject(new Error('it does not open')), OPEN_MS)),
      ]);
      storageStore.setState({ kind: 'browser' });
    } catch (error) {
      const { IDBFactory, IDBKeyRange } = await import('fake-indexeddb');
      Object.assign(Dexie.dependencies, { indexedDB: new IDBFactory(), IDBKeyRange });
      database = made();
      await database.open();
      storageStore.setState({ kind: 'memory', reason: reasonOf(error) });
    }
  })());
}

/** Asks the browser not to throw the shelf away when it wants room, and how full it is. */
export async function keepStorage(): Promise<void> {
  if (storageStore.getState().kind !== 'browser') return;
  const kept = (await navigator.storage?.persist?.()) ?? false;
  const { usage, quota } = (await navigator.storage?.estimate?.()) ?? {};
  storageStore.setState({ kept, share: usage !== undefined && quota ? usage / quota : null });
}

export const getSetting = async (key: string): Promise<unknown> => (await database.settings.get(key))?.value;
export const putSetting = async (key: string, value: unknown): Promise<void> =>
  void (await database.settings.put({ key, value }));
