import { AcSolver } from '../../analysis/ac/solver';
import { demoDesigns } from '../../design/demo/demo';
import type { Design } from '../../design/document/schema';
import { must } from '../../result';
import { twoWays } from '../../testing/flat-two-way';
import { runNotchOutlook, type NotchRequest } from './notch-outlook';

const solver = new AcSolver();
const grid = { fromHz: 20, toHz: 20e3, points: 241 };
const cabinet = demoDesigns().find((d) => d.title.startsWith('Tone cabinet, two'))!;
const outlook = (design: Design, given: Partial<NotchRequest> = {}) => {
  const [variant] = design.variants;
  const asked = { kind: 'notch-outlook' as const, on: 'driver' as const, grid };
  return runNotchOutlook({ ...asked, design, variantId: variant.id, wayId: variant.ways[0].id, ...given }, solver);
};

test('either notch takes the woofer’s hump down by what was asked', () => {
  const hump = { centreHz: 1150, widthOct: 0.7, depthDb: 3 };
  const { offers } = must(outlook(cabinet, { hump }));
  expect(offers.map((o) => o.form)).toEqual(['across the driver', 'in line']);
  for (const offer of offers) expect(Math.abs(offer.tookDb - 3)).toBeLessThan(0.5);
});

test('half and twice as broad beside it: the narrower has the larger coil across, the smaller in line', () => {
  const hump = { centreHz: 1150, widthOct: 0.7, depthDb: 3 };
  const { offers } = must(outlook(cabinet, { hump, widths: true }));
  expect(offers.map((o) => o.widthOct)).toEqual([0.35, 0.35, 0.7, 0.7, 1.4, 1.4]);
  const coils = (form: string) =>
    offers.filter((o) => o.form === form).map((o) => o.parts.find((p) => p.kind === 'inductor')!.value);
  const [across, inLine] = [coils('across the driver'), coils('in line')];
  expect([...across].sort((a, b) => b - a)).toEqual(across);
  expect([...inLine].sort((a, b) => a - b)).toEqual(inLine);
});

/** The flat two-way with a resonance of 3 dB on its lower driver. */
const humped = (): Design => {
  const design = twoWays('linkwitz-riley', 2, true);
  return {
    ...design,
    drivers: design.drivers!.map((d) =>
      d.id === 'low'
        ? {
            ...d,
            response: {
              kind: 'model',
              sensitivityDb: 90,
              lowHz: 10,
              lowQ: 0.7,
              topHz: 60e3,
              topQ: 0.7,
              bumps: [{ freqHz: 700, q: 2, gainDb: 3 }],
            },
          }
        : d,
    ),
  };
};

test('a hump of the driver is found as high as it is, though the network falls over it', () => {
  const { hump } = must(outlook(humped()));
  expect(hump.centreHz / 700).toBeCloseTo(1, 1);
  expect(hump.depthDb).toBeCloseTo(3, 1);
  // On what is filtered the same hump stands over the target, on the sum too.
  const way = must(outlook(humped(), { on: 'way' })).hump;
  expect(Math.abs(way.depthDb - 3)).toBeLessThan(0.3);
  const sum = must(outlook(humped(), { on: 'sum' })).hump;
  expect(sum.depthDb).toBeGreaterThan(1);
  expect(sum.depthDb).toBeLessThan(3);
});

test('where nothing rises it says so, and on what it looked', () => {
  expect(outlook(twoWays('linkwitz-riley', 4, false), { on: 'sum' })).toMatchObject({
    ok: false,
    code: 'no-hump',
    data: { on: 'sum' },
  });
});
