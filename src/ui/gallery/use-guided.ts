import { useCallback } from 'react';
import { startGuide } from '@/store/guide';
import { newId } from '@/store/new-id';
import { useShelve } from '@/ui/use-shelve';

/** Begins a first design with the guide beside it. */
export function useGuided(): () => void {
  const shelve = useShelve();
  return useCallback(
    () =>
      shelve(async () => {
        const { createDesign, createPlan } = await import('@/core/design/making/create');
        return createDesign('My first filter', (id) => [createPlan(id(), 'lowpass', 'butterworth', 2, 1000)], newId);
      }, startGuide),
    [shelve],
  );
}
