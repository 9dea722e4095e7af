import { act, renderHook } from '@testing-library/react';
import { createDesign, createPlan } from '@/core/design/making/create';
import { edit, openDesign, useDesign, useLiveDesign } from './document';
import { READ_MS } from './reading-pace';
import { currentVariantOf } from './edits/edits';
import { changePlan } from './edits/plan-edits';
import { setView } from './view';

test('a reader follows each change at once, a drag at intervals, and is right when the hand lets go', () => {
  jest.useFakeTimers();
  let n = 0;
  openDesign(
    createDesign(
      'read',
      (id) => [createPlan(id(), 'lowpass', 'butterworth', 2, 1000)],
      () => `r${n++}`,
    ),
  );
  const cutoff = renderHook(() => useDesign((d) => currentVariantOf(d).ways[0].plans[0]));
  const live = renderHook(() => useLiveDesign((d) => currentVariantOf(d).ways[0].plans[0].cutoffHz));
  const id = cutoff.result.current.id;
  const set = (cutoffHz: number) => act(() => edit(changePlan(id, { cutoffHz })));
  set(1100);
  expect(cutoff.result.current.cutoffHz).toBe(1100);
  act(() => setView({ dragging: true }));
  set(1200);
  set(1300);
  set(1400);
  expect(cutoff.result.current.cutoffHz).toBeLessThan(1400);
  expect(live.result.current).toBe(1400);
  act(() => jest.advanceTimersByTime(READ_MS));
  expect(cutoff.result.current.cutoffHz).toBe(1400);
  set(1500);
  set(1600);
  act(() => setView({ dragging: false }));
  expect(cutoff.result.current.cutoffHz).toBe(1600);
  jest.useRealTimers();
});
