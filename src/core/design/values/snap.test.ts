import fc from 'fast-check';
import { neighbours } from '../../parts/preferred';
import { must } from '../../result';
import { createDesign, createPlan } from '../making/create';
import { demoDesigns } from '../demo/demo';
import type { Design } from '../document/schema';
import { denseKernel } from '../../analysis/ac/dense';
import { rowOf } from '../../analysis/ac/kernel';
import { cascadeResponse } from '../../filter/section';
import { seeded } from '../../testing/seeded';
import { SECTION_TOPOLOGIES } from '../../topology/index';
import { compile } from '../compiled/compile';
import { singlePath } from '../making/single-path';
import { snapWay, withUses, type WaySnaps } from './snap-way';
import { designWay } from '../stages/stage-design';
import { idealTargets } from '../stages/targets';
import { withTopology } from '../making/with-topology';

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

describe('values that the maker typed', () => {
  const typedInto = (design: Design, part: string, value: number, typed?: true): Design => ({
    ...design,
    variants: design.variants.map((v) => ({
      ...v,
      ways: v.ways.map((way) => ({
        ...way,
        stages: way.stages.map((s) => ({
          ...s,
          parts: { ...s.parts, [part]: { use: { kind: 'single' as const, values: [value], typed } } },
        })),
      })),
    })),
  });
  const partsAfter = (design: Design) => {
    const after = taken(design, snap(design, { mostPairs: 3 }).choices.at(-1)!);
    const [stage] = after.variants[0].ways[0].stages;
    return (name: string) => stage.parts[name].use!;
  };
  const valueOf = ({ kind, values: [a, b] }: NonNullable<ReturnType<ReturnType<typeof partsAfter>>>) =>
    kind === 'single' ? a : kind === 'series' ? a + b : (a * b) / (a + b);

  test('stay as they are, and the rest is chosen around them: the corner is still what was asked for', () => {
    // 3.9 nF is no value of E6 and far from what would be taken.
    const use = partsAfter(typedInto(filter(2, 'butterworth', 1130, 'sallen-key-unity-gain'), 'C1', 3.9e-9, true));
    expect(use('C1')).toEqual({ kind: 'single', values: [3.9e-9], typed: true });
    const product = ['R1', 'R2', 'C1', 'C2'].reduce((p, name) => p * valueOf(use(name)), 1);
    expect(1 / (2 * Math.PI * Math.sqrt(product)) / 1130).toBeCloseTo(1, 2);
  });

  test('what was chosen before is chosen anew', () => {
    const use = partsAfter(typedInto(filter(2, 'butterworth', 1130, 'sallen-key-unity-gain'), 'C1', 3.9e-9));
    expect(valueOf(use('C1'))).not.toBe(3.9e-9);
  });

  test('all of them typed leave nothing to choose', () => {
    const design = ['R1', 'R2', 'C1', 'C2'].reduce(
      (d, part) => {
        const value = part.startsWith('R') ? 12_345 : 3.9e-9;
        const { parts } = d.variants[0].ways[0].stages[0];
        const one = typedInto(d, part, value, true);
        const [stage] = one.variants[0].ways[0].stages;
        return {
          ...one,
          variants: [
            {
              ...one.variants[0],
              ways: [{ ...one.variants[0].ways[0], stages: [{ ...stage, parts: { ...parts, ...stage.parts } }] }],
            },
          ],
        };
      },
      filter(2, 'butterworth', 1130, 'sallen-key-unity-gain'),
    );
    for (const choice of snap(design).choices)
      expect(choice.stages.every((s) => Object.keys(s.snap.uses).length === 0)).toBe(true);
  });
});

test('chosen together, the demo designs come nearer than with the nearest values, pairs nearer still', () => {
  // One path of each family is enough here; all of them are in the bench.
  const designs = demoDesigns().filter((d) =>
    ['Reed pickup', 'Horn preamp', 'Krummhorn'].some((title) => d.title.startsWith(title)),
  );
  const all = designs.map((d) => snap(d));
  const better = all.map(({ nearest, choices }) => choices[0].errorDb / Math.max(nearest.errorDb, 1e-9));
  expect([...better].sort((a, b) => a - b)[better.length >> 1]).toBeLessThan(0.5);
  for (const { choices } of all)
    choices
      .slice(1)
      .forEach((c, i) =>
        expect([c.errorDb < choices[i].errorDb, c.partCount > choices[i].partCount]).toEqual([true, true]),
      );
});

