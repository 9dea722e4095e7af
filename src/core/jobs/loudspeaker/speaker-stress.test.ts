import { AcSolver } from '../../analysis/ac/solver';
import type { Design } from '../../design/document/schema';
import { windingOf } from '../../parts/grades';
import { must } from '../../result';
import { flatDriver, twoWays } from '../../testing/flat-two-way';
import { runAcoustics } from './acoustics';
import { overlapOf } from './overlap';

const grid = { fromHz: 20, toHz: 20e3, points: 481 };
const acousticsOf = (design: Design) =>
  must(
    runAcoustics(
      { kind: 'acoustics', design, variantId: design.currentVariant, ghostVariantId: null, grid },
      new AcSolver(),
    ),
  );

describe('two ways of fourth order after Linkwitz and Riley', () => {
  const { crossings } = acousticsOf(twoWays('linkwitz-riley', 4, false));
  const [crossing] = crossings;

  test('go in step wherever they sound together: from where one is 10 dB over the other to the same above', () => {
    expect(crossing.overlap.worstDeg).toBeLessThan(0.1);
    // The ratio of the two is (f/f0)⁴: 10 dB where f/f0 = 10^(10/80).
    expect(crossing.overlap.fromHz / (1000 / 10 ** 0.125)).toBeCloseTo(1, 1);
    expect(crossing.overlap.toHz / (1000 * 10 ** 0.125)).toBeCloseTo(1, 1);
  });

  test('whatever stretch of it is on show', () => {
    const design = twoWays('linkwitz-riley', 4, false);
    const request = { kind: 'acoustics' as const, design, variantId: design.currentVariant, ghostVariantId: null };
    const near = { fromHz: 950, toHz: 1050, points: 50 };
    const zoomed = must(runAcoustics({ ...request, grid: near }, new AcSolver())).crossings[0].overlap;
    expect(zoomed.fromHz / crossing.overlap.fromHz).toBeCloseTo(1, 1);
    expect(zoomed.toHz / crossing.overlap.toHz).toBeCloseTo(1, 1);
  });

  test('delay what their all-pass does: 2√2/ω0 at the crossing', () => {
    // Two Butterworth sections in each way leave one second-order all-pass of Q 0.71: group delay 4Q/ω0 = 2√2/ω0.
    expect(crossing.delayS).toBeCloseTo((2 * Math.SQRT2) / (2 * Math.PI * 1000), 6);
  });
});

test('the volts across a pad’s legs are the divider’s', () => {
  const design = twoWays('linkwitz-riley', 2, true);
  const stage = {
    ...design.variants[0].ways[1].stages[0],
    id: 'pad',
    topology: 'driver-pad',
    target: { kind: 'network' as const, parameters: { lossDb: 6, ohm: 8, liftHz: 9000 } },
    mode: 'two resistors',
    parts: {
      R1: { use: { kind: 'single' as const, values: [4] } },
      R2: { use: { kind: 'single' as const, values: [8] } },
    },
  };
  const padded: Design = {
    ...design,
    brief: { ...design.brief, signalVolts: 10 },
    variants: design.variants.map((v) => ({
      ...v,
      ways: v.ways.map((w, i) => (i === 1 ? { ...w, stages: [stage], plans: [] } : w)),
    })),
  };
  const { power } = acousticsOf(padded);
  // 8 ohm of driver beside 8 ohm: 4 behind 4, half the volts on each.
  for (const part of ['R1', 'R2'])
    expect(power.find((p) => p.stageId === 'pad' && p.part === part)!.peakVolts).toBeCloseTo(5 * Math.SQRT2, 6);
});

test.each([
  [null, undefined],
  [0.05, 'bad'],
  [0.07, 'warn'],
  [0.5, undefined],
])('a cone that may go %d m is judged %s', (ratingM, level) => {
  const design = twoWays('linkwitz-riley', 2, true);
  const drivers = [
    { ...flatDriver('low'), radiusM: 0.1, ...(ratingM === null ? {} : { excursionM: ratingM }) },
    { ...flatDriver('high', 'tweeter'), radiusM: 0.0125 },
  ].map((d) => ({
    ...d,
    response: { kind: 'curve' as const, curve: { freqHz: [25, 1e5], values: [90, 90], phaseDeg: [0, 0] } },
  }));
  const { excursions, checks } = acousticsOf({
    ...design,
    brief: { ...design.brief, signalVolts: 28.3 },
    drivers,
  });
  const [low] = excursions;
  // At the lowest frequency that its file knows, 25 Hz: 20 dB over 90 dB is 6.32 Pa; by hand from p = ρω²Sx/2πr.
  const pascals = 20e-6 * 10 ** (110 / 20);
  const metres = (Math.SQRT2 * pascals * 2) / (1.204 * (2 * Math.PI * 25) ** 2 * 0.1 ** 2);
  expect(low.atHz).toBe(25);
  expect(low.metres / metres).toBeCloseTo(1, 2);
  expect(checks.find((c) => c.code === 'cone-far')?.level).toBe(level);
});

test('an overlap ends where either is 10 dB under the other, and tells the worst of its phase', () => {
  const freqHz = Float64Array.of(100, 200, 400, 800, 1600);
  const lower = { levelDb: Float64Array.of(90, 90, 87, 81, 70), phaseDeg: Float64Array.of(0, 0, 0, 0, 0) };
  const upper = { levelDb: Float64Array.of(70, 80, 87, 90, 90), phaseDeg: Float64Array.of(170, -40, 10, 350, 100) };
  expect(overlapOf(lower, upper, freqHz, 400)).toEqual({ fromHz: 200, toHz: 800, worstDeg: 40, worstHz: 200 });
});

test.each([
  [undefined, null],
  [2, undefined],
  [60, 'warn'],
  [100, 'bad'],
])('a bar coil before a woofer at %d V: its core is judged %s', (volts, level) => {
  const design = twoWays('linkwitz-riley', 2, true);
  const stage = design.variants[0].ways[0].stages[0];
  const coil = { use: { kind: 'single' as const, values: [1e-3] }, grade: volts ? 'bar-1.0' : 'air-1.0' };
  const cored = { ...stage, parts: { ...stage.parts, L1: coil } };
  const { power, checks } = acousticsOf({
    ...design,
    brief: { ...design.brief, signalVolts: volts ?? 30 },
    variants: design.variants.map((v) => ({
      ...v,
      ways: v.ways.map((w, i) => (i === 0 ? { ...w, stages: [cored] } : w)),
    })),
  });
  const { core } = power.find((p) => p.stageId === stage.id && p.part === 'L1')!;
  if (!volts) return expect(core).toBeNull();
  // The most through coil and wire into 8 ohm beside its capacitor, frequency by frequency; full where L I = N B A.
  const { turns, radiusM, ohm } = windingOf(1e-3, { wireMm: 1, core: 3.2 });
  const farad = stage.parts.C1.use!.values[0];
  let least = Infinity;
  for (let f = 20; f < 20e3; f *= 1.001) {
    const w = 2 * Math.PI * f;
    const square = 1 / 64 + (w * farad) ** 2;
    least = Math.min(least, Math.hypot(ohm + 1 / 8 / square, w * 1e-3 - (w * farad) / square));
  }
  expect((core!.peakAmps * least) / (Math.SQRT2 * volts)).toBeCloseTo(1, 2);
  expect(core!.fullAmps).toBeCloseTo((turns * 0.35 * Math.PI * (radiusM / 1.5) ** 2) / 1e-3, 6);
  expect(checks.find((c) => c.code === 'core-full')?.level).toBe(level);
});
