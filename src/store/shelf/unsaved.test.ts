import 'fake-indexeddb/auto';
import { demoDesigns } from '@/core/design/demo/demo';
import type { Design } from '@/core/design/document/schema';
import { must } from '@/core/result';
import { documentStore, edit, openDesign } from '../document';
import { setTitle } from '../edits/record-edits';
import { saveStore, startAutosave } from './autosave';
import { database } from './database';
import { readRow, saveDesign } from './save-design';
import { bringBack, deleteDesign, deleteForGood, forgetRemovedNow, loadRow, shelveDesign, sizeOf } from './shelf-rows';
import { isFull, storageReason } from './storage-reason';
import { storeLeft } from './unsaved';
import { takeUnsaved, unsavedStore } from './unsaved-store';

const page = Object.assign(new EventTarget(), { visibilityState: 'visible' });
Object.assign(globalThis, { document: page, window: new EventTarget() });
const [rumble, hiss] = demoDesigns();
const lies = async (): Promise<Design> => must(readRow((await loadRow(rumble.id))!));
const full = () =>
  jest.spyOn(database.designs, 'put').mockImplementation(() => {
    throw new DOMException('QuotaExceededError QuotaExceededError', 'QuotaExceededError');
  });
const leaving = () => {
  const event = new Event('beforeunload', { cancelable: true });
  window.dispatchEvent(event);
  return event.defaultPrevented;
};

beforeEach(async () => {
  await Promise.all([database.designs.clear(), database.removed.clear()]);
  await shelveDesign(rumble);
  openDesign(rumble);
});
afterEach(() => {
  jest.restoreAllMocks();
  takeUnsaved(rumble.id);
});

/** Edited with no room, and left. */
async function left(title: string): Promise<void> {
  openDesign(rumble);
  const stop = startAutosave(rumble, 1);
  const put = full();
  edit(setTitle(title));
  await stop();
  expect(saveStore.getState().state).toBe('failed');
  openDesign(null);
  put.mockRestore();
}

test('edits that there is no room for stay in the tab when the design is left, and are stored later', async () => {
  await left('one');
  expect((await lies()).title).toBe(rumble.title);
  expect([...unsavedStore.getState().left.values()].map((u) => u.design.title)).toEqual(['one']);
  // Closed with the tab they would be lost: it asks.
  expect(leaving()).toBe(true);
  const put = full();
  await storeLeft();
  expect(unsavedStore.getState().left.size).toBe(1);
  put.mockRestore();
  await storeLeft();
  expect((await lies()).title).toBe('one');
  expect([unsavedStore.getState().left.size, leaving()]).toEqual([0, false]);
});

test('where there is no room what is only kept to be quick goes first', async () => {
  await database.answers.put({ id: rumble.id, by: 'x', at: '', answers: {} });
  await left('six');
  expect(await database.answers.count()).toBe(0);
});

test('opened again it goes on from there, against what lay on the shelf', async () => {
  await left('two');
  const unsaved = takeUnsaved(rumble.id)!;
  expect(takeUnsaved(rumble.id)).toBeNull();
  openDesign(unsaved.design);
  const stop = startAutosave(unsaved.base, unsaved.revision);
  expect(saveStore.getState().state).toBe('pending');
  await stop();
  expect((await lies()).title).toBe('two');
  expect(documentStore.getState().design!.title).toBe('two');
});

test('a design that another tab removed meanwhile is put back with its edits', async () => {
  await left('three');
  await database.designs.delete(rumble.id);
  await storeLeft();
  expect((await lies()).title).toBe('three');
});

test('one that is deleted here stays deleted; brought back it has its last edits', async () => {
  await left('four');
  await deleteDesign(rumble.id);
  await storeLeft();
  expect([await loadRow(rumble.id), unsavedStore.getState().left.size]).toEqual([undefined, 0]);
  await bringBack(rumble.id);
  expect((await lies()).title).toBe('four');
  await left('five');
  await deleteForGood(rumble.id);
  await storeLeft();
  expect([await database.designs.count(), await database.removed.count()]).toEqual([0, 0]);
});

test('what is left with another design opened at once is stored, and nothing is said of the other', async () => {
  const stop = startAutosave(rumble, 1);
  edit(setTitle('left'));
  const stopped = stop();
  openDesign(hiss);
  const stopOther = startAutosave(hiss, 1);
  await stopped;
  expect((await lies()).title).toBe('left');
  expect([documentStore.getState().design, saveStore.getState()]).toEqual([
    hiss,
    { state: 'saved', at: null, message: null },
  ]);
  await stopOther();
});

test('a change of another tab that comes in while a design is left opens it over no other', async () => {
  const stop = startAutosave(rumble, 1);
  await saveDesign({ ...rumble, brief: { ...rumble.brief, note: 'theirs' } }, rumble, 1);
  edit(setTitle('ours'));
  const stopped = stop();
  openDesign(hiss);
  await stopped;
  expect(await lies()).toMatchObject({ title: 'ours', brief: { note: 'theirs' } });
  expect(documentStore.getState().design).toBe(hiss);
});

test('where there is no room for a removed one, a design can be deleted for good; removed ones too', async () => {
  expect(sizeOf((await loadRow(rumble.id))!)).toBe(JSON.stringify(rumble).length);
  jest.spyOn(database.removed, 'put').mockImplementation(() => {
    throw new DOMException('no more', 'QuotaExceededError');
  });
  const refused = await deleteDesign(rumble.id).catch((error: unknown) => error);
  expect(isFull(refused)).toBe(true);
  expect(await loadRow(rumble.id)).toBeDefined();
  await deleteForGood(rumble.id);
  expect([await database.designs.count(), await database.removed.count()]).toEqual([0, 0]);
  jest.restoreAllMocks();
  for (const id of ['a', 'b', 'c']) await deleteDesign(await shelveDesign({ ...rumble, id }));
  await forgetRemovedNow('b');
  expect((await database.removed.toArray()).map((r) => r.id)).toEqual(['a', 'c']);
  await forgetRemovedNow();
  expect(await database.removed.count()).toBe(0);
});

test.each([
  [new DOMException('x', 'QuotaExceededError'), 'The browser has no more room.'],
  [
    Object.assign(new Error('AbortError'), { name: 'AbortError', inner: new DOMException('', 'QuotaExceededError') }),
    'The browser has no more room.',
  ],
  [new Error('Encountered full disk while opening'), 'The browser has no more room.'],
  [new Error('DatabaseClosedError: The database is closed'), 'The database is closed.'],
  [new Error('the disk is gone.'), 'the disk is gone.'],
  [new Error(''), 'The browser did not say why.'],
])('no name of an exception is said: %s', (thrown, said) => {
  expect(storageReason(thrown)).toBe(said);
});