/** A design with a choice taken, as the desk takes it. */
function taken(design: Design, choice: WaySnaps['choices'][number]): Design {
  return {
    ...design,
    variants: design.variants.map((v) => ({
      ...v,
      ways: v.ways.map((way) => ({
        ...way,
        stages: way.stages.map((s) => withUses(s, choice.stages.find((t) => t.stageId === s.id)?.snap.uses)),
      })),
    })),
  };
}
/** Response of a path as it stands with ideal op-amps, each stage by itself, by the plain dense solver. */
function denseOf(design: Design, freqHz: Float64Array): Float64Array {
  const built = must(compile(design, design.variants[0], { values: 'chosen', devices: 'ideal', joints: 'isolated' }));
  const { structure, values } = built.circuit;
  return rowOf(
    denseKernel(structure).solve(values, freqHz, Int32Array.of(structure.nodeOf(built.ways[0].output) as number)),
    0,
    1,
    freqHz.length,
  );
}

test.each([
  ['an all-pass of two sections', () => filter(4, 'bessel', 1130, 'band-pass-subtractor', 'allpass')],
  ['an all-pass of first order', () => filter(1, 'bessel', 730, 'first-order-all-pass', 'allpass')],
])('%s is chosen for its phase, and stands where it is said to', (_name, make) => {
  const design = { ...make(), preferences: { ...make().preferences, resistorSeries: 'E24' as const } };
  const {
    nearest,
    choices: [choice],
  } = snap(design, { mostPairs: 0 });
  const after = taken(design, choice);
  const freqHz = Float64Array.from({ length: 201 }, (_, i) => 50 * 400 ** (i / 200));
  const [got, wanted] = [denseOf(after, freqHz), cascadeResponse(idealTargets(design.variants[0].ways[0]), freqHz)];
  const off = (sign: number) =>
    Math.max(
      ...Array.from(
        freqHz,
        (_, i) =>
          (20 / Math.LN10) * Math.hypot(sign * got[2 * i] - wanted[2 * i], sign * got[2 * i + 1] - wanted[2 * i + 1]),
      ),
    );
  expect(Math.min(off(1), off(-1)) / choice.errorDb).toBeCloseTo(1, 1);
  expect(choice.errorDb).toBeLessThanOrEqual(nearest.errorDb + 1e-9);
});

test(
  'a twin-T keeps its null and its width: neither is given up for the other, and a bypassed section ' + 'has no say',
  () => {
    const base = must(singlePath({ topology: 'twin-t', wanted: { notchHz: 57 } }, () => `s${n++}`));
    const [way] = base.variants[0].ways;
    const beside = {
      ...must(
        singlePath({ topology: 'sallen-key-unity-gain', form: 'lowpass', wanted: { freqHz: 5000 } }, () => `s${n++}`),
      ).variants[0].ways[0].stages[0],
      bypassed: true,
    };
    const design = {
      ...base,
      variants: base.variants.map((v) => ({ ...v, ways: [{ ...way, stages: [beside, ...way.stages] }] })),
    };
    const result = snap(design, { mostPairs: 1 });
    const freqHz = Float64Array.from({ length: 4001 }, (_, i) => 1 * 5000 ** (i / 4000));
    const read = (d: Design) => {
      const h = denseOf(d, freqHz);
      const level = Array.from(freqHz, (_, i) => 20 * Math.log10(Math.hypot(h[2 * i], h[2 * i + 1])));
      const wide = freqHz.filter((_, i) => level[i] < -3.01);
      return { depth: Math.min(...level), low: wide[0], high: wide[wide.length - 1] };
    };
    const [plain, chosen] = [read(design), read(taken(design, result.choices[0]))];
    expect(chosen.depth).toBeLessThan(plain.depth + 0.5);
    // √5 ∓ 2 times the null.
    expect(chosen.low / 57 / (Math.sqrt(5) - 2)).toBeCloseTo(1, 1);
    expect(chosen.high / 57 / (Math.sqrt(5) + 2)).toBeCloseTo(1, 1);
  },
);

test.each(SECTION_TOPOLOGIES.filter((t) => t.order > 0 && t.family !== 'loudspeaker').map((t) => [t.id] as const))(
  '%s: what is claimed is what stands, and no worse than the nearest',
  (id) => {
    const random = seeded(id);
    const topology = SECTION_TOPOLOGIES.find((t) => t.id === id)!;
    const form = topology.responses[Math.floor(random() * topology.responses.length)];
    const design = must(
      singlePath(
        {
          topology: id,
          form,
          wanted: {
            freqHz: 100 * 40 ** random(),
            q: 0.6 + 3 * random(),
            ...(form === 'notch' && id === 'bainter' ? { zeroHz: 7000 } : {}),
          },
        },
        () => `s${n++}`,
      ),
    );
    const { nearest, choices } = snap(design, { mostPairs: 0 });
    expect(choices.length).toBeGreaterThan(0);
    expect(choices[0].errorDb).toBeLessThanOrEqual(nearest.errorDb + 1e-9);
    // Judged anew, on the design with the choice taken, it is where it was said to be.
    expect(snap(taken(design, choices[0]), { mostPairs: 0 }).nearest.errorDb).toBeCloseTo(choices[0].errorDb, 9);
    if (form === 'allpass') return;
    // And by the dense solver, in the pass band of what was asked for.
    const { freqHz: f0 } = design.variants[0].ways[0].stages[0].target as { freqHz: number };
    const grid = Float64Array.from({ length: 241 }, (_, i) => (f0 / 8) * 64 ** (i / 240));
    const [h, wanted] = [
      denseOf(taken(design, choices[0]), grid),
      cascadeResponse(idealTargets(design.variants[0].ways[0]), grid),
    ];
    const size = (a: Float64Array, i: number) => Math.hypot(a[2 * i], a[2 * i + 1]);
    const best = Math.max(...Array.from(grid, (_, i) => size(wanted, i)));
    const off = Math.max(
      ...Array.from(grid, (_, i) =>
        size(wanted, i) >= best / Math.SQRT2 ? Math.abs(20 * Math.log10(size(h, i) / size(wanted, i))) : 0,
      ),
    );
    expect(off).toBeLessThan(choices[0].errorDb * 1.02 + 1e-3);
  },
);

