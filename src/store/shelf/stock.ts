import { useLiveQuery } from 'dexie-react-hooks';
import { useMemo } from 'react';
import { demoStock, valuesInStock, type StockItem } from '@/core/parts/stock';
import { database } from './database';
import { newId } from '../new-id';

const NONE: readonly StockItem[] = [];

/** The drawer, as it lies in the browser: shared by all designs. Undefined until it has been read. */
export const useStock = (): readonly StockItem[] | undefined => useLiveQuery(() => database.stock.toArray(), []);

export function useStockedCapacitors(): readonly number[] {
  const stock = useStock() ?? NONE;
  return useMemo(() => valuesInStock(stock, 'capacitor'), [stock]);
}

export const putStock = async (items: readonly StockItem[]): Promise<void> =>
  void (await database.stock.bulkPut([...items]));
export const changeStock = async (id: string, patch: Partial<StockItem>): Promise<void> =>
  void (await database.stock.update(id, patch));
export const removeStock = async (id: string): Promise<void> => void (await database.stock.delete(id));
/** Puts other parts in place of all there are; gives what there was, so that it can be put back. */
export async function replaceStock(items: readonly StockItem[]): Promise<StockItem[]> {
  return database.transaction('rw', database.stock, async () => {
    const before = await database.stock.toArray();
    await database.stock.clear();
    await database.stock.bulkPut([...items]);
    return before;
  });
}
export const stockWorkshop = async (): Promise<void> => putStock(demoStock(newId));
