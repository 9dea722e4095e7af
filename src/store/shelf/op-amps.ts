import { useLiveQuery } from 'dexie-react-hooks';
import { useMemo } from 'react';
import { OP_AMPS, type OpAmp } from '@/core/device/op-amps';
import { database } from './database';
import { useDesign } from '../document';

const NONE: readonly OpAmp[] = [];

/**
 * Op-amps of the maker's own, as they lie in the browser: shared by all designs. Undefined until they have been read.
 */
export const useOwnOpAmps = (): readonly OpAmp[] | undefined =>
  useLiveQuery(() => database.opAmps.orderBy('id').toArray(), []);
export const putOpAmps = async (opAmps: readonly OpAmp[]): Promise<void> =>
  void (await database.opAmps.bulkPut([...opAmps]));
export const removeOpAmp = async (id: string): Promise<void> => void (await database.opAmps.delete(id));

/** Every op-amp a stage can have: the library's classes, the maker's own, and those that came with the design. */
export function useOpAmpChoices(): readonly OpAmp[] {
  const own = useOwnOpAmps() ?? NONE;
  const brought = useDesign((d) => d.preferences.ownOpAmps) ?? NONE;
  return useMemo(() => [...OP_AMPS, ...own, ...brought.filter((b) => !own.some((o) => o.id === b.id))], [own, brought]);
}