/** Values of a series over some decades, by the series' own rounded powers (IEC 60063). */
const E6 = [1, 1.5, 2.2, 3.3, 4.7, 6.8];
const E24 = [
  1, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2, 2.2, 2.4, 2.7, 3, 3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2, 9.1,
];

test.each([
  [417, Math.SQRT1_2],
  [1930, 1.31],
  [6400, 0.577],
  [880, 2.6],
])('a Sallen-Key at %d Hz, Q %d, comes within a tenth of the best that all of E24 and E6 hold', (freqHz, q) => {
  const design = must(
    singlePath({ topology: 'sallen-key-unity-gain', form: 'lowpass', wanted: { freqHz, q } }, () => `s${n++}`),
  );
  const [choice] = snap(design, { mostPairs: 0 }).choices;
  const { C1, C2 } = Object.fromEntries(
    must(designWay(design.variants[0].ways[0], design, [])).stages[0].parts.map((p) => [p.spec.name, p.exact]),
  );
  // Level by the formula, on points of its own.
  const us = Array.from({ length: 61 }, (_, i) => 0.125 * 64 ** (i / 60)).concat(
    [1 - 0.5 / q, 1 - 0.15 / q, 1, 1 + 0.15 / q, 1 + 0.5 / q].filter((u) => u > 0.1),
  );
  const level = (u: number, quality: number) => 1 / Math.hypot(1 - u * u, u / quality);
  const wanted = us.map((u) => level(u, q));
  const best = Math.max(...wanted);
  const offOf = (f0: number, quality: number, limit: number): number => {
    let worst = 0;
    for (let i = 0; i < us.length && worst < limit; i++) {
      const g = level((us[i] * freqHz) / f0, quality);
      worst = Math.max(
        worst,
        wanted[i] >= best / Math.SQRT2
          ? Math.abs(20 * Math.log10(g / wanted[i]))
          : ((20 / Math.LN10) * Math.abs(g - wanted[i])) / best,
      );
    }
    return worst;
  };
  const near = (value: number, series: readonly number[], reach: number): number[] =>
    [-12, -11, -10, -9, -8, -7, -6, 2, 3, 4, 5, 6]
      .flatMap((d) => series.map((v) => v * 10 ** d))
      .filter((v) => v >= value / reach && v <= value * reach);
  let least = Infinity;
  for (const a of near(C1, E6, 10))
    for (const b of near(C2, E6, 10)) {
      // R1 R2 = 1/ω²ab and R1 + R2 = 1/ωQb, near which the resistors lie when there are any; all about them are tried.
      const [product, sum] = [1 / ((2 * Math.PI * freqHz) ** 2 * a * b), 1 / (2 * Math.PI * freqHz * q * b)];
      const root = Math.sqrt(Math.max(0, (sum * sum) / 4 - product));
      for (const R1 of near(sum / 2 + root, E24, 1.35))
        for (const R2 of near(sum / 2 - root, E24, 1.35)) {
          if (Math.min(R1, R2) < 500 || Math.max(R1, R2) > 2e6) continue;
          const f0 = 1 / (2 * Math.PI * Math.sqrt(R1 * R2 * a * b));
          least = Math.min(least, offOf(f0, Math.sqrt(R1 * R2 * a * b) / (b * (R1 + R2)), least));
        }
    }
  expect(choice.errorDb).toBeLessThan(1.1 * least + 0.005);
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
        for (const { errorDb } of choices) expect(errorDb).toBeLessThanOrEqual(nearest.errorDb + 1e-9);
        expect(choices.length).toBeGreaterThan(0);
      },
    ),
    { numRuns: 4, seed: 5 },
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
      for (const [part, use] of Object.entries(uses)) if (part.startsWith('C')) expect(atHand).toContain(use.values[0]);
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
