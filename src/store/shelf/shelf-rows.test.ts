import 'fake-indexeddb/auto';
import { produce } from 'immer';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { strToU8, zipSync } from 'fflate';
import { demoDesigns } from '@/core/design/demo/demo';
import { DESIGN_VERSION, type Design } from '@/core/design/document/schema';
import { must } from '@/core/result';
import { demoDrivers } from '@/core/loudspeaker/demo-drivers';
import { demoStock } from '@/core/parts/stock';
import { backupShelf, clashes, readBackup, restoreBackup } from './backup';
import { database, putSetting } from './database';
import { newId } from '../new-id';
import { readRow, saveDesign } from './save-design';
import { bringBack, deleteDesign, forgetRemoved, loadRow, putBack, shelveDesign } from './shelf-rows';

const [rumble, , band] = demoDesigns();
const changed = (change: (draft: Design) => void): Design => produce(band, change);
const tables = () => [
  database.designs,
  database.stock,
  database.opAmps,
  database.drivers,
  database.settings,
  database.removed,
];
const wipe = () => Promise.all(tables().map((table) => table.clear()));
beforeEach(wipe);

describe('two tabs', () => {
  test('a cutoff in one and a note in the other: both are kept, in one design', async () => {
    const id = await shelveDesign(band);
    const theirs = changed((d) => void (d.variants[0].ways[0].plans[0].cutoffHz = 99));
    expect(await saveDesign(theirs, band, 1)).toEqual({ kind: 'saved', revision: 2 });
    const ours = changed((d) => void (d.brief.note = 'ours'));
    const outcome = await saveDesign(ours, band, 1);
    expect(outcome).toMatchObject({ kind: 'merged', revision: 3 });
    const lies = must(readRow((await loadRow(id))!));
    expect([lies.variants[0].ways[0].plans[0].cutoffHz, lies.brief.note]).toEqual([99, 'ours']);
  });

  test('the same cutoff in both: each design is kept whole, and told apart by its title', async () => {
    const id = await shelveDesign(band);
    const to = (hz: number) => changed((d) => void (d.variants[0].ways[0].plans[0].cutoffHz = hz));
    await saveDesign(to(90), band, 1);
    const outcome = await saveDesign(to(91), band, 1);
    if (outcome.kind !== 'kept-beside') throw new Error(outcome.kind);
    const cutoff = async (at: string) => must(readRow((await loadRow(at))!)).variants[0].ways[0].plans[0].cutoffHz;
    expect([await cutoff(id), await cutoff(outcome.copyId)]).toEqual([90, 91]);
    expect((await loadRow(outcome.copyId))!.title).toBe(`${band.title} (from another tab)`);
    expect(await database.designs.count()).toBe(2);
  });

  test('a design removed in another tab is not written back unasked; asked, it is', async () => {
    await shelveDesign(band);
    await deleteDesign(band.id);
    expect(
      await saveDesign(
        changed((d) => void (d.title = 'later')),
        band,
        1,
      ),
    ).toEqual({ kind: 'removed' });
    expect(await database.designs.count()).toBe(0);
    await deleteDesign(band.id);
    await putBack(band);
    expect(must(readRow((await loadRow(band.id))!))).toEqual(band);
    // It is on the shelf again, and no longer among what was removed.
    expect(await database.removed.count()).toBe(0);
  });
});

test('rows of every older version open, brought up to date; what does not read is left as it lies', async () => {
  for (let version = 1; version < DESIGN_VERSION; version++) {
    const old = JSON.parse(
      readFileSync(join(__dirname, `../../core/design/document/testing/design-${version}.json`), 'utf8'),
    );
    await database.designs.put({ id: `v${version}`, title: 't', updatedAt: '2026-01-01', revision: 1, design: old });
    expect(must(readRow((await loadRow(`v${version}`))!))).toMatchObject({
      version: DESIGN_VERSION,
      title: old.title,
    });
  }
  const broken = { format: 'jaunty-reed-design', version: 1, title: 5 };
  await database.designs.put({ id: 'broken', title: 'b', updatedAt: '2026-01-01', revision: 1, design: broken });
  expect(readRow((await loadRow('broken'))!)).toMatchObject({ ok: false, code: 'broken-design' });
  expect((await loadRow('broken'))!.design).toEqual(broken);
});

test('what was removed can be brought back for thirty days, beside what has its id by then', async () => {
  await shelveDesign(band, new Date('2026-02-01T10:00:00Z'));
  await deleteDesign(band.id, new Date('2026-02-02T10:00:00Z'));
  expect(await database.designs.count()).toBe(0);
  expect(await forgetRemoved(new Date('2026-03-04T09:59:00Z'))).toBe(0);
  expect(await bringBack(band.id)).toBe(band.id);
  const row = (await loadRow(band.id))!;
  expect(must(readRow(row))).toEqual(band);
  expect(row).toMatchObject({ updatedAt: '2026-02-01T10:00:00.000Z', revision: 2 });
  expect('removedAt' in row).toBe(false);
  expect(await database.removed.count()).toBe(0);
  // Its id has been taken meanwhile, by a copy that was read in again.
  await deleteDesign(band.id, new Date('2026-02-02T10:00:00Z'));
  await shelveDesign({ ...band, title: 'read in again' });
  const beside = await bringBack(band.id);
  expect(beside).not.toBe(band.id);
  expect((await database.designs.toArray()).map((r) => r.title).sort()).toEqual([band.title, 'read in again'].sort());
  expect(must(readRow((await loadRow(beside!))!)).id).toBe(beside);
  await deleteDesign(band.id, new Date('2026-02-02T10:00:00Z'));
  expect(await forgetRemoved(new Date('2026-03-04T10:01:00Z'))).toBe(1);
  expect(await bringBack(band.id)).toBeNull();
});

