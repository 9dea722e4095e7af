import { useRouter } from 'next/navigation';
import { useCallback } from 'react';
import type { CatalogueEntry } from '@/core/catalogue/catalogue';
import type { FilterResponse } from '@/core/filter/section';
import { useStoring } from '@/ui/use-storing';
import { newId } from '@/store/new-id';
import { shelveDesign } from '@/store/shelf-rows';

/** Puts a new design that begins with an entry of the catalogue on the shelf, and opens it. */
export function useBegin(): (entry: CatalogueEntry, response?: FilterResponse) => void {
  const router = useRouter();
  const storing = useStoring();
  return useCallback(
    (entry, response) =>
      void storing(async () => router.push(`/desk/${await shelveDesign(entry.start(newId, response))}`)),
    [router, storing],
  );
}
