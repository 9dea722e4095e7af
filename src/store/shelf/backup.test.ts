import 'fake-indexeddb/auto';
import { createHash } from 'node:crypto';
import { inflateRawSync } from 'node:zlib';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { demoDesigns } from '@/core/design/demo/demo';
import { readDesign, writeDesign } from '@/core/design/document/migrate';
import type { Design } from '@/core/design/document/schema';
import { demoDrivers } from '@/core/loudspeaker/demo-drivers';
import { demoStock } from '@/core/parts/stock';
import { must } from '@/core/result';
import { seeded } from '@/core/testing/seeded';
import { newId } from '../new-id';
import { backupShelf } from './backup';
import { database, putSetting } from './database';
import { readShelfFile, type Backup } from './read-backup';
import { compareWithShelf, proposed, restoreRows, undoRestore, type BackupRow, type RowChoice } from './restore';
import { saveDesign } from './save-design';
import { deleteDesign, loadRow, rowOf, shelveDesign } from './shelf-rows';

const [rumble, hiss, band] = demoDesigns();
const tables = () => [
  database.designs,
  database.stock,
  database.opAmps,
  database.drivers,
  database.settings,
  database.removed,
];
const wipe = () => Promise.all(tables().map((table) => table.clear()));
const everything = () => Promise.all(tables().map((table) => (table as typeof database.designs).toArray()));
const read = (bytes: Uint8Array): Backup => {
  const file = must(readShelfFile(bytes, 'shelf.zip'));
  if (file.kind !== 'backup') throw new Error('a backup was wanted');
  return file.backup;
};
const restore = async (backup: Backup, choose: (row: BackupRow) => RowChoice = proposed) =>
  restoreRows((await compareWithShelf(backup)).map((row) => ({ row, choice: choose(row) })));
/** As a reader has it, its keys in the schema's order. */
const written = (design: Design): string => writeDesign(must(readDesign(design)));
const day = (date: number) => new Date(`2026-02-0${date}T10:00:00Z`);
beforeEach(wipe);

test('backed up, wiped and restored, every table is as it was', async () => {
  await shelveDesign(band, day(3));
  await shelveDesign(rumble, day(1));
  await saveDesign({ ...band, title: 'again' }, band, 1, day(4));
  await database.stock.bulkPut(demoStock(newId));
  await database.drivers.bulkPut(demoDrivers());
  await putSetting('theme', 'bench');
  await deleteDesign(await shelveDesign({ ...band, id: 'gone', title: 'gone' }), day(5));
  const before = await everything();
  const { bytes, unread } = await backupShelf();
  expect(unread).toEqual([]);
  await wipe();
  const backup = read(bytes);
  expect(backup.faults).toEqual([]);
  const { taken } = await restore(backup);
  expect(taken).toMatchObject({ designs: 2, drivers: demoDrivers().length, settings: 1, removed: 1 });
  expect(await everything()).toEqual(before);
});

/** Files of a zip by its directory (PKWARE, APPNOTE 4.3.12), by nothing of ours. */
function filesIn(zip: Buffer): Map<string, Buffer> {
  const end = zip.lastIndexOf(Buffer.from('504b0506', 'hex'));
  const files = new Map<string, Buffer>();
  for (let [at, left] = [zip.readUInt32LE(end + 16), zip.readUInt16LE(end + 10)]; left > 0; left--) {
    const nameLength = zip.readUInt16LE(at + 28);
    const name = zip.toString('utf8', at + 46, at + 46 + nameLength);
    const header = zip.readUInt32LE(at + 42);
    const from = header + 30 + zip.readUInt16LE(header + 26) + zip.readUInt16LE(header + 28);
    const packed = zip.subarray(from, from + zip.readUInt32LE(at + 20));
    const bytes = zip.readUInt16LE(at + 10) === 8 ? inflateRawSync(packed) : packed;
    expect(bytes).toHaveLength(zip.readUInt32LE(at + 24));
    files.set(name, bytes);
    at += 46 + nameLength + zip.readUInt16LE(at + 30) + zip.readUInt16LE(at + 32);
  }
  return files;
}

