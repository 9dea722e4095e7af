import { useCallback } from 'react';
import type { CatalogueEntry } from '@/core/catalogue/catalogue';
import type { FilterResponse } from '@/core/filter/section';
import { newId } from '@/store/new-id';
import { useShelve } from '@/ui/use-shelve';

/** Puts a new design that begins with an entry of the catalogue on the shelf, and opens it. */
export function useBegin(): (entry: CatalogueEntry, response?: FilterResponse) => void {
  const shelve = useShelve();
  return useCallback((entry, response) => shelve(() => entry.start(newId, response)), [shelve]);
}
