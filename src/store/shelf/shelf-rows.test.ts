import 'fake-indexeddb/auto';
import { produce } from 'immer';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { demoDesigns } from '@/core/design/demo/demo';
import { DESIGN_VERSION, type Design } from '@/core/design/document/schema';
import { must } from '@/core/result';
import { database } from './database';
import { readRow, saveDesign } from './save-design';
import { bringBack, deleteDesign, forgetRemoved, loadRow, putBack, shelveDesign } from './shelf-rows';

const [, , band] = demoDesigns();
const changed = (change: (draft: Design) => void): Design => produce(band, change);
beforeEach(() => Promise.all([database.designs.clear(), database.removed.clear()]));

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
    expect([await cutoff(id), await cutoff(outcome.copy.id)]).toEqual([90, 91]);
    expect((await loadRow(outcome.copy.id))!.title).toBe(`${band.title} (from another tab)`);
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

test.each([{ toString: 1 }, '7', null, NaN, -1, 0.5])(
  'a version like %j is refused at the door, and throws nothing',
  (version) => {
    expect(readRow({ design: { ...band, version } })).toMatchObject({ ok: false, code: 'broken-design' });
  },
);

test('what an older version cannot have been is refused, and throws nothing', () => {
  for (let version = 1; version < DESIGN_VERSION; version++)
    for (const variants of [null, 7, [null], [{ ways: null }], [{ ways: [{ stages: 3 }] }]])
      expect(readRow({ design: { ...band, version, variants } }).ok).toBe(false);
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