test('read by other means, every row is in it once, and the manifest has the hash of each file', async () => {
  for (const design of [band, rumble]) await shelveDesign(design, day(3));
  await database.stock.bulkPut(demoStock(newId));
  await database.drivers.bulkPut(demoDrivers());
  await deleteDesign(await shelveDesign({ ...band, id: 'gone' }), day(5));
  const files = filesIn(Buffer.from((await backupShelf()).bytes));
  const json = (name: string) => JSON.parse(files.get(name)!.toString('utf8'));
  const { files: listed } = json('shelf.json') as { files: { file: string; sha256: string; updatedAt?: string }[] };
  expect(listed.map(({ file, sha256 }) => [file, sha256]).sort()).toEqual(
    [...files]
      .filter(([name]) => name !== 'shelf.json')
      .map(([name, bytes]) => [name, createHash('sha256').update(bytes).digest('hex')])
      .sort(),
  );
  for (const design of [band, rumble]) {
    expect(json(`designs/${design.id}.json`)).toMatchObject({ id: design.id, variants: design.variants });
    expect(listed.find((l) => l.file === `designs/${design.id}.json`)!.updatedAt).toBe(day(3).toISOString());
  }
  expect(json('stock.json')).toEqual(await database.stock.toArray());
  expect(json('drivers.json')).toEqual(await database.drivers.toArray());
  expect(json('removed.json')).toMatchObject([{ id: 'gone', removedAt: day(5).toISOString() }]);
  expect([json('op-amps.json'), json('settings.json')]).toEqual([[], []]);
});

test('a backup is a backup with one design in it too, or with none but removed ones', async () => {
  await shelveDesign(band, day(3));
  await database.stock.bulkPut(demoStock(newId));
  const before = await everything();
  const { bytes } = await backupShelf();
  await wipe();
  await restore(read(bytes));
  expect(await everything()).toEqual(before);
  await wipe();
  await deleteDesign(await shelveDesign(band), day(5));
  const removed = await everything();
  const second = (await backupShelf()).bytes;
  await wipe();
  await restore(read(second));
  expect(await everything()).toEqual(removed);
  expect(readShelfFile(strToU8(JSON.stringify(band)), 'one.json')).toMatchObject({ value: { kind: 'design' } });
});

test('a row that does not read keeps no other back: it is in the backup as it lies, and named', async () => {
  await shelveDesign(band);
  const poisoned = { ...band, id: 'bad', version: { toString: 1 } };
  await database.designs.put({ ...rowOf(rumble, 1, day(1)), id: 'bad', title: 'Odd one', design: poisoned });
  const cyclic: { self?: unknown } = {};
  cyclic.self = cyclic;
  await database.designs.put({ ...rowOf(rumble, 1, day(1)), id: 'round', title: 'Round', design: cyclic });
  const { bytes, unread } = await backupShelf();
  expect(unread.map(({ title }) => title)).toEqual(['Odd one', 'Round']);
  const files = unzipSync(bytes);
  expect(JSON.parse(strFromU8(files[unread[0].file]))).toMatchObject({ id: 'bad', version: { toString: 1 } });
  const backup = read(bytes);
  expect(backup.designs.map((d) => d.design.id)).toEqual([band.id]);
  expect(backup.faults.map((f) => f.file)).toEqual(unread.map(({ file }) => file));
});

