import 'fake-indexeddb/auto';
import { demoDesigns } from '@/core/design/demo/demo';
import type { DeskResult } from '@/core/jobs/desk/desk-types';
import { success } from '@/core/result';
import { WORKERS } from '@/workers/addresses';
import { documentStore, edit, openDesign } from '../document';
import { changeBrief, setTitle } from '../edits/record-edits';
import { DESK } from '../questions/live';
import { setView } from '../view';
import { saveStore } from './autosave';
import { database } from './database';
import { keepAnswers, keptAnswers, recallAnswers } from './kept-answers';
import { deleteDesign, shelveDesign } from './shelf-rows';

const mockAsked: ((answer: unknown) => void)[] = [];
jest.mock('@/workers/job-client', () => ({
  startJob: () => ({ answer: new Promise((resolve) => mockAsked.push(resolve)), cancel: () => {} }),
}));

const [rumble] = demoDesigns();
const said = (supplyAmps: number) => ({ supplyAmps }) as DeskResult;
/** The desk is looked at, answers, and rests. */
async function answered(value: DeskResult): Promise<void> {
  const stop = DESK.subscribe(() => {});
  const stopKeeping = keepAnswers();
  mockAsked.pop()!(success(value));
  await new Promise((resolve) => setTimeout(resolve, 1700));
  stopKeeping();
  stop();
}
/** As after a reload: nothing is held yet. */
const reopened = () => {
  openDesign({ ...structuredClone(rumble), id: 'in-between' });
  DESK.place(said(-1));
  openDesign(structuredClone(rumble));
};

beforeEach(async () => {
  WORKERS.job = '/workers/job-1.js';
  await Promise.all([database.designs.clear(), database.answers.clear()]);
  await shelveDesign(rumble);
  openDesign(structuredClone(rumble));
  setView({ ghostVariant: null });
  saveStore.setState({ state: 'saved' });
});

test('what the desk shows is kept, and stands there when the design is opened again', async () => {
  await answered(said(0.012));
  const kept = (await keptAnswers(rumble.id))!;
  expect(kept).toMatchObject({
    by: '/workers/job-1.js',
    answers: { desk: { request: expect.stringContaining(rumble.id) } },
  });
  reopened();
  expect(DESK.current().value).toBeNull();
  recallAnswers(kept);
  expect(DESK.current()).toEqual({
    key: expect.any(String),
    subject: expect.any(String),
    failure: null,
    of: null,
    value: said(0.012),
  });
  // Until it is confirmed it is of the circuit as it was.
  expect(DESK.isBehind()).toBe(true);
  const stop = DESK.subscribe(() => {});
  mockAsked.pop()!(success(said(0.013)));
  await new Promise((resolve) => setTimeout(resolve, 10));
  expect(DESK.current().value).toEqual(said(0.013));
  expect(DESK.isBehind()).toBe(false);
  stop();
});

test('it is shown for nothing else: another design or circuit, other traces, another build of workers', async () => {
  await answered(said(0.012));
  const kept = (await keptAnswers(rumble.id))!;
  openDesign({ ...structuredClone(rumble), id: 'another' });
  recallAnswers(kept);
  expect(DESK.current().value).toBeNull();
  // Another under the same name, as a backup may bring it.
  reopened();
  edit(changeBrief({ signalVolts: 5 }));
  recallAnswers(kept);
  expect(DESK.current().value).toBeNull();
  reopened();
  setView({ ghostVariant: 'B' });
  recallAnswers(kept);
  expect(DESK.current().value).toBeNull();
  WORKERS.job = '/workers/job-2.js';
  expect(await keptAnswers(rumble.id)).toBeNull();
});

test('nothing is kept of what is not saved, or was answered of the design as it was', async () => {
  saveStore.setState({ state: 'pending' });
  await answered(said(0.012));
  expect(await keptAnswers(rumble.id)).toBeNull();
  saveStore.setState({ state: 'saved' });
  edit(setTitle('changed since'));
  expect(documentStore.getState().design!.title).toBe('changed since');
  const stopKeeping = keepAnswers();
  saveStore.setState({ at: new Date() });
  await new Promise((resolve) => setTimeout(resolve, 1700));
  stopKeeping();
  expect(await keptAnswers(rumble.id)).toBeNull();
});

test('of the thirty that were opened last, and of none that is deleted', async () => {
  const row = (k: number) => ({ id: `d${k}`, by: 'x', at: new Date(k).toISOString(), answers: {} });
  await database.answers.bulkPut(Array.from({ length: 30 }, (_, k) => row(k)));
  await answered(said(0.012));
  const ids = (await database.answers.toArray()).map((r) => r.id);
  expect([ids.length, ids.includes('d0'), ids.includes(rumble.id)]).toEqual([30, false, true]);
  await deleteDesign(rumble.id);
  expect(await database.answers.get(rumble.id)).toBeUndefined();
});
