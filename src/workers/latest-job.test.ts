import type { JobRequest } from '@/core/jobs/run-job';
import { success, type Result } from '@/core/result';
import type { ResponseResult } from '@/core/jobs/deck/deck-analyses';
import { LatestJob } from './latest-job';

type Asked = { deck: string; answer: (value: Result<ResponseResult>) => void };

type Request = Extract<JobRequest, { kind: 'response' }>;
const request = (deck: string): Request => ({
  kind: 'response',
  deck,
  probe: 'out',
  freqHz: Float64Array.of(1),
});
const good = (deck: string) => success({ levelDb: Float64Array.of(0), phaseDeg: Float64Array.of(0), notes: [deck] });
const settle = () => new Promise((resolve) => setTimeout(resolve, 0));

/** A lane that answers when it is told to. */
function lane(apartMs?: () => number) {
  const asked: Asked[] = [];
  const delivered: string[] = [];
  const cancelled: string[] = [];
  const latest = new LatestJob<Request, ResponseResult>(
    ({ deck }) => ({
      answer: new Promise((resolve) => asked.push({ deck, answer: resolve })),
      cancel: () => cancelled.push(deck),
    }),
    (answer) => delivered.push(answer.ok ? answer.value.notes[0] : answer.code),
    apartMs,
  );
  return { asked, delivered, cancelled, latest };
}

test('while a job runs only the newest request waits; answers come in order', async () => {
  const { asked, delivered, latest } = lane();
  for (const deck of ['1', '2', '3', '4']) latest.ask(request(deck));
  expect(asked.map((a) => a.deck)).toEqual(['1']);
  asked[0].answer(good('1'));
  await settle();
  expect(asked.map((a) => a.deck)).toEqual(['1', '4']);
  asked[1].answer(good('4'));
  await settle();
  expect(delivered).toEqual(['1', '4']);
});

test('closed, what waits is forgotten, what runs is given up, and nothing more is asked', async () => {
  const { asked, delivered, cancelled, latest } = lane();
  latest.ask(request('5'));
  latest.ask(request('6'));
  latest.close();
  latest.ask(request('7'));
  asked[0].answer(good('5'));
  await settle();
  expect(asked).toHaveLength(1);
  expect(cancelled).toEqual(['5']);
  expect(delivered).toEqual([]);
});

test('apart, one begins so long after the answer before it, with the newest of what was asked meanwhile', async () => {
  jest.useFakeTimers();
  let apart = 100;
  const { asked, delivered, latest } = lane(() => apart);
  latest.ask(request('1'));
  asked[0].answer(good('1'));
  await jest.advanceTimersByTimeAsync(0);
  for (const deck of ['2', '3']) latest.ask(request(deck));
  await jest.advanceTimersByTimeAsync(99);
  expect(asked.map((a) => a.deck)).toEqual(['1']);
  await jest.advanceTimersByTimeAsync(1);
  expect(asked.map((a) => a.deck)).toEqual(['1', '3']);
  asked[1].answer(good('3'));
  await jest.advanceTimersByTimeAsync(0);
  apart = 0;
  latest.ask(request('4'));
  expect(asked.map((a) => a.deck)).toEqual(['1', '3', '4']);
  apart = 100;
  asked[2].answer(good('4'));
  await jest.advanceTimersByTimeAsync(0);
  latest.ask(request('5'));
  latest.close();
  await jest.advanceTimersByTimeAsync(1000);
  expect([asked.length, delivered]).toEqual([3, ['1', '3', '4']]);
  jest.useRealTimers();
});