describe('backup', () => {
  const everything = () => Promise.all(tables().map((table) => (table as typeof database.designs).toArray()));

  test('backed up, wiped and restored, every table is as it was', async () => {
    await shelveDesign(band, new Date('2026-02-03T10:00:00Z'));
    await shelveDesign(rumble, new Date('2026-02-01T10:00:00Z'));
    await saveDesign(
      changed((d) => void (d.title = 'again')),
      band,
      1,
      new Date('2026-02-04T10:00:00Z'),
    );
    await database.stock.bulkPut(demoStock(newId));
    await database.drivers.bulkPut(demoDrivers());
    await putSetting('theme', 'bench');
    const gone = await shelveDesign({ ...band, id: 'gone', title: 'gone' });
    await deleteDesign(gone, new Date('2026-02-05T10:00:00Z'));
    const before = await everything();
    const zip = await backupShelf();
    await wipe();
    const read = must(readBackup(zip, 'shelf.zip'));
    expect(read.faults).toEqual([]);
    expect(await restoreBackup(read, 'skip')).toBe(2);
    expect(await everything()).toEqual(before);
  });

  test('what lies there otherwise is left, kept beside, or replaced; what is alike stays', async () => {
    await shelveDesign(band);
    await shelveDesign(rumble);
    const backup = must(readBackup(await backupShelf(), 'shelf.zip'));
    const later = changed((d) => void (d.title = 'later'));
    await saveDesign(later, band, 1);
    expect((await clashes(backup)).map((c) => c.design.title)).toEqual([band.title]);
    const titles = async () => (await database.designs.toArray()).map((r) => r.title).sort();
    expect(await restoreBackup(backup, 'skip')).toBe(0);
    expect(await titles()).toEqual([rumble.title, 'later'].sort());
    expect(await restoreBackup(backup, 'keep-both')).toBe(1);
    expect(await titles()).toEqual([rumble.title, 'later', `${band.title} (copy)`].sort());
    expect(await restoreBackup(backup, 'replace')).toBe(1);
    expect(await titles()).toEqual([rumble.title, band.title, `${band.title} (copy)`].sort());
    // An open tab that knew the replaced one sees that it is behind.
    expect((await loadRow(band.id))!.revision).toBe(3);
  });

  test('every good file is taken, and every other named with its reason', () => {
    const good = JSON.stringify(rumble);
    const zip = zipSync({
      'a.json': strToU8(good),
      'b.json': strToU8('{"format":"jaunty-reed-design","version":1,"title":5}'),
      'c.json': strToU8('{'),
      'stock.json': strToU8(JSON.stringify([...demoStock(newId).slice(0, 2), { id: 'x', kind: 'glue' }])),
    });
    const read = must(readBackup(zip, 'mixed.zip'));
    expect(read.designs.map((d) => d.design.title)).toEqual([rumble.title]);
    expect(read.stock).toHaveLength(2);
    expect(read.faults.map((f) => [f.file, f.code]).sort()).toEqual([
      ['b.json', 'broken-design'],
      ['c.json', 'not-json'],
      ['stock.json', 'broken-table'],
    ]);
  });

  test('a zip without anything, one cut short and plain text are each called what they are', async () => {
    expect(readBackup(zipSync({}), 'empty.zip')).toMatchObject({ code: 'empty-zip', data: { file: 'empty.zip' } });
    expect(readBackup(zipSync({ 'notes.txt': strToU8('x') }), 'n.zip')).toMatchObject({ code: 'empty-zip' });
    await shelveDesign(band);
    expect(readBackup((await backupShelf()).slice(0, 200), 'cut.zip')).toMatchObject({ code: 'broken-zip' });
    expect(readBackup(strToU8('hello'), 'hello.json')).toMatchObject({ code: 'not-json' });
  });
});

test.each(['\ud800', '..', '.', '', 'a/b', 'a%b'])('an id like %j is refused at the door', (id) => {
  expect(readRow({ design: { ...band, id } })).toMatchObject({ ok: false, code: 'broken-design' });
});

test('a stage that is there twice is refused at the door, with its place', () => {
  const twice = changed((d) => void d.variants[0].ways[0].stages.push(d.variants[0].ways[0].stages[0]));
  expect(readRow({ design: twice })).toMatchObject({
    ok: false,
    data: { issues: [expect.stringContaining('is there twice')] },
  });
});
