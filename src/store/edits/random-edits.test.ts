import 'fake-indexeddb/auto';
import fc from 'fast-check';
import { demoDesigns } from '@/core/design/demo/demo';
import { readDesignText, writeDesign } from '@/core/design/document/migrate';
import type { Design } from '@/core/design/document/schema';
import { NETWORK_TOPOLOGIES, SECTION_TOPOLOGIES } from '@/core/topology/index';
import { must } from '@/core/result';
import { documentStore, edit, openDesign, refusalStore, undo } from '../document';
import * as edits from './edits';
import * as plans from './plan-edits';
import * as parts from './part-edits';
import * as network from './network-edits';
import * as record from './record-edits';
import { orLong } from '@/testing/extent';

const starts = demoDesigns();
const now = (): Design => documentStore.getState().design as Design;
const pick = <T>(list: readonly T[], at: number): T | undefined => list[at % Math.max(1, list.length)];

/** Numbers that a field may be given, sensible and not. */
const anyNumber = fc.oneof(
  fc.constantFrom(0, -1, 1e-30, 1e12, NaN, Infinity, 4.7e-9),
  fc.double({ min: 1e-3, max: 1e6, noNaN: true }),
);

/** A change of the open design, made of three numbers. */
const CHANGES: ((a: number, b: number, v: number) => edits.Edit)[] = [
  (a, b, v) => plans.addPlan(a % 2 ? 'lowpass' : 'highpass', b % 3 ? 100 * (1 + (b % 90)) : v),
  (a, b, v) =>
    plans.changePlan(pick(edits.currentWayOf(now()).plans, a)?.id ?? '', { cutoffHz: v, order: 1 + (b % 12) }),
  (a, b) =>
    plans.changePlan(pick(edits.currentWayOf(now()).plans, a)?.id ?? '', {
      alignment: pick(['butterworth', 'bessel', 'chebyshev', 'elliptic'] as const, b),
    }),
  (a) => plans.removePlan(pick(edits.currentWayOf(now()).plans, a)?.id ?? ''),
  (a, b, v) => edits.addStage('lowpass', v, pick(SECTION_TOPOLOGIES, a + b)!.id),
  (a) => network.addNetwork(pick(NETWORK_TOPOLOGIES, a)!.id),
  (a) => edits.removeStage(pick(edits.currentWayOf(now()).stages, a)?.id ?? ''),
  (a) => edits.duplicateStage(pick(edits.currentWayOf(now()).stages, a)?.id ?? ''),
  (a, b) => edits.moveStage(a % 9, b % 9),
  (a, _, v) => edits.retune(pick(edits.currentWayOf(now()).stages, a)?.id ?? '', { freqHz: v, q: v }),
  (a, b) => edits.setTopology(pick(edits.currentWayOf(now()).stages, a)?.id ?? '', pick(SECTION_TOPOLOGIES, b)!.id),
  (a, b, v) =>
    parts.choosePart(pick(edits.currentWayOf(now()).stages, a)?.id ?? '', `R${1 + (b % 3)}`, {
      use: { kind: 'single', values: [v] },
    }),
  (a, b, v) =>
    record.addLimit({ kind: a % 2 ? 'at-most' : 'at-least', freqHz: v, side: b % 2 ? 'below' : 'above', db: v }),
  () => record.addVariant(),
  (a) => record.removeVariant(pick(now().variants, a)!.id),
  (a, b, v) =>
    record.addMeasurement({
      name: `m${a}`,
      at: '2026-01-01T10:00:00.000Z',
      freqHz: [1, 10, b % 2 ? 100 : 5],
      levelDb: [0, v, 0],
      phaseDeg: null,
      aligned: true,
    }),
  (_, __, v) => edits.setOutputResistor(v),
  (a) => record.setTitle('t'.repeat(a % 400)),
];

test('whatever is done to it, a design can be written and read back as it is; what would break it is refused', () => {
  const step = fc.tuple(fc.nat(CHANGES.length - 1), fc.nat(1000), fc.nat(1000), anyNumber);
  let refused = 0;
  fc.assert(
    fc.property(fc.nat(starts.length - 1), fc.array(step, { minLength: 1, maxLength: 8 }), (start, steps) => {
      openDesign(starts[start]);
      for (const [which, a, b, v] of steps) {
        const before = now();
        refusalStore.setState({ refused: null });
        edit(CHANGES[which](a, b, v));
        if (refusalStore.getState().refused) {
          refused++;
          // A change that is refused leaves everything as it was.
          expect(now()).toBe(before);
        }
      }
      expect(must(readDesignText(writeDesign(now())))).toEqual(now());
    }),
    { seed: 11, numRuns: orLong(600, 2000) },
  );
  expect(refused).toBeGreaterThan(30);
}, 180_000);

test('a refused change says where and how, and is no step to be undone', () => {
  openDesign(starts[0]);
  edit(record.setTitle('before'));
  edit(record.setTitle('t'.repeat(201)));
  expect(refusalStore.getState().refused!.fault).toMatch(/^title: .*200/);
  undo();
  expect(now().title).toBe(starts[0].title);
});