describe('over a shelf that has moved on', () => {
  const later: Design = { ...band, title: 'later' };
  /** Four designs as they were on the third, a part and a driver. */
  async function backedUp(): Promise<Uint8Array> {
    for (const design of [band, rumble, hiss]) await shelveDesign(design, day(3));
    await database.stock.put(demoStock(() => 'part')[0]);
    await database.drivers.put(demoDrivers()[0]);
    return (await backupShelf()).bytes;
  }

  test('each row is new, the same, older, newer or otherwise, and only what is new or newer is proposed', async () => {
    const bytes = await backedUp();
    await saveDesign(later, band, 1, day(4));
    await database.designs.put(rowOf({ ...hiss, title: 'from before' }, 1, day(1)));
    await database.drivers.clear();
    await database.stock.update('part', { count: 99 });
    const rows = await compareWithShelf(read(bytes));
    const stood = Object.fromEntries(rows.map((r) => [`${r.table} ${r.key}`, r.state]));
    expect(stood).toEqual({
      [`designs ${band.id}`]: 'older',
      [`designs ${hiss.id}`]: 'newer',
      [`designs ${rumble.id}`]: 'same',
      'stock part': 'differs',
      [`drivers ${demoDrivers()[0].id}`]: 'new',
    });
    const before = await everything();
    const restored = await restore(read(bytes));
    expect(restored.taken).toEqual({ designs: 1, drivers: 1 });
    expect((await loadRow(band.id))!.title).toBe('later');
    expect((await loadRow(hiss.id))!.title).toBe(hiss.title);
    expect((await database.stock.get('part'))!.count).toBe(99);
    // And back, in one step.
    expect(await undoRestore(restored)).toBe(0);
    const after = await everything();
    expect(after.slice(1)).toEqual(before.slice(1));
    const bare = (all: typeof before) => all[0].map(({ revision: _, ...row }) => row);
    expect(bare(after)).toEqual(bare(before));
  });

  test('row by row: in place of what is there, beside it, or left; an open tab sees that it is behind', async () => {
    const bytes = await backedUp();
    await saveDesign(later, band, 1, day(4));
    const choose = (choice: RowChoice) => (row: BackupRow) => (row.key === band.id ? choice : 'leave');
    const titles = async () => (await database.designs.toArray()).map((r) => r.title).sort();
    await restore(read(bytes), choose('beside'));
    expect(await titles()).toEqual([rumble.title, hiss.title, 'later', `${band.title} (copy)`].sort());
    await restore(read(bytes), choose('take'));
    expect(await titles()).toEqual([rumble.title, hiss.title, band.title, `${band.title} (copy)`].sort());
    expect((await loadRow(band.id))!.revision).toBe(3);
  });

  test('what was changed after it came in stays when the restore is taken back', async () => {
    const bytes = await backedUp();
    await wipe();
    const restored = await restore(read(bytes));
    await saveDesign(later, band, 1, day(5));
    expect(await undoRestore(restored)).toBe(1);
    expect((await database.designs.toArray()).map((r) => r.title)).toEqual(['later']);
  });

  test('a removed design that is on the shelf again is not removed once more, unless it is asked for', async () => {
    await deleteDesign(await shelveDesign(band, day(3)), day(4));
    const { bytes } = await backupShelf();
    await wipe();
    await shelveDesign(band, day(5));
    expect((await compareWithShelf(read(bytes))).map((r) => [r.table, r.state])).toEqual([['removed', 'differs']]);
    await restore(read(bytes));
    expect(await database.removed.count()).toBe(0);
  });

  test('two files with one id: the second comes in beside the first', async () => {
    const files = { 'a.json': strToU8(JSON.stringify(band)), 'b.json': strToU8(JSON.stringify(later)) };
    const backup = read(zipSync(files));
    expect((await compareWithShelf(backup)).map((r) => r.state)).toEqual(['new', 'twice']);
    await restore(backup);
    expect((await database.designs.toArray()).map((r) => r.title).sort()).toEqual([band.title, 'later (copy)'].sort());
  });
});

