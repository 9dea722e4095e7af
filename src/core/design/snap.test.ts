import fc from 'fast-check';
import { neighbours } from '../parts/preferred';
import { must } from '../result';
import { createDesign, createPlan } from './create';
import { demoDesigns } from './demo';
import type { Design } from './schema';
import { snapWay, type WaySnaps } from './snap-way';
import { withTopology } from './with-topology';

const snap = (design: Design, patch: Partial<Parameters<typeof snapWay>[3]> = {}): WaySnaps =>
  must(
    snapWay(design.variants[0].ways[0], design, design.variants[0].controls, {
      stageId: null,
      mostPairs: 2,
      ...patch,
    }),
  );
let n = 0;
const filter = (
  order: number,
  alignment: Parameters<typeof createPlan>[2],
  cutoffHz: number,
  topology: string,
  response: Parameters<typeof createPlan>[1] = 'lowpass',
): Design => {
  const design = createDesign(
    's',
    (id) => [createPlan(id(), response, alignment, order, cutoffHz)],
    () => `s${n++}`,
  );
  return { ...design, variants: design.variants.map((v) => withTopology(v, topology)) };
};

test('chosen together, the demo designs come nearer than with the nearest values, pairs nearer still', () => {
  const all = demoDesigns().map((d) => snap(d));
  const better = all.map(
    ({ nearest, choices }) => choices[0].errorDb / Math.max(nearest.errorDb, 1e-9),
  );
  // In the middle of the lot, not much over half the error.
  expect([...better].sort((a, b) => a - b)[better.length >> 1]).toBeLessThan(0.6);
  for (const { choices } of all)
    choices
      .slice(1)
      .forEach((c, i) =>
        expect([c.errorDb < choices[i].errorDb, c.partCount > choices[i].partCount]).toEqual([
          true,
          true,
        ]),
      );
});

test('it never does worse than the nearest values', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 2, max: 5 }),
      fc.constantFrom('butterworth' as const, 'chebyshev' as const, 'bessel' as const),
      fc.double({ min: 30, max: 15e3, noNaN: true }),
      fc.constantFrom('sallen-key-unity-gain', 'multiple-feedback', 'tow-thomas'),
      (order, alignment, cutoffHz, topology) => {
        const { nearest, choices } = snap(filter(order, alignment, cutoffHz, topology), {
          mostPairs: 0,
        });
        for (const { errorDb } of choices)
          expect(errorDb).toBeLessThanOrEqual(nearest.errorDb + 1e-9);
        expect(choices.length).toBeGreaterThan(0);
      },
    ),
    { numRuns: 12 },
  );
}, 120_000);

test('every value is one of its series, or a pair of them; capacitors at hand are kept to', () => {
  const design = filter(4, 'butterworth', 1830, 'sallen-key-unity-gain');
  const own = (value: number, series: 'E24' | 'E6') =>
    neighbours(value, series).below === neighbours(value, series).above;
  for (const { stages } of snap(design).choices)
    for (const {
      snap: { uses },
    } of stages)
      for (const [part, use] of Object.entries(uses))
        for (const value of use.values)
          expect([part, own(value, part.startsWith('R') ? 'E24' : 'E6')]).toEqual([part, true]);
  const atHand = [1e-9, 10e-9, 22e-9];
  const kept = snap(design, { capacitors: atHand, mostPairs: 0 });
  for (const { stages } of kept.choices)
    for (const {
      snap: { uses },
    } of stages)
      for (const [part, use] of Object.entries(uses))
        if (part.startsWith('C')) expect(atHand).toContain(use.values[0]);
});

test('what is held stays as it is', () => {
  const design = filter(2, 'butterworth', 1000, 'sallen-key-unity-gain');
  const [variant] = design.variants;
  const stage = {
    ...variant.ways[0].stages[0],
    parts: { C1: { use: { kind: 'single' as const, values: [33e-9] }, pinned: true } },
  };
  const held = {
    ...design,
    variants: [{ ...variant, ways: [{ ...variant.ways[0], stages: [stage] }] }],
  };
  for (const { stages } of snap(held).choices)
    for (const {
      snap: { uses, values },
    } of stages)
      expect([uses.C1, values.C1]).toEqual([undefined, 33e-9]);
});
