import Dexie, { type EntityTable } from 'dexie';
import type { Driver } from '@/core/loudspeaker/driver';
import type { OpAmp } from '@/core/device/op-amps';
import type { StockItem } from '@/core/parts/stock';
import type { Design } from '@/core/design/schema';

/** A design as it lies in the browser. `revision` rises with every save, so that two tabs can tell who is behind. */
export interface ShelfRow {
  id: string;
  title: string;
  updatedAt: string;
  revision: number;
  design: Design;
}

interface SettingRow {
  key: string;
  value: unknown;
}

export const database = new Dexie('jaunty-reed') as Dexie & {
  designs: EntityTable<ShelfRow, 'id'>;
  settings: EntityTable<SettingRow, 'key'>;
  stock: EntityTable<StockItem, 'id'>;
  opAmps: EntityTable<OpAmp, 'id'>;
  drivers: EntityTable<Driver, 'id'>;
};
database.version(1).stores({ designs: 'id, updatedAt', settings: 'key' });
database.version(2).stores({ stock: 'id' });
database.version(3).stores({ opAmps: 'id', drivers: 'id' });

export const getSetting = async (key: string): Promise<unknown> => (await database.settings.get(key))?.value;
export const putSetting = async (key: string, value: unknown): Promise<void> =>
  void (await database.settings.put({ key, value }));
