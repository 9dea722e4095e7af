import { act, renderHook } from '@testing-library/react';
import { demoDesigns } from '@/core/design/demo/demo';
import { failure, success, type Result } from '@/core/result';
import { documentStore, edit, openDesign } from '../document';
import { changePlan } from '../edits/plan-edits';
import { DESK } from './live';
import { LATE_MS, useIsLate } from './question';

let mockAnswer: ((answer: Result<object>) => void) | null = null;
jest.mock('@/workers/job-client', () => ({
  startJob: () => ({ answer: new Promise((resolve) => (mockAnswer = resolve)), cancel: () => {} }),
}));
const answered = (answer: Result<object> = success({})) =>
  act(async () => {
    mockAnswer?.(answer);
    await jest.advanceTimersByTimeAsync(0);
  });
const limiter = demoDesigns().find((d) => d.title === 'Swell-box band limiter')!;

beforeEach(() => void jest.useFakeTimers());
afterEach(() => void jest.useRealTimers());

test('an answer that is behind for a while is marked, until the newer one comes', async () => {
  openDesign(limiter);
  const { result } = renderHook(() => useIsLate(DESK));
  // Nothing is on show yet.
  act(() => void jest.advanceTimersByTime(2 * LATE_MS));
  expect(result.current).toBe(false);
  await answered();
  const { plans } = documentStore.getState().design!.variants[0].ways[0];
  const turn = (cutoffHz: number) => act(() => edit(changePlan(plans[0].id, { cutoffHz })));
  turn(333);
  act(() => void jest.advanceTimersByTime(LATE_MS - 1));
  expect(result.current).toBe(false);
  act(() => void jest.advanceTimersByTime(1));
  expect(result.current).toBe(true);
  await answered();
  expect(result.current).toBe(false);
  // One that comes in time is never marked.
  turn(444);
  act(() => void jest.advanceTimersByTime(LATE_MS / 2));
  await answered();
  act(() => void jest.advanceTimersByTime(LATE_MS));
  expect(result.current).toBe(false);
});

test('one that failed is not being worked out again', async () => {
  openDesign(structuredClone(limiter));
  const { result } = renderHook(() => useIsLate(DESK));
  await answered();
  const { plans } = documentStore.getState().design!.variants[0].ways[0];
  act(() => edit(changePlan(plans[0].id, { cutoffHz: 555 })));
  await answered(failure('no-unique-solution'));
  act(() => void jest.advanceTimersByTime(2 * LATE_MS));
  expect(DESK.current().value).not.toBeNull();
  expect(result.current).toBe(false);
});
