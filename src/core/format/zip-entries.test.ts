import { strFromU8, strToU8, zipSync } from 'fflate';
import { must } from '../result';
import { seeded } from '../testing/seeded';
import { readZip } from './zip-entries';

const LIMITS = { entryBytes: 1e6, allBytes: 4e6, entries: 100 };
const TEXTS = Object.fromEntries(
  ['shelf.json', 'designs/a.json', 'designs/b.json', 'stock.json'].map((name, i) => [
    name,
    JSON.stringify({ name, rows: Array.from({ length: 40 + 20 * i }, (_, k) => `row ${k * i} of ${name}`) }),
  ]),
);
const zipped = (level: 0 | 6): Uint8Array =>
  zipSync(Object.fromEntries(Object.entries(TEXTS).map(([name, text]) => [name, strToU8(text)])), { level });
const textsIn = (bytes: Uint8Array) => {
  const { entries, broken } = must(readZip(bytes, LIMITS));
  return {
    texts: Object.fromEntries(entries.map((e) => [e.name, strFromU8(e.bytes)])),
    broken: broken.map((b) => b.name),
  };
};

test.each([0, 6] as const)('entries come out as they went in, packed at level %d', (level) => {
  expect(textsIn(zipped(level))).toEqual({ texts: TEXTS, broken: [] });
});

test.each([0, 6] as const)(
  'one bit flipped anywhere: no entry is wrong, and none is missing without a word (%d)',
  (level) => {
    const whole = zipped(level);
    const random = seeded(`bits ${level}`);
    let lost = 0;
    for (let at = 0; at < whole.length; at++) {
      const bytes = Uint8Array.from(whole);
      bytes[at] ^= 1 << Math.floor(random() * 8);
      const { texts, broken } = textsIn(bytes);
      const known = Object.entries(texts).filter(([, text]) => Object.values(TEXTS).includes(text));
      // Whatever came out is one of the texts, whole; at most one did not, and that is named.
      expect(known).toHaveLength(Object.keys(texts).length);
      expect(known.length).toBeGreaterThanOrEqual(Object.keys(TEXTS).length - 1);
      if (known.length < Object.keys(TEXTS).length) {
        lost++;
        expect(broken).toHaveLength(1);
      }
    }
    // Only what lies in the data itself is lost.
    expect(lost / whole.length).toBeLessThan(0.95);
  },
);

test('without its directory, or cut short, all entries that are whole come out', () => {
  const whole = zipped(6);
  const directory = whole.findIndex((_, i) => whole[i] === 0x50 && whole[i + 1] === 0x4b && whole[i + 2] === 0x01);
  expect(textsIn(whole.slice(0, directory)).texts).toEqual(TEXTS);
  const { texts, broken } = textsIn(whole.slice(0, directory - 20));
  expect(Object.keys(texts)).toEqual(Object.keys(TEXTS).slice(0, 3));
  expect(broken).toEqual(['stock.json']);
});

test('what would fill the memory is not unpacked, whatever its header says', () => {
  const bomb = zipSync({ 'zeros.json': new Uint8Array(3e6), 'good.json': strToU8('{}') });
  expect(textsIn(bomb)).toEqual({ texts: { 'good.json': '{}' }, broken: ['zeros.json'] });
  // A header that lies of the size.
  const lying = Uint8Array.from(bomb);
  const view = new DataView(lying.buffer);
  for (let i = 0; i + 4 <= lying.length; i++) if (view.getUint32(i, true) === 3e6) view.setUint32(i, 10, true);
  expect(textsIn(lying)).toEqual({ texts: { 'good.json': '{}' }, broken: ['zeros.json'] });
  const many = zipSync(Object.fromEntries(Array.from({ length: 101 }, (_, i) => [`${i}.json`, strToU8('{}')])));
  expect(readZip(many, LIMITS)).toMatchObject({ code: 'zip-too-large', data: { most: 100 } });
  const together = zipSync(Object.fromEntries(Array.from({ length: 6 }, (_, i) => [`${i}`, new Uint8Array(9e5)])));
  expect(textsIn(together).broken).toEqual(['4', '5']);
});

test('what is no zip is called so; an empty one has nothing in it', () => {
  expect(readZip(strToU8('hello, this is no zip at all'), LIMITS)).toMatchObject({ code: 'not-a-zip' });
  expect(textsIn(zipSync({}))).toEqual({ texts: {}, broken: [] });
});
