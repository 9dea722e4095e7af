import { useLiveQuery } from 'dexie-react-hooks';
import { useMemo } from 'react';
import { demoDrivers } from '@/core/loudspeaker/demo-drivers';
import type { Driver } from '@/core/loudspeaker/driver';
import { database } from './database';

/**
 * Drivers of the maker's own, as they lie in the browser: shared by all designs. Undefined until they have been read.
 */
export const useOwnDrivers = (): readonly Driver[] | undefined => useLiveQuery(() => database.drivers.toArray(), []);
export const putDriver = async (driver: Driver): Promise<void> => void (await database.drivers.put(driver));
/** Changes what is said, and nothing else: what came in meanwhile stays. */
export const changeDriver = async (id: string, patch: Partial<Driver>): Promise<void> =>
  void (await database.drivers.update(id, patch));
export const removeDriver = async (id: string): Promise<void> => void (await database.drivers.delete(id));

const NONE: readonly Driver[] = [];

/** Every driver that a way can have: the maker's own, then the workshop's made-up ones. */
export function useDriverChoices(): readonly Driver[] {
  const own = useOwnDrivers() ?? NONE;
  return useMemo(() => [...own, ...demoDrivers().filter((d) => !own.some((o) => o.id === d.id))], [own]);
}
