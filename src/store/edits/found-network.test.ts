import 'fake-indexeddb/auto';
import { AcSolver } from '@/core/analysis/ac/solver';
import { newCrossover } from '@/core/catalogue/new-crossover';
import { countingIds } from '@/core/design/making/create';
import { designSchema, type Design } from '@/core/design/document/schema';
import { variantPrice } from '@/core/design/stages/price';
import { readPartList } from '@/core/format/part-list';
import { runAcoustics } from '@/core/jobs/loudspeaker/acoustics';
import { runCompareSpeakers } from '@/core/jobs/loudspeaker/compare-speakers';
import { must } from '@/core/result';
import { documentStore, edit, openDesign, undo } from '../document';
import { currentVariantOf } from './edits';
import { keepFound } from './found-network';

const now = (): Design => documentStore.getState().design as Design;
const grid = { fromHz: 20, toHz: 20e3, points: 121 };
const heard = (variantId: string) =>
  must(runAcoustics({ kind: 'acoustics', design: now(), variantId, ghostVariantId: null, grid }, new AcSolver()));

test('what was found stands beside what is on the desk, on the same drivers, as its list says', () => {
  openDesign(newCrossover({ count: 2, subwoofer: false }, countingIds('f')));
  const before = now();
  const [woofer, tweeter] = currentVariantOf(before).ways;
  const list = must(readPartList('1 mH, across 10 uF'));
  edit(
    keepFound(
      new Map([
        [woofer.id, list],
        [tweeter.id, null],
      ]),
      'found',
    ),
  );
  expect(designSchema.safeParse(now()).error).toBeUndefined();
  expect(now().currentVariant).toBe(before.currentVariant);
  const found = now().variants[1];
  expect(found).toMatchObject({ id: 'found', name: 'B', label: 'found' });
  expect(found.ways.map((w) => w.load)).toEqual(currentVariantOf(now()).ways.map((w) => w.load));
  expect(found.ways[0].stages[0].parts).toMatchObject({
    L1: { use: { values: [1e-3] } },
    C1: { use: { values: [10e-6] } },
  });
  // Nothing before the tweeter: it gets what the amplifier gives.
  const { ways, targetDb } = heard('found');
  expect(Math.max(...ways[1].voltsDb)).toBeLessThan(0.01);
  expect(Math.min(...ways[1].voltsDb)).toBeGreaterThan(-1);
  expect([...targetDb]).toEqual([...heard(before.currentVariant).targetDb]);
  undo();
  expect(now()).toEqual(before);
});

test('compared, each has its own figures: those that the desk shows of it', () => {
  openDesign(newCrossover({ count: 2, subwoofer: false }, countingIds('f')));
  const [woofer, tweeter] = currentVariantOf(now()).ways;
  const lists = [must(readPartList('2.2 mH, across 22 uF')), must(readPartList('2.2 uF'))];
  edit(
    keepFound(
      new Map([
        [woofer.id, lists[0]],
        [tweeter.id, lists[1]],
      ]),
      'found',
    ),
  );
  const own = now().currentVariant;
  const all = must(
    runCompareSpeakers({ kind: 'compare-speakers', design: now(), variantId: own, others: ['found'] }, new AcSolver()),
  );
  expect(all.map((f) => f.variantId)).toEqual([own, 'found']);
  all.forEach((figures, v) => {
    const { flat, load } = heard(figures.variantId);
    expect(figures.flatDb).toBeCloseTo(Math.max(flat.overDb, -flat.underDb), 6);
    expect(figures.lowestOhm).toBeCloseTo(load!.lowestOhm, 6);
    expect(figures.price).toBe(variantPrice(now().variants[v], now()));
    expect(figures.decayDb).toBeLessThan(-10);
  });
  expect(all[0].price).not.toBe(all[1].price);
  expect(
    runCompareSpeakers({ kind: 'compare-speakers', design: now(), variantId: own, others: ['gone'] }, new AcSolver()),
  ).toMatchObject({ ok: false, code: 'no-such-variant' });
});

test('of ways that have amplifiers of their own it stands without them: one feeds it all', () => {
  openDesign(newCrossover({ count: 2, subwoofer: false, active: true }, countingIds('f')));
  const [woofer] = currentVariantOf(now()).ways;
  edit(keepFound(new Map([[woofer.id, must(readPartList('1 mH'))]]), 'found'));
  const loads = (at: number) => now().variants[at].ways.map(({ load }) => load.kind === 'driver' && load.amplifier);
  expect(loads(1)).toEqual([null, null]);
  expect(loads(0)).not.toContain(null);
  expect(heard('found').load).not.toBeNull();
});
