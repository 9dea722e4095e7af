import { demoDesigns } from '@/core/design/demo/demo';
import type { Design } from '@/core/design/document/schema';
import type { JobRequest } from '@/core/jobs/run-job';
import { failure, success, type Result } from '@/core/result';
import { documentStore, edit, openDesign } from '../document';
import { READ_MS } from '../reading-pace';
import { changePlan } from '../edits/plan-edits';
import { choosePart } from '../edits/part-edits';
import { selectVariant } from '../edits/record-edits';
import { resetView, setView } from '../view';
import { drawParts, FIT, SPREAD } from './by-hand';
import { ACOUSTICS, BAND, DESK, DETAIL } from './live';
import { REST_MS } from './question';

interface Asked {
  readonly request: JobRequest & {
    readonly design: Design;
    readonly variantId: string;
    readonly grid: { fromHz: number };
  };
  readonly answer: (value: Result<unknown>) => void;
  readonly progress?: (share: number, soFar?: unknown) => void;
  cancelled: boolean;
}
const mockAsked: Asked[] = [];
jest.mock('@/workers/job-client', () => ({
  startJob: (request: Asked['request'], progress?: (share: number, soFar?: unknown) => void) => {
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
let opened = 0;
/** Opens a design that nothing has been asked of yet. */
const open = (design: Design): Design => {
  const fresh = { ...design, id: `${design.id}-${opened++}` };
  openDesign(fresh);
  resetView();
  mockAsked.length = 0;
  return fresh;
};
const stops: (() => void)[] = [];
/** Looks at questions until the test is over. */
const look = (...questions: { subscribe(tell: () => void): () => void }[]) => {
  const told = jest.fn();
  stops.push(...questions.map((question) => question.subscribe(told)));
  return told;
};
let desk: Design;
beforeEach(() => (desk = open(limiter)));
afterEach(() => {
  for (const stop of stops.splice(0)) stop();
  jest.useRealTimers();
});

const planOf = (design: Design) => design.variants[0].ways[0].plans[0].id;
const [first, second] = limiter.variants[0].ways[0].stages;

test('the range of the curves is held while something is dragged, and follows when it is let go', async () => {
  look(DESK);
  const { grid } = last('desk').request;
  last('desk').answer(success({}));
  await settle();
  setView({ dragging: true });
  last('desk').answer(success({}));
  await settle();
  edit(changePlan(planOf(limiter), { cutoffHz: 0.9 }));
  expect(last('desk').request.grid).toMatchObject({ fromHz: grid.fromHz });
  last('desk').answer(success({}));
  await settle();
  setView({ dragging: false });
  expect(last('desk').request.grid.fromHz).toBeLessThan(grid.fromHz);
});

test('what was asked of another variant, or another design, is not shown when it comes', async () => {
  look(DESK);
  const late = last('desk');
  edit(selectVariant(limiter.variants[1].id));
  late.answer(success({ of: 'A' }));
  await settle();
  expect(DESK.current().value).toBeNull();
  const next = last('desk');
  expect(next.request.variantId).toBe(limiter.variants[1].id);
  openDesign(cabinet);
  next.answer(success({ of: 'B' }));
  await settle();
  expect(DESK.current().value).toBeNull();
  last('desk').answer(success({ of: 'cabinet' }));
  await settle();
  expect(DESK.current().value).toEqual({ of: 'cabinet' });
  // Nor is it shown for a variant that is turned to later.
  openDesign(desk);
  expect(DESK.current().value).toBeNull();
});

test('while a newer answer is worked out the last one stays, and the newest asking is the next', async () => {
  look(DESK);
  last('desk').answer(success({ of: 'first' }));
  await settle();
  for (const cutoffHz of [70, 75, 80]) edit(changePlan(planOf(limiter), { cutoffHz }));
  expect(DESK.current().value).toEqual({ of: 'first' });
  expect(of('desk')).toHaveLength(2);
  last('desk').answer(success({ of: 'second' }));
  await settle();
  expect(DESK.current().value).toEqual({ of: 'second' });
  expect(of('desk')).toHaveLength(3);
  expect(last('desk').request.design.variants[0].ways[0].plans[0].cutoffHz).toBe(80);
});

test('a cursor that moves asks nothing', async () => {
  look(DESK);
  last('desk').answer(success({}));
  await settle();
  setView({ cursor: 100 });
  setView({ cursor: 110 });
  expect(of('desk')).toHaveLength(1);
});

test('when nobody looks what runs is given up; whoever looks next asks anew, but not for what is there', async () => {
  const stop = DESK.subscribe(() => {});
  const given = last('desk');
  stop();
  expect(given.cancelled).toBe(true);
  const again = DESK.subscribe(() => {});
  expect(of('desk')).toHaveLength(2);
  last('desk').answer(success({ of: 'it' }));
  await settle();
  again();
  look(DESK);
  expect(of('desk')).toHaveLength(2);
  expect(DESK.current().value).toEqual({ of: 'it' });
});

test('why a question has no answer is kept beside the last one, and forgotten when it has one', async () => {
  open(cabinet);
  look(ACOUSTICS);
  last('acoustics').answer(success({ crossings: ['before'] }));
  await settle();
  edit(changePlan(planOf(cabinet), { cutoffHz: 1900 }));
  last('acoustics').answer(failure('no-unique-solution', { unknown: 'x' }));
  await settle();
  expect(ACOUSTICS.current()).toMatchObject({
    value: { crossings: ['before'] },
    failure: { code: 'no-unique-solution' },
  });
  edit(changePlan(planOf(cabinet), { cutoffHz: 2000 }));
  last('acoustics').answer(success({ crossings: [] }));
  await settle();
  expect(ACOUSTICS.current()).toMatchObject({ value: { crossings: [] }, failure: null });
});

test('what is no crossover is asked nothing about sound', () => {
  look(ACOUSTICS);
  expect(of('acoustics')).toHaveLength(0);
});

test('second thoughts wait until the hand rests, and what they say of one stage is not shown for another', async () => {
  look(DETAIL);
  expect(last('detail').request).toMatchObject({ stageId: first.id });
  last('detail').answer(success([{ part: 'R1' }]));
  await settle();
  expect(DETAIL.current().value).toEqual([{ part: 'R1' }]);
  jest.useFakeTimers();
  const choose = (value: number) => edit(choosePart(first.id, 'R1', { use: { kind: 'single', values: [value] } }));
  choose(11e3);
  jest.advanceTimersByTime(REST_MS - 1);
  choose(12e3);
  jest.advanceTimersByTime(REST_MS - 1);
  expect(of('detail')).toHaveLength(1);
  jest.advanceTimersByTime(1);
  expect(of('detail')).toHaveLength(2);
  expect(DETAIL.current().value).toEqual([{ part: 'R1' }]);
  setView({ selectedStage: second.id });
  expect(DETAIL.current().value).toBeNull();
});

test('a cursor that keeps moving holds no second thought up', async () => {
  look(DETAIL);
  last('detail').answer(success([]));
  await settle();
  jest.useFakeTimers();
  edit(choosePart(first.id, 'R1', { use: { kind: 'single', values: [11e3] } }));
  for (let i = 1; i < 4; i++) {
    jest.advanceTimersByTime(REST_MS / 4);
    setView({ cursor: 100 + i });
  }
  expect(of('detail')).toHaveLength(1);
  jest.advanceTimersByTime(REST_MS / 4);
  expect(of('detail')).toHaveLength(2);
});

test('while something is dragged, what is read follows less often than what is watched', async () => {
  await settle();
  jest.useFakeTimers({ doNotFake: ['setImmediate'] });
  const settled = () => new Promise((resolve) => setImmediate(resolve));
  // Past whatever the clock said before.
  jest.advanceTimersByTime(600_000);
  look(DESK);
  last('desk').answer(success({ at: 0 }));
  await settled();
  jest.advanceTimersByTime(10 * READ_MS);
  setView({ dragging: true });
  let at = 0;
  const answerAfter = async (ms: number) => {
    jest.advanceTimersByTime(ms);
    edit(changePlan(planOf(limiter), { cutoffHz: 61 + ++at }));
    last('desk').answer(success({ at }));
    await settled();
  };
  await answerAfter(0);
  const [first] = [DESK.current('read').value];
  for (const ms of [READ_MS / 4, READ_MS / 4]) await answerAfter(ms);
  expect(DESK.current().value).toEqual({ at: 3 });
  expect(DESK.current('read').value).toEqual(first);
  jest.advanceTimersByTime(READ_MS);
  expect(DESK.current('read').value).toEqual({ at: 3 });
  await answerAfter(1);
  expect(DESK.current('read').value).toEqual({ at: 3 });
  // When the hand lets go there is nothing to wait for.
  setView({ dragging: false });
  expect(DESK.current('read').value).toEqual({ at: 4 });
  jest.useRealTimers();
});

test('the live band is asked for after a spread of this design was drawn, and not after one of another', async () => {
  look(BAND);
  expect(of('band')).toHaveLength(0);
  const drawn = drawParts(1, 100);
  last('spread').answer(success({ runs: 100 }));
  expect(await drawn).toMatchObject({ ok: true });
  setView({ shown: { spread: true } as never });
  edit(changePlan(planOf(limiter), { cutoffHz: 80 }));
  expect(last('band').request).toMatchObject({ seed: 1 });
  open(designs[0]);
  setView({ shown: { spread: true } as never });
  edit(changePlan(planOf(designs[0]), { cutoffHz: 33 }));
  expect(of('band')).toHaveLength(0);
});

describe('asked for by hand', () => {
  test('stopped, nothing of it is shown: neither what it says later nor how far it is', async () => {
    const running = drawParts(1, 100);
    last('spread').progress!(0.3);
    expect(SPREAD.current().progress).toBe(0.3);
    SPREAD.cancel();
    expect(last('spread').cancelled).toBe(true);
    last('spread').progress!(0.6);
    last('spread').answer(success({ runs: 100 }));
    expect(await running).toBeNull();
    expect(SPREAD.current().progress).toBeNull();
    expect(SPREAD.current().result).toBeNull();
  });

  test('stopped, the best that it had told so far is its answer; overtaken or begun again, it is not', async () => {
    open(cabinet);
    const asked = { parts: [], weights: { ways: 0, aside: 0, cost: 0 }, holdLoad: true };
    void FIT.run(asked);
    last('optimise').progress!(0.2, { looked: 10 });
    last('optimise').progress!(0.3);
    expect(FIT.current()).toMatchObject({ progress: 0.3, soFar: { value: { looked: 10 } }, result: null });
    FIT.cancel();
    expect(FIT.current()).toMatchObject({ progress: null, soFar: null, result: { value: { looked: 10 }, asked } });
    void FIT.run(asked);
    const overtaken = last('optimise');
    overtaken.progress!(0.2, { looked: 20 });
    void FIT.run(asked);
    expect(FIT.current()).toMatchObject({ progress: 0, soFar: null, result: { value: { looked: 10 } } });
    overtaken.progress!(0.9, { looked: 30 });
    expect(FIT.current().soFar).toBeNull();
    FIT.forget();
    expect(FIT.current()).toEqual({ progress: null, result: null, soFar: null, failure: null });
  });

  test('a second run takes the place of the first', async () => {
    const running = drawParts(1, 100);
    const overtaken = last('spread');
    const newer = drawParts(2, 100);
    expect(overtaken.cancelled).toBe(true);
    overtaken.answer(success({ seed: 1 }));
    expect(await running).toBeNull();
    last('spread').answer(success({ seed: 2 }));
    await newer;
    expect(SPREAD.current().result).toMatchObject({ value: { seed: 2 }, asked: { seed: 2 }, of: desk });
  });

  test('with another design on the desk a fit that comes late is not offered there', async () => {
    const speaker = open(cabinet);
    const running = FIT.run({ parts: [], weights: { ways: 0, aside: 0, cost: 0 }, holdLoad: true });
    const asked = last('optimise');
    asked.progress!(0.5);
    open(limiter);
    expect(FIT.current()).toEqual({ progress: null, result: null, soFar: null, failure: null });
    asked.answer(success({ parts: [] }));
    expect(await running).toBeNull();
    expect(FIT.current()).toEqual({ progress: null, result: null, soFar: null, failure: null });
    openDesign(speaker);
    expect(FIT.current().result?.value).toEqual({ parts: [] });
  });

  test('what fails is told until it goes well, and is no longer running', async () => {
    const failing = drawParts(1, 100);
    last('spread').answer(failure('sings', { freqHz: 100 }));
    expect(await failing).toMatchObject({ code: 'sings' });
    expect(SPREAD.current()).toMatchObject({ progress: null, failure: { code: 'sings' } });
    const again = drawParts(1, 100);
    expect(SPREAD.current()).toMatchObject({ progress: 0, failure: null });
    last('spread').answer(success({}));
    await again;
    expect(documentStore.getState().design).toBe(desk);
  });

  test('put away while it runs, it says nothing later', async () => {
    const running = drawParts(1, 100);
    const asked = last('spread');
    SPREAD.forget();
    expect(asked.cancelled).toBe(true);
    asked.answer(success({ runs: 100 }));
    expect(await running).toBeNull();
    expect(SPREAD.current()).toEqual({ progress: null, result: null, soFar: null, failure: null });
  });

  test('put away it is gone; taken from, it still holds for what it was taken into', async () => {
    const speaker = open(cabinet);
    const running = FIT.run({ parts: [], weights: { ways: 0, aside: 0, cost: 0 }, holdLoad: true });
    last('optimise').answer(success({ parts: [] }));
    await running;
    edit(changePlan(planOf(cabinet), { cutoffHz: 2345 }));
    expect(FIT.current().result?.of).toBe(speaker);
    FIT.stillHolds();
    expect(FIT.current().result?.of).toBe(documentStore.getState().design);
    FIT.forget();
    expect(FIT.current().result).toBeNull();
  });
});
