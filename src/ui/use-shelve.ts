import { useRouter } from 'next/navigation';
import { useCallback } from 'react';
import type { Design } from '@/core/design/document/schema';
import { shelveDesign } from '@/store/shelf/shelf-rows';
import { useStoring } from './use-storing';

/**
 * Puts a design on the shelf and opens it; `then` runs between the two, with its id. Says so where it cannot be kept.
 */
export function useShelve(): (make: () => Design | Promise<Design>, then?: (id: string) => void) => void {
  const router = useRouter();
  const storing = useStoring();
  return useCallback(
    (make, then) =>
      void storing(async () => {
        const id = await shelveDesign(await make());
        then?.(id);
        router.push(`/desk/${id}`);
      }),
    [router, storing],
  );
}
