import { success, type Result } from '@/core/result';
import { JobLanes, poolSize, type JobWorker } from './job-lanes';

interface Asked {
  readonly worker: number;
  readonly id: number;
  readonly name: string;
  readonly answer: (value: Result<string>) => void;
  readonly fail: (reason: unknown) => void;
  readonly progress: ((share: number) => void) | null;
}

/** Workers that answer, throw and crash when they are told to. */
function stage(size = 3) {
  const asked: Asked[] = [];
  const cancelled: number[] = [];
  const ended: number[] = [];
  const crash: (() => void)[] = [];
  let made = 0;
  const lanes = new JobLanes<{ kind: string }>((): JobWorker<{ kind: string }> => {
    const worker = made++;
    return {
      run: (id, { kind }, progress) =>
        new Promise((answer, fail) => asked.push({ worker, id, name: kind, answer, fail, progress })),
      cancel: (id) => void cancelled.push(id),
      lost: new Promise((resolve) => (crash[worker] = resolve)),
      end: () => void ended.push(worker),
    };
  }, size);
  return { lanes, asked, cancelled, ended, crash, workers: () => made };
}
const settle = () => new Promise((resolve) => setTimeout(resolve, 0));

test('the first lane is kept apart; others are made when needed and take turns by how busy they are', async () => {
  const { lanes, asked, workers } = stage();
  lanes.start({ kind: 'desk' }, { first: true });
  for (const kind of ['a', 'b', 'c']) lanes.start({ kind });
  await settle();
  expect(workers()).toBe(3);
  const [desk, a, b, c] = asked;
  expect(new Set([desk.worker, a.worker, b.worker]).size).toBe(3);
  expect(c.worker).toBe(a.worker);
  b.answer(success('b'));
  await settle();
  lanes.start({ kind: 'd' });
  await settle();
  expect(asked[4].worker).toBe(b.worker);
  lanes.start({ kind: 'desk' }, { first: true });
  await settle();
  expect(asked[5].worker).toBe(desk.worker);
});

test('what throws is a failure in words, and its lane goes on', async () => {
  const { lanes, asked, workers } = stage();
  const job = lanes.start({ kind: 'spread' });
  await settle();
  asked[0].fail(new RangeError('too deep'));
  expect(await job.answer).toEqual({ ok: false, code: 'job-failed', data: { kind: 'spread', reason: 'too deep' } });
  const next = lanes.start({ kind: 'next' });
  await settle();
  asked[1].answer(success('well'));
  expect(await next.answer).toEqual(success('well'));
  expect(workers()).toBe(1);
});

test('lost with its worker, a job is asked once more of a new one, and then reported', async () => {
  const { lanes, asked, ended, crash } = stage();
  const job = lanes.start({ kind: 'yield' });
  const beside = lanes.start({ kind: 'desk' }, { first: true });
  await settle();
  crash[asked[0].worker]();
  await settle();
  expect(ended).toEqual([asked[0].worker]);
  const again = asked.filter((a) => a.name === 'yield')[1];
  expect(again.worker).not.toBe(asked[0].worker);
  crash[again.worker]();
  expect(await job.answer).toEqual({ ok: false, code: 'worker-lost', data: { kind: 'yield' } });
  // What another lane works on is not touched, and the next job finds a worker.
  asked.find((a) => a.name === 'desk')!.answer(success('desk'));
  expect(await beside.answer).toEqual(success('desk'));
  const next = lanes.start({ kind: 'next' });
  await settle();
  asked.at(-1)!.answer(success('well'));
  expect(await next.answer).toEqual(success('well'));
});

test(
  'cancelling is final: the answer is that it was, at once, and neither progress nor a late answer ' + 'comes after',
  async () => {
    const { lanes, asked, cancelled } = stage();
    const shares: number[] = [];
    const job = lanes.start<string>({ kind: 'fit' }, { onProgress: (share) => shares.push(share) });
    await settle();
    asked[0].progress!(0.25);
    job.cancel();
    asked[0].progress!(0.5);
    expect(await job.answer).toMatchObject({ ok: false, code: 'cancelled' });
    asked[0].answer(success('late'));
    await settle();
    asked[0].progress!(1);
    job.cancel();
    expect([shares, cancelled]).toEqual([[0.25], [asked[0].id]]);
  },
);

test('after its answer a job tells no more progress', async () => {
  const { lanes, asked } = stage();
  const shares: number[] = [];
  const job = lanes.start<string>({ kind: 'fit' }, { onProgress: (share) => shares.push(share) });
  await settle();
  asked[0].answer(success('done'));
  await job.answer;
  asked[0].progress!(1);
  expect(shares).toEqual([]);
});

test('there are two lanes on a small machine and five on a large one', () =>
  expect([1, 2, 4, 16].map(poolSize)).toEqual([2, 2, 3, 5]));
