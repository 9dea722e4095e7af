import fc from 'fast-check';
import { produce } from 'immer';
import { demoDesigns } from '../demo/demo';
import { mergeDesigns } from './merge';
import type { Design } from './schema';

const base = demoDesigns().find((d) => d.title === 'Swell-box band limiter')!;
const changed = (change: (draft: Design) => void): Design => produce(base, change);
const entry = (id: string) => ({ id, at: '2026-01-01T10:00:00.000Z', text: id, snapshot: null });

test('a cutoff here and a note there are one design with both', () => {
  const theirs = changed((d) => void (d.variants[0].ways[0].plans[0].cutoffHz = 99));
  const ours = changed((d) => {
    d.brief.note = 'ours';
    d.log.unshift(entry('ours'));
  });
  const merged = mergeDesigns(base, theirs, ours)!;
  expect(merged.variants[0].ways[0].plans[0].cutoffHz).toBe(99);
  expect([merged.brief.note, merged.log[0].id]).toEqual(['ours', 'ours']);
});

test('entries of both stand in the log, newest first as each had them; what one took out is gone', () => {
  const start = { ...base, log: [entry('b'), entry('a')] };
  const theirs = produce(start, (d) => void d.log.unshift(entry('theirs')));
  const ours = produce(start, (d) => void (d.log = [entry('ours'), entry('b')]));
  expect(mergeDesigns(start, theirs, ours)!.log.map((e) => e.id)).toEqual(['ours', 'theirs', 'b']);
});

test.each<[string, (d: Design) => void, (d: Design) => void]>([
  [
    'the same cutoff, unlike',
    (d) => (d.variants[0].ways[0].plans[0].cutoffHz = 90),
    (d) => (d.variants[0].ways[0].plans[0].cutoffHz = 91),
  ],
  ['a variant changed here and removed there', (d) => d.variants.pop(), (d) => (d.variants[1].label = 'other')],
  [
    'stages put in another order on both sides',
    (d) => d.variants[0].ways[0].stages.reverse(),
    (d) => d.variants[0].ways[0].stages.push(d.variants[0].ways[0].stages.shift()!),
  ],
])('%s: nobody can tell which is meant', (_, one, other) => {
  const [a, b] = [changed((d) => void one(d)), changed((d) => void other(d))];
  expect(mergeDesigns(base, a, b)).toBeNull();
  expect(mergeDesigns(base, b, a)).toBeNull();
});

test('which variant is looked at is nobody’s conflict', () => {
  const theirs = changed((d) => void (d.brief.note = 'theirs'));
  const ours = changed((d) => void (d.currentVariant = d.variants[1].id));
  expect(mergeDesigns(base, theirs, ours)).toMatchObject({
    currentVariant: base.variants[1].id,
    brief: { note: 'theirs' },
  });
});

test('what two sides change apart from one another comes out alike whichever came first, and loses nothing', () => {
  const edits: ((d: Design) => void)[] = [
    (d) => void (d.title = 'another'),
    (d) => void (d.brief.signalVolts = 0.3),
    (d) => void (d.brief.mask[0].db = 33),
    (d) => void (d.variants[0].ways[0].plans[1].cutoffHz = 5000),
    (d) => void (d.variants[1].label = 'b'),
    (d) => void (d.variants[0].ways[0].stages[2].device = 'ideal'),
    (d) => void (d.preferences.boards = 3),
    (d) => void d.log.unshift(entry('one')),
  ];
  fc.assert(
    fc.property(fc.array(fc.constantFrom('theirs', 'ours', 'neither'), { minLength: 8, maxLength: 8 }), (sides) => {
      const of = (side: string) => changed((d) => edits.forEach((e, i) => sides[i] === side && e(d)));
      const both = changed((d) => edits.forEach((e, i) => sides[i] !== 'neither' && e(d)));
      expect(mergeDesigns(base, of('theirs'), of('ours'))).toEqual(both);
      expect(mergeDesigns(base, of('ours'), of('theirs'))).toEqual(both);
    }),
    { seed: 7, numRuns: 100 },
  );
});
