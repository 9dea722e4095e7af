import { demoDesigns } from '@/core/design/demo';
import type { Design } from '@/core/design/schema';
import type { JobRequest } from '@/core/jobs/run-job';
import { failure, success, type Result } from '@/core/result';
import { documentStore, edit, openDesign } from './document';
import { changePlan } from './edits';
import { selectVariant } from './record-edits';
import { cancelSpread, resultsStore, runFit, runSpread, startLiveResults } from './results';
import { resetView, setView } from './view';

interface Asked {
  readonly request: JobRequest & {
    readonly design: Design;
    readonly variantId: string;
    readonly grid: { fromHz: number };
  };
  readonly answer: (value: Result<unknown>) => void;
  readonly progress?: (share: number) => void;
  cancelled: boolean;
}
const mockAsked: Asked[] = [];
jest.mock('@/workers/job-client', () => ({
  startJob: (request: Asked['request'], progress?: (share: number) => void) => {
    const asked = { request, progress, cancelled: false } as Asked;
    mockAsked.push(asked);
    const answer = new Promise((resolve) => Object.assign(asked, { answer: resolve }));
    return { answer, cancel: () => (asked.cancelled = true) };
  },
}));

const designs = demoDesigns();
const limiter = designs.find((d) => d.title === 'Swell-box band limiter')!;
const cabinet = designs.find((d) => d.title === 'Tone cabinet, two-way')!;
const settle = () => new Promise((resolve) => setTimeout(resolve, 0));
const of = (kind: JobRequest['kind']) => mockAsked.filter((a) => a.request.kind === kind);
const last = (kind: JobRequest['kind']) => of(kind).at(-1)!;
let stop: () => void;
const open = (design: Design) => {
  stop?.();
  openDesign(design);
  resetView();
  mockAsked.length = 0;
  stop = startLiveResults();
};
beforeEach(() => open(limiter));
afterAll(() => stop());

test('the range of the curves is held while something is dragged, and follows when it is let go', async () => {
  const { grid } = last('desk').request;
  last('desk').answer(success({}));
  await settle();
  setView({ dragging: true });
  last('desk').answer(success({}));
  await settle();
  edit(changePlan(limiter.variants[0].ways[0].plans[0].id, { cutoffHz: 0.9 }));
  expect(last('desk').request.grid).toMatchObject({ fromHz: grid.fromHz });
  last('desk').answer(success({}));
  await settle();
  setView({ dragging: false });
  expect(last('desk').request.grid.fromHz).toBeLessThan(grid.fromHz);
});

test('what was asked of another variant, or another design, is not shown when it comes', async () => {
  const late = last('desk');
  edit(selectVariant(limiter.variants[1].id));
  late.answer(success({ of: 'A' }));
  await settle();
  expect(resultsStore.getState().desk).toBeNull();
  const second = last('desk');
  expect(second.request.variantId).toBe(limiter.variants[1].id);
  open(cabinet);
  second.answer(success({ of: 'B' }));
  await settle();
  expect(resultsStore.getState().desk).toBeNull();
  last('desk').answer(success({ of: 'cabinet' }));
  await settle();
  expect(resultsStore.getState().desk).toEqual({ of: 'cabinet' });
});

test('why a question has no answer is kept by its kind, and forgotten when it has one', async () => {
  open(cabinet);
  last('acoustics').answer(failure('no-unique-solution', { unknown: 'x' }));
  await settle();
  expect(resultsStore.getState().failures.acoustics?.code).toBe('no-unique-solution');
  edit(changePlan(cabinet.variants[0].ways[0].plans[0].id, { cutoffHz: 2000 }));
  last('acoustics').answer(success({ crossings: [] }));
  await settle();
  expect(resultsStore.getState().failures.acoustics).toBeUndefined();
});

test('the live band is asked for after a spread of this design was drawn, and not after one of another', async () => {
  const drawn = runSpread(1, 100);
  last('spread').answer(success({ runs: 100 }));
  expect(await drawn).toBeNull();
  setView({ shown: { spread: true } as never });
  edit(changePlan(limiter.variants[0].ways[0].plans[0].id, { cutoffHz: 80 }));
  expect(of('band').length).toBeGreaterThan(0);
  const { spread } = resultsStore.getState();
  open(designs[0]);
  resultsStore.setState({ spread });
  setView({ shown: { spread: true } as never });
  edit(changePlan(designs[0].variants[0].ways[0].plans[0].id, { cutoffHz: 33 }));
  expect(of('band')).toHaveLength(0);
});

describe('long jobs', () => {
  test('stopped, nothing of it is shown: neither what it says later nor how far it is', async () => {
    const running = runSpread(1, 100);
    last('spread').progress!(0.3);
    expect(resultsStore.getState().spreadProgress).toBe(0.3);
    cancelSpread();
    expect(last('spread').cancelled).toBe(true);
    last('spread').progress!(0.6);
    last('spread').answer(success({ runs: 100 }));
    expect(await running).toBeNull();
    expect(resultsStore.getState()).toMatchObject({ spreadProgress: null, spread: null });
  });

  test('with another design on the desk a fit that comes late is not offered', async () => {
    open(cabinet);
    const running = runFit([], { ways: 0, load: 0, cost: 0 });
    const asked = last('optimise');
    open(limiter);
    asked.answer(success({ parts: [] }));
    expect(await running).toBeNull();
    expect(resultsStore.getState()).toMatchObject({ fitted: null, fitProgress: null });
  });

  test('what fails is told, and is no longer running', async () => {
    const running = runSpread(1, 100);
    last('spread').answer(failure('sings', { freqHz: 100 }));
    expect(await running).toMatchObject({ code: 'sings' });
    expect(resultsStore.getState().spreadProgress).toBeNull();
    expect(documentStore.getState().design).toBe(limiter);
  });
});
