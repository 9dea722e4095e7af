import { AcSolver } from '../../analysis/ac/solver';
import type { Design } from '../../design/document/schema';
import { must } from '../../result';
import { twoWays } from '../../testing/flat-two-way';
import { runAcoustics } from './acoustics';

const grid = { fromHz: 20, toHz: 20e3, points: 241 };
const acousticsOf = (design: Design) =>
  must(
    runAcoustics(
      { kind: 'acoustics', design, variantId: design.currentVariant, ghostVariantId: null, grid },
      new AcSolver(),
    ),
  );

test('where some phases are measured and others made from levels, it says whose', () => {
  const design = twoWays('linkwitz-riley', 4, false);
  const checkOf = (phases: readonly (number[] | null)[]) =>
    acousticsOf({
      ...design,
      drivers: design.drivers!.map((d, i) => ({
        ...d,
        response: { kind: 'curve', curve: { freqHz: [1, 1e5], values: [90, 90], phaseDeg: phases[i] } },
      })),
    }).checks.find((c) => c.code === 'phases-mixed')?.data;
  expect(checkOf([[0, 0], null])).toEqual({ measured: 'Low', made: 'High' });
  expect(checkOf([null, [0, 0]])).toEqual({ measured: 'High', made: 'Low' });
  expect(
    checkOf([
      [0, 0],
      [0, 0],
    ]),
  ).toBeUndefined();
  expect(checkOf([null, null])).toBeUndefined();
});

test('a tilt and a curve of the maker’s own are what the sum is held against, about 1 kHz', () => {
  const design = twoWays('linkwitz-riley', 4, false);
  const aimedAt = (house: NonNullable<Design['variants'][0]['listening']>['house']) =>
    acousticsOf({
      ...design,
      variants: design.variants.map((v) => ({ ...v, listening: { ...v.listening!, ...(house ? { house } : {}) } })),
    });
  const level = aimedAt(undefined);
  const tilted = aimedAt({ tiltDb: -0.5, curve: null });
  const curve = { freqHz: [100, 1000, 10e3], values: [63, 60, 54], phaseDeg: null };
  const curved = aimedAt({ tiltDb: 0, curve });
  const at = (hz: number) => level.freqHz.findIndex((f) => f >= hz * 0.999);
  for (const hz of [200, 1000, 5000]) {
    const f = level.freqHz[at(hz)];
    const off = (of: typeof level) => of.targetDb[at(hz)] - level.targetDb[at(hz)];
    expect(off(tilted)).toBeCloseTo(-0.5 * Math.log2(f / 1000), 6);
    expect(off(curved)).toBeCloseTo(f < 1000 ? -3 * Math.log10(f / 1000) : -6 * Math.log10(f / 1000), 6);
    // Each way is to do its share of it.
    tilted.ways.forEach((way, w) =>
      expect(way.targetDb[at(hz)] - level.ways[w].targetDb[at(hz)]).toBeCloseTo(off(tilted), 6),
    );
  }
  // The sum itself is level: by the tilted target it is off by what the tilt comes to at the ends.
  expect(level.aligned.overDb).toBeLessThan(0.05);
  expect(tilted.aligned.overDb).toBeCloseTo(0.5 * Math.log2(20), 1);
  expect(tilted.flat).toEqual(level.flat);
});

test('what is aimed at does not hang on what is shown', () => {
  const design = twoWays('linkwitz-riley', 2, true);
  const open = {
    ...design,
    drivers: design.drivers!.map((d, i) => ({
      ...d,
      response: {
        kind: 'curve' as const,
        curve: { freqHz: [1, 1e5], values: [90 + 4 * i, 90 - 4 * i], phaseDeg: [0, 0] },
      },
    })),
    variants: design.variants.map((v) => ({ ...v, listening: { ...v.listening!, levelDb: null } })),
  };
  const levelOver = (fromHz: number, toHz: number) => {
    const request = { kind: 'acoustics' as const, design: open, variantId: open.currentVariant, ghostVariantId: null };
    const { targetLevelDb, ways } = must(
      runAcoustics({ ...request, grid: { fromHz, toHz, points: 50 } }, new AcSolver()),
    );
    return [targetLevelDb, ...ways.map((w) => w.ableDb), ...ways.map((w) => Number(w.turned))];
  };
  expect(levelOver(3000, 3100)).toEqual(levelOver(20, 20e3));
});
