import { useRouter } from 'next/navigation';
import { useCallback } from 'react';
import { useStoring } from '@/ui/use-storing';
import { startGuide } from '@/store/guide';
import { newId } from '@/store/new-id';
import { shelveDesign } from '@/store/shelf-rows';

/** Begins a first design with the guide beside it. */
export function useGuided(): () => void {
  const router = useRouter();
  const storing = useStoring();
  return useCallback(
    () =>
      void storing(async () => {
        const { createDesign, createPlan } = await import('@/core/design/create');
        const first = createDesign(
          'My first filter',
          (id) => [createPlan(id(), 'lowpass', 'butterworth', 2, 1000)],
          newId,
        );
        const id = await shelveDesign(first);
        startGuide(id);
        router.push(`/desk/${id}`);
      }),
    [router, storing],
  );
}