describe('what does not read', () => {
  test('every good file is taken, and every other named with its reason', () => {
    const zip = zipSync({
      'a.json': strToU8(JSON.stringify(rumble)),
      'b.json': strToU8('{"format":"jaunty-reed-design","version":1,"title":5}'),
      'c.json': strToU8('{'),
      'stock.json': strToU8(JSON.stringify([...demoStock(newId).slice(0, 2), { id: 'x', kind: 'glue' }])),
    });
    const { designs, tables, faults } = read(zip);
    expect(designs.map((d) => d.design.title)).toEqual([rumble.title]);
    expect(tables.stock).toHaveLength(2);
    expect(faults.map((f) => [f.file, f.code]).sort()).toEqual([
      ['b.json', 'broken-design'],
      ['c.json', 'not-json'],
      ['stock.json', 'broken-table'],
    ]);
  });

  test('a zip without anything, one without an entry and plain text are each called what they are', () => {
    expect(readShelfFile(zipSync({}), 'e.zip')).toMatchObject({ code: 'empty-zip', data: { file: 'e.zip' } });
    expect(readShelfFile(zipSync({ 'notes.txt': strToU8('x') }), 'n.zip')).toMatchObject({ code: 'empty-zip' });
    expect(readShelfFile(strToU8('PK and nothing more'), 'cut.zip')).toMatchObject({ code: 'not-a-zip' });
    expect(readShelfFile(strToU8('hello'), 'hello.json')).toMatchObject({ code: 'not-json' });
  });

  /** A backup whose manifest says something else. */
  async function withManifest(change: (manifest: { version: number; files: Record<string, unknown>[] }) => void) {
    await shelveDesign(band, day(3));
    await shelveDesign(rumble, day(4));
    const files = unzipSync((await backupShelf()).bytes);
    const manifest = JSON.parse(strFromU8(files['shelf.json']));
    change(manifest);
    await wipe();
    return read(zipSync({ ...files, 'shelf.json': strToU8(JSON.stringify(manifest)) }));
  }
  const dates = ({ designs }: Backup) =>
    Object.fromEntries(designs.map((d) => [d.design.id, d.updatedAt && d.updatedAt.slice(0, 10)]));
  const of = (design: Design) => (f: Record<string, unknown>) => f.file === `designs/${design.id}.json`;

  test('a date that is none is named and not taken; a newer manifest’s dates are', async () => {
    const odd = await withManifest((m) => Object.assign(m.files.find(of(band))!, { updatedAt: 'yesterday' }));
    expect(odd.faults.map((f) => [f.file, f.code])).toEqual([['shelf.json', 'broken-table']]);
    expect(dates(odd)).toEqual({ [band.id]: null, [rumble.id]: '2026-02-04' });
    const newer = await withManifest((m) => Object.assign(m, { version: 3, more: true }));
    expect(newer.faults.map((f) => f.code)).toEqual(['newer-backup']);
    expect(dates(newer)).toEqual({ [band.id]: '2026-02-03', [rumble.id]: '2026-02-04' });
  });

  test('what should be there and is not is named; what lost its name is known by its hash', async () => {
    await shelveDesign(band, day(3));
    await shelveDesign(rumble, day(4));
    const {
      [`designs/${band.id}.json`]: first,
      [`designs/${rumble.id}.json`]: _,
      ...files
    } = unzipSync((await backupShelf()).bytes);
    const backup = read(zipSync({ ...files, 'odd.json': first }));
    expect(backup.faults).toMatchObject([{ file: `designs/${rumble.id}.json`, code: 'missing-file' }]);
    expect(dates(backup)).toEqual({ [band.id]: '2026-02-03' });
  });

  test('a file that was changed after it was written is read as it stands, and named', async () => {
    await shelveDesign(band, day(3));
    const name = `designs/${band.id}.json`;
    const { [name]: first, ...files } = unzipSync((await backupShelf()).bytes);
    const changed = strToU8(strFromU8(first).replace(band.title, 'Changed by hand'));
    const backup = read(zipSync({ ...files, [name]: changed }));
    expect(backup.faults).toMatchObject([{ file: name, code: 'changed-file' }]);
    expect(backup.designs.map((d) => d.design.title)).toEqual(['Changed by hand']);
  });

  test('one bit flipped at three hundred places: no design is wrong, none is missing without a word', async () => {
    const designs = demoDesigns().slice(0, 5);
    for (const design of designs) await shelveDesign(design, day(3));
    const whole = (await backupShelf()).bytes;
    const random = seeded('bits');
    const texts = new Map(designs.map((d) => [d.id, written(d)]));
    for (let k = 0; k < 300; k++) {
      const bytes = Uint8Array.from(whole);
      bytes[Math.floor(random() * bytes.length)] ^= 1 << Math.floor(random() * 8);
      const got = readShelfFile(bytes, 'x.zip');
      // But for its first two bytes it is a zip, whatever is wrong with it.
      if (!got.ok) {
        expect(bytes.slice(0, 2)).not.toEqual(whole.slice(0, 2));
        continue;
      }
      if (got.value.kind !== 'backup') throw new Error('a backup was wanted');
      const { designs: taken, faults } = got.value.backup;
      expect(
        taken.filter(({ design }) => texts.get(design.id) !== written(design)).map(({ design }) => design.id),
      ).toEqual([]);
      expect(taken.length + faults.length).toBeGreaterThanOrEqual(designs.length);
      expect(taken.length).toBeGreaterThanOrEqual(designs.length - 1);
    }
  }, 120_000);
});
