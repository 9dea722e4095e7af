import 'fake-indexeddb/auto';
import { demoDesigns } from '@/core/design/demo/demo';
import type { Design } from '@/core/design/document/schema';
import { must } from '@/core/result';
import { putOpenBack, saveStore, startAutosave } from './autosave';
import { database } from './database';
import { documentStore, edit, openDesign, redo, undo } from '../document';
import { restoreHistory } from './history';
import { changeBrief, setTitle } from '../edits/record-edits';
import { readRow, saveDesign } from './save-design';
import { deleteDesign, loadRow, shelveDesign } from './shelf-rows';

jest.mock('./save-design', () => {
  const real = jest.requireActual('./save-design');
  return { ...real, saveDesign: jest.fn(real.saveDesign) };
});

// A page as far as saving knows one: it is hidden, and left.
const page = Object.assign(new EventTarget(), { visibilityState: 'visible' });
Object.assign(globalThis, { document: page, window: new EventTarget() });

const [rumble] = demoDesigns();
const lies = async (): Promise<Design> => must(readRow((await loadRow(rumble.id))!));
const until = async (holds: () => boolean | Promise<boolean>) => {
  for (let i = 0; i < 100; i++) {
    if (await holds()) return;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error('it did not come to that');
};
let stop: () => Promise<void>;

beforeEach(async () => {
  await database.designs.clear();
  await database.histories.clear();
  await shelveDesign(rumble);
  openDesign(rumble);
  stop = startAutosave(rumble, 1);
});
afterEach(async () => {
  jest.restoreAllMocks();
  await stop();
});

test('what is changed is on the shelf a moment later, and what is changed while it is saved, after that', async () => {
  edit(setTitle('one'));
  expect(saveStore.getState().state).toBe('pending');
  await until(async () => (await lies()).title === 'one');
  edit(setTitle('two'));
  await until(async () => (await lies()).title === 'two');
  await until(() => saveStore.getState().state === 'saved');
});

test('what is called saved lies there with what can be undone of it', async () => {
  edit(setTitle('one'));
  await new Promise<void>((resolve) => {
    const done = saveStore.subscribe(({ state }) => {
      if (state !== 'saved') return;
      done();
      resolve();
    });
  });
  expect(await database.histories.get(rumble.id)).toMatchObject({ revision: 2 });
});

test('a save that fails is tried again by itself, says so meanwhile, and no longer when it has gone well', async () => {
  const put = jest.spyOn(database.designs, 'put').mockImplementation(() => {
    throw new Error('the disk is full.');
  });
  edit(setTitle('one'));
  await until(() => saveStore.getState().state === 'failed');
  expect(saveStore.getState().message).toContain('the disk is full. It is tried again in 1 s');
  const leaving = new Event('beforeunload', { cancelable: true });
  window.dispatchEvent(leaving);
  expect(leaving.defaultPrevented).toBe(true);
  put.mockRestore();
  await until(() => saveStore.getState().state === 'saved');
  expect([saveStore.getState().message, (await lies()).title]).toEqual([null, 'one']);
  const later = new Event('beforeunload', { cancelable: true });
  window.dispatchEvent(later);
  expect(later.defaultPrevented).toBe(false);
});

test('an edit that is not saved yet is not overwritten by what another tab tells of', async () => {
  edit(setTitle('ours'));
  await saveDesign({ ...rumble, brief: { ...rumble.brief, note: 'theirs' } }, rumble, 1);
  const channel = new BroadcastChannel('jaunty-reed-designs');
  channel.postMessage({ id: rumble.id, revision: 2 });
  await until(async () => (await lies()).title === 'ours');
  channel.close();
  expect((await lies()).brief.note).toBe('theirs');
  expect(documentStore.getState().design).toMatchObject({ title: 'ours', brief: { note: 'theirs' } });
  await until(() => saveStore.getState().message !== null);
  expect(saveStore.getState().message).toContain('are both here');
});

test('what can be undone here stays when another tab’s change comes in, and their change stays too', async () => {
  edit(setTitle('ours'));
  await until(() => saveStore.getState().state === 'saved');
  edit(setTitle('ours again'));
  await saveDesign({ ...rumble, title: 'ours', brief: { ...rumble.brief, note: 'theirs' } }, rumble, 2);
  await until(() => documentStore.getState().design!.brief.note === 'theirs');
  expect(documentStore.getState().design!.title).toBe('ours again');
  undo();
  expect(documentStore.getState().design).toMatchObject({ title: 'ours', brief: { note: 'theirs' } });
  undo();
  expect(documentStore.getState().design).toMatchObject({ title: rumble.title, brief: { note: 'theirs' } });
  redo();
  expect(documentStore.getState().design!.title).toBe('ours');
});

test('of two tabs on one field there is one copy for each while they go on, with the last of each in it', async () => {
  for (let k = 0; k < 6; k++) {
    const row = (await loadRow(rumble.id))!;
    await saveDesign({ ...must(readRow(row)), title: `theirs ${k}` }, must(readRow(row)), row.revision);
    edit(setTitle(`ours ${k}`));
    await until(async () => (await database.designs.toArray()).some((r) => r.title.startsWith(`ours ${k}`)));
    await until(() => saveStore.getState().state === 'saved');
  }
  const titles = (await database.designs.toArray()).map((r) => r.title).sort();
  expect(titles).toEqual(['ours 5 (from another tab)', 'theirs 5']);
});

test('what is typed while a copy is being kept goes into the copy', async () => {
  await saveDesign({ ...rumble, title: 'theirs' }, rumble, 1);
  const { designs } = database;
  const put = designs.put.bind(designs);
  let typing = 3;
  jest.spyOn(designs, 'put').mockImplementation((row) => {
    if (row.id !== rumble.id && typing > 0) edit(setTitle(`typed ${typing--}`));
    return put(row);
  });
  edit(setTitle('ours'));
  await until(() => documentStore.getState().design!.title === 'theirs');
  expect((await designs.toArray()).map((r) => r.title).sort()).toEqual(['theirs', 'typed 1 (from another tab)']);
});

test('an idle tab follows what another saved', async () => {
  await saveDesign({ ...rumble, title: 'theirs' }, rumble, 1);
  const channel = new BroadcastChannel('jaunty-reed-designs');
  channel.postMessage({ id: rumble.id, revision: 2 });
  await until(() => documentStore.getState().design!.title === 'theirs');
  channel.close();
});

test('what another tab tells of while this one writes is taken when it has written', async () => {
  const { saveDesign: save } = jest.requireActual('./save-design') as { saveDesign: typeof saveDesign };
  const channel = new BroadcastChannel('jaunty-reed-designs');
  jest.mocked(saveDesign).mockImplementationOnce(async (design, base, revision, at, copy) => {
    const outcome = await save(design, base, revision, at, copy);
    // The other tab merges with what was just written, and tells of it before this side knows that it is done.
    await save({ ...design, brief: { ...design.brief, note: 'theirs' } }, design, 2);
    channel.postMessage({ id: rumble.id, revision: 3 });
    await new Promise((resolve) => setTimeout(resolve, 50));
    return outcome;
  });
  edit(setTitle('ours'));
  await until(() => documentStore.getState().design!.brief.note === 'theirs');
  expect(documentStore.getState().design!.title).toBe('ours');
  channel.close();
});

test('removed in another tab: it is said, nothing is written until it is put back', async () => {
  await deleteDesign(rumble.id);
  await until(() => saveStore.getState().state === 'removed');
  edit(setTitle('after'));
  await new Promise((resolve) => setTimeout(resolve, 700));
  expect(await loadRow(rumble.id)).toBeUndefined();
  await putOpenBack();
  expect((await lies()).title).toBe('after');
  edit(setTitle('on'));
  await until(async () => (await lies()).title === 'on');
});

test('undo goes on after a reload, step by step, where the design is as it was left', async () => {
  edit(setTitle('one'));
  edit(changeBrief({ note: 'two' }));
  await until(() => saveStore.getState().state === 'saved');
  await stop();
  const row = (await loadRow(rumble.id))!;
  await until(async () => (await database.histories.get(rumble.id))?.revision === row.revision);
  // As after a reload: opened anew, from the shelf.
  openDesign(structuredClone(must(readRow(row))));
  await restoreHistory(row.revision);
  undo();
  expect(documentStore.getState().design).toMatchObject({ title: 'one', brief: { note: rumble.brief.note } });
  undo();
  expect(documentStore.getState().design).toEqual(rumble);
  openDesign(structuredClone(must(readRow(row))));
  await restoreHistory(row.revision + 1);
  undo();
  expect(documentStore.getState().design!.title).toBe('one');
});
