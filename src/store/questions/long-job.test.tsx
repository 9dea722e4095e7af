import { act, renderHook } from '@testing-library/react';
import { demoDesigns } from '@/core/design/demo/demo';
import type { Design } from '@/core/design/document/schema';
import { success, type Result } from '@/core/result';
import { edit, openDesign } from '../document';
import { changePlan } from '../edits/plan-edits';
import { FIT } from './by-hand';
import { changedSince, useLongJob } from './long-job';

const mockAnswers: ((value: Result<unknown>) => void)[] = [];
jest.mock('@/workers/job-client', () => ({
  startJob: () => ({ answer: new Promise((resolve) => mockAnswers.push(resolve)), cancel: () => {} }),
}));

const cabinet = demoDesigns().find((d) => d.title === 'Tone cabinet, two-way')!;

describe('what was worked out for a circuit', () => {
  const changes: readonly [string, (of: Design) => Design, boolean][] = [
    ['nothing', (d) => ({ ...d }), false],
    ['its title', (d) => ({ ...d, title: 'other' }), false],
    ['its log', (d) => ({ ...d, log: [] }), false],
    ['its measurements', (d) => ({ ...d, measurements: [] }), false],
    ['which it is', (d) => ({ ...d, id: 'other' }), true],
    ['its circuits', (d) => ({ ...d, variants: [...d.variants] }), true],
    ['its drivers', (d) => ({ ...d, drivers: [] }), true],
    ['its tolerances', (d) => ({ ...d, preferences: { ...d.preferences } }), true],
    ['its surroundings', (d) => ({ ...d, brief: { ...d.brief } }), true],
    ['which variant is on the desk', (d) => ({ ...d, currentVariant: 'other' }), true],
  ];
  test.each(changes)('%s changed', (_, change, stale) => {
    expect(changedSince(cabinet, change(cabinet))).toBe(stale);
  });

  test('a hook tells whether it runs, and whether what it said is of another circuit', async () => {
    openDesign(cabinet);
    const hook = renderHook(() => useLongJob(FIT));
    expect(hook.result.current).toMatchObject({ running: false, stale: false, result: null });
    let running: Promise<unknown> = Promise.resolve();
    act(() => void (running = FIT.run({ parts: [], weights: { ways: 0, aside: 0, cost: 0 }, holdLoad: true })));
    expect(hook.result.current).toMatchObject({ running: true, stale: false });
    await act(async () => {
      mockAnswers.at(-1)!(success({ parts: [] }));
      await running;
    });
    expect(hook.result.current).toMatchObject({ running: false, stale: false, result: { value: { parts: [] } } });
    act(() => edit(changePlan(cabinet.variants[0].ways[0].plans[0].id, { cutoffHz: 1234 })));
    expect(hook.result.current.stale).toBe(true);
    act(FIT.forget);
    expect(hook.result.current).toMatchObject({ running: false, stale: false, result: null });
  });
});
