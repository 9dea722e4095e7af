import { createDesign, createNetwork, createPlan } from '../../design/making/create';
import type { Design } from '../../design/document/schema';
import { must } from '../../result';
import { topologyById } from '../../topology/index';
import { typedInto } from '../../testing/lone-path';
import { JobRunner } from '../run-job';
import { worthwhileGrades } from './yield';

let n = 0;
const makeId = () => `y${n++}`;
const runner = new JobRunner();
const bare = (design: Design): Design => ({
  ...design,
  brief: { ...design.brief, source: { name: '', ohm: 0 }, load: { name: '', ohm: null } },
});

/** A twin-T with parts of a tolerance, exact values typed in. */
function twinT(tolerancePct: number): Design {
  const topology = topologyById('twin-t');
  if (topology.role !== 'network') throw new Error('a network was wanted');
  const base = bare(createDesign('t', () => [], makeId));
  const { stage } = createNetwork(topology, makeId, { parameters: { notchHz: 1000 } });
  const [R, C] = [10e3, 1 / (2 * Math.PI * 1000 * 10e3)];
  const exact = { R1: R, R2: R, R3: R / 2, C1: C, C2: C, C3: 2 * C };
  const parts = Object.fromEntries(
    Object.entries(exact).map(([name, value]) => [
      name,
      { use: { kind: 'single' as const, values: [value] }, tolerancePct },
    ]),
  );
  return {
    ...base,
    variants: base.variants.map((v) => ({
      ...v,
      ways: v.ways.map((w) => ({ ...w, stages: [{ ...stage, parts }] })),
    })),
  };
}
const yields = async (design: Design, runs: number, seed: number, fromHz: number) =>
  must(
    await runner.run<'yield'>({
      kind: 'yield',
      design,
      variantId: design.currentVariant,
      runs,
      seed,
      grid: { fromHz, toHz: 400 * fromHz, points: 121 },
    }),
  );
const nulls = async (design: Design) =>
  must(
    await runner.run<'nulls'>({
      kind: 'nulls',
      design,
      variantId: design.currentVariant,
      runs: 300,
      seed: 7,
    }),
  );

test('each null of a cascade is its own: two that lie close are not taken for one another', async () => {
  const plan = { ...createPlan('p', 'lowpass', 'elliptic', 6, 3000), rippleDb: 0.3, attenuationDb: 60 };
  const design = bare(createDesign('cascade', () => [plan], makeId));
  const found = await nulls(design);
  const places = found.map((f) => f.nullHz).sort((a, b) => a - b);
  expect(places).toHaveLength(3);
  for (const [i, f] of places.slice(1).entries()) expect(f / places[i]).toBeGreaterThan(1.01);
});

test('a twin-T’s depth follows its tolerance: ten times closer parts, twenty decibels', async () => {
  const [[one], [tenth]] = [await nulls(twinT(1)), await nulls(twinT(0.1))];
  expect(one.nullHz).toBeCloseTo(1000, 0);
  expect(one.markedDb).toBeLessThan(-80);
  expect(tenth.p50Db - one.p50Db).toBeCloseTo(-20, -0.5);
  expect(one.p05Db).toBeGreaterThan(one.p50Db);
  // One per cent: the handbooks' forty-odd decibels for the poor ones.
  expect(one.p05Db).toBeGreaterThan(-60);
  expect(one.p05Db).toBeLessThan(-38);
});

test('the part named for trimming does bring the null back, by the range given', async () => {
  const design = twinT(1);
  const [{ trims }] = await nulls(design);
  const range = trims.find((t) => t.part === 'R3')!.rangePct;
  // R1 one per cent off alone: R3 moved within its range makes the null again.
  const off = (r3: number): Design => typedInto(design, { R1: 10.1e3, R3: 5e3 * (1 + r3 / 100) });
  const depth = async (r3: number) => (await nulls(off(r3)))[0].markedDb;
  const before = await depth(0);
  const tried = await Promise.all([-1, -0.75, -0.5, -0.25, 0.25, 0.5, 0.75, 1].map((share) => depth(share * range)));
  expect(Math.min(...tried)).toBeLessThan(before - 6);
});

test('a Bainter’s depth is not a matter of matching', async () => {
  const design = bare(createDesign('t', (id) => [{ ...createPlan(id(), 'lowpass', 'elliptic', 3, 1000) }], makeId));
  const [outlook] = await nulls(design);
  expect(outlook.p05Db).toBeLessThan(-60);
});

test('closer grades never meet the brief less often, and what is worth while costs more only for more', async () => {
  const base = bare(createDesign('t', (id) => [createPlan(id(), 'lowpass', 'butterworth', 4, 1000)], makeId));
  const design: Design = {
    ...base,
    preferences: { ...base.preferences, resistorSeries: 'E192' },
    brief: {
      ...base.brief,
      mask: [
        { id: 'm1', kind: 'at-most', freqHz: 900, side: 'below', db: 1.9 },
        { id: 'm2', kind: 'at-least', freqHz: 2000, side: 'above', db: 23.4 },
      ],
    },
  };
  const { grades, criterion, runs } = await yields(design, 150, 3, 50);
  expect([criterion, runs]).toEqual(['limits', 150]);
  expect(grades).toHaveLength(12);
  const share = (r: number, c: number) => grades.find((g) => g.resistorPct === r && g.capacitorPct === c)!.share;
  expect(share(0.1, 1)).toBeGreaterThan(share(1, 10) + 0.1);
  const worth = worthwhileGrades(grades);
  worth
    .slice(1)
    .forEach((g, i) => expect([g.costRatio > worth[i].costRatio, g.share > worth[i].share]).toEqual([true, true]));
});

test('a notch without limits is judged by its depth where it is meant to be, of as many builds as asked', async () => {
  const base = bare(createDesign('n', (id) => [createPlan(id(), 'bandstop', 'butterworth', 2, 100)], makeId));
  const design: Design = { ...base, preferences: { ...base.preferences, resistorSeries: 'E192' } };
  const { criterion, runs, grades } = await yields(design, 300, 7, 5);
  expect([criterion, runs]).toEqual(['null-depth', 300]);
  // Wilson 1927 for k of n at 95 %, by its two roots: (p + z²/2n ± z √(p q/n + z²/4n²)) / (1 + z²/n).
  for (const { share, shareWithin } of grades) {
    const z2 = 1.96 ** 2 / 300;
    const root = 1.96 * Math.sqrt((share * (1 - share)) / 300 + 1.96 ** 2 / (4 * 300 ** 2));
    const [low, high] = [-root, root].map((r) => (share + z2 / 2 + r) / (1 + z2));
    expect(shareWithin).toBeCloseTo((high - low) / 2, 12);
  }
  // |H| of a notch of Q 2 a share d beside it is 2 Q d / √(1 + (2 Q d)²): 30 dB down for d up to 0.79 %. Its
  // frequency is off by half the sum of what two capacitors are, each evenly within ± p per cent: a triangle, of which
  // so much lies within ± d. Resistors of 0.1 % move it by little beside.
  const d = 100 * (10 ** -1.5 / 4);
  for (const p of [2.5, 5, 10]) {
    const { share, shareWithin } = grades.find((g) => g.resistorPct === 0.1 && g.capacitorPct === p)!;
    expect(Math.abs(share - (1 - (1 - d / p) ** 2))).toBeLessThan(shareWithin + 0.03);
  }
});
