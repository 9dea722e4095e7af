import { AcSolver } from '../../analysis/ac/solver';
import { levelsDb } from '../../analysis/curves/response';
import { compileStage } from '../../design/compiled/compile';
import { createCrossover, createDriverWay, createPlan } from '../../design/making/create';
import { demoDesigns } from '../../design/demo/demo';
import type { Design } from '../../design/document/schema';
import { designStage } from '../../design/stages/stage-design';
import type { AlignmentId } from '../../filter/alignments/index';
import { equivalentDissipationOhm, pathTo, programmeShares } from '../../loudspeaker/listening';
import { rationalAt } from '../../filter/rational';
import { logGrid } from '../../math/grid';
import { PROGRAMME_HIGH_HZ, PROGRAMME_LOW_HZ } from '../../loudspeaker/listening';
import { couplingOf } from '../../parts/coil-coupling';
import { gradeById, windingOf } from '../../parts/grades';
import { must } from '../../result';
import { passiveLadder } from '../../topology/loudspeaker/passive-ladder-circuit';
import { seriesCrossover } from '../../topology/loudspeaker/series-crossover';
import { flatDriver, makeId, twoWays } from '../../testing/flat-two-way';
import { runAcoustics } from './acoustics';

const solver = new AcSolver();
const grid = { fromHz: 20, toHz: 20e3, points: 241 };
const acousticsOf = (design: Design, variantId = design.currentVariant) =>
  must(runAcoustics({ kind: 'acoustics', design, variantId, ghostVariantId: null, grid }, solver));

test.each<[AlignmentId, number, boolean, number, number]>([
  // Alignment, order, whether the upper is turned over, phase between ways as built, each way under the sum where they
  // meet.
  ['butterworth', 1, false, 90, 3.01],
  ['linkwitz-riley', 2, true, 0, 6.02],
  ['butterworth', 3, false, -90, 3.01],
  ['linkwitz-riley', 4, false, 0, 6.02],
])(
  '%s of order %d on resistors sums flat within 0.01 dB, its ways as far apart as theory says',
  (alignment, order, turned, phaseDeg, below) => {
    const got = acousticsOf(twoWays(alignment, order, turned));
    got.sumDb.forEach((level) => expect(Math.abs(level - 90)).toBeLessThan(0.01));
    const [crossing] = got.crossings;
    expect(crossing.freqHz / 1000).toBeCloseTo(1, 2);
    expect(Math.abs(((crossing.phaseDeg - phaseDeg + 540) % 360) - 180)).toBeLessThan(1.5);
    expect(crossing.belowSumDb).toBeCloseTo(below, 1);
    expect(crossing.theoryTurned).toBe(turned);
    // A constant-resistance pair of ladders loads the amplifier with the resistor itself (Butterworth of odd order,
    // first order).
    if (alignment === 'butterworth') got.load?.ohm.forEach((ohm) => expect(ohm).toBeCloseTo(8, 4));
  },
);

/**
 * A Butterworth low-pass of order 4 and a high-pass of order 1 at j·u, and their sum either way round (own formulas).
 */
function unequal(u: number, sign: 1 | -1): { low: number; high: number; sum: number; apartDeg: number } {
  // 1/((1 + a s + s²)(1 + b s + s²)), a and b twice the cosines of 22.5 and 67.5 degrees; s/(1 + s).
  const [a, b] = [2 * Math.cos(Math.PI / 8), 2 * Math.cos((3 * Math.PI) / 8)];
  const square = 1 - u * u;
  const [re, im] = [square * square - a * b * u * u, (a + b) * u * square];
  const size = re * re + im * im;
  const [lowRe, lowIm, highRe, highIm] = [re / size, -im / size, (u * u) / (1 + u * u), u / (1 + u * u)];
  return {
    low: Math.hypot(lowRe, lowIm),
    high: Math.hypot(highRe, highIm),
    sum: Math.hypot(lowRe + sign * highRe, lowIm + sign * highIm),
    apartDeg: ((Math.atan2(sign * highIm, sign * highRe) - Math.atan2(lowIm, lowRe)) * 180) / Math.PI,
  };
}

test(
  'a steep low-pass beside a gentle high-pass follows its alignments and is far from level: both are ' +
    'said, and where the ways meet is exact',
  () => {
    const base = twoWays('butterworth', 4, false);
    const gentle = twoWays('butterworth', 1, true);
    const design = {
      ...base,
      drivers: gentle.drivers,
      variants: base.variants.map((v) => ({ ...v, ways: [v.ways[0], gentle.variants[0].ways[1]] })),
    };
    const got = acousticsOf(design);
    const us = Array.from({ length: 40001 }, (_, i) => 0.02 * 1000 ** (i / 40000));
    const over = Math.max(...us.map((u) => 20 * Math.log10(unequal(u, -1).sum)));
    const under = Math.min(...us.map((u) => 20 * Math.log10(unequal(u, -1).sum)));
    expect(over - under).toBeGreaterThan(3);
    expect(got.flat.overDb).toBeCloseTo(over, 3);
    expect(got.flat.underDb).toBeCloseTo(under, 3);
    expect(Math.max(got.aligned.overDb, -got.aligned.underDb)).toBeLessThan(0.01);
    expect(got.checks.find((c) => c.id === 'flat')!.level).toBe('bad');
    expect(got.checks.find((c) => c.id === 'aligned')!.level).toBe('ok');
    const meets = us.find((u) => unequal(u, 1).low <= unequal(u, 1).high)!;
    const [crossing] = got.crossings;
    expect(crossing.freqHz / 1000 / meets).toBeCloseTo(1, 3);
    expect(Math.abs(((crossing.phaseDeg - unequal(meets, -1).apartDeg + 540) % 360) - 180)).toBeLessThan(0.2);
    expect(crossing.belowSumDb).toBeCloseTo(20 * Math.log10(unequal(meets, -1).sum / unequal(meets, -1).low), 2);
  },
);

test('two equal ways are never more than 6.02 dB under their sum, on any grid', () => {
  for (const points of [31, 60, 97]) {
    const design = twoWays('linkwitz-riley', 4, false);
    const { crossings } = must(
      runAcoustics(
        {
          kind: 'acoustics',
          design,
          variantId: design.currentVariant,
          ghostVariantId: null,
          grid: { ...grid, points },
        },
        solver,
      ),
    );
    expect(crossings[0].belowSumDb).toBeLessThanOrEqual(20 * Math.log10(2) + 1e-6);
    expect(crossings[0].belowSumDb).toBeCloseTo(20 * Math.log10(2), 4);
  }
});

test('what a driver takes is the programme’s own integral, whatever stretch is on show', () => {
  const design = twoWays('linkwitz-riley', 4, false);
  // Programme: even in the logarithm, rolled off by first orders at 40 Hz and 4 kHz, from 20 Hz to 20 kHz; Simpson on
  // 4,000 steps.
  const share = (f: number) => 1 / ((1 + (40 / f) ** 2) * (1 + (f / 4000) ** 2));
  const n = 4000;
  const simpson = (of: (f: number) => number) =>
    Array.from(
      { length: n + 1 },
      (_, i) => (i === 0 || i === n ? 1 : i % 2 === 1 ? 4 : 2) * of(20 * 1000 ** (i / n)),
    ).reduce((a, b) => a + b, 0);
  const high = (f: number) => ((f / 1000) ** 4 / (1 + (f / 1000) ** 4)) ** 2;
  const watts = (design.brief.signalVolts ** 2 / 8) * (simpson((f) => share(f) * high(f)) / simpson(share));
  for (const shown of [grid, { fromHz: 500, toHz: 4000, points: 61 }]) {
    const { power } = must(
      runAcoustics(
        { kind: 'acoustics', design, variantId: design.currentVariant, ghostVariantId: null, grid: shown },
        solver,
      ),
    );
    expect(power.find((p) => p.part === 'high')!.watts / watts).toBeCloseTo(1, 2);
  }
});

test(
  'turned the wrong way, a second order cancels where its ways meet and the check says which terminals ' + 'to change',
  () => {
    const got = acousticsOf(twoWays('linkwitz-riley', 2, false));
    expect(got.crossings[0].nullDb).toBeLessThan(-30);
    expect(got.checks.find((c) => c.code === 'ways-oppose')?.cure).toMatchObject({ kind: 'turn-over' });
  },
);

test.each<['lowpass' | 'highpass', AlignmentId, number, readonly number[]]>([
  // Element values of ladders between a stiff source and 1 ohm at 1 rad/s (M. E. Van Valkenburg, table 14.1; W.
  // Linkwitz and Riley’s fourth order is two Butterworth seconds in a row).
  ['lowpass', 'butterworth', 1, [1]],
  ['lowpass', 'butterworth', 2, [1.4142, 0.7071]],
  ['lowpass', 'butterworth', 3, [1.5, 1.3333, 0.5]],
  ['lowpass', 'butterworth', 4, [1.5307, 1.5772, 1.0824, 0.3827]],
  ['lowpass', 'linkwitz-riley', 2, [2, 0.5]],
  ['lowpass', 'linkwitz-riley', 4, [1.8856, 1.591, 0.9428, 0.3536]],
  ['highpass', 'butterworth', 3, [1 / 1.5, 1 / 1.3333, 2]],
])('a %s ladder, %s of order %d, has the parts of the tables', (response, alignment, order, g) => {
  const topology = passiveLadder({
    response,
    alignment,
    order,
    cutoffHz: 1 / (2 * Math.PI),
    bandwidthHz: 1,
    rippleDb: 0.5,
    cutoffAt: 'own',
    ohm: 1,
  });
  const parts = must(topology.design({}, 'normal', { pinned: () => undefined } as never));
  expect(Object.keys(parts)).toEqual(topology.parts('normal').map((p) => p.name));
  Object.values(parts).forEach((value, i) => expect(value).toBeCloseTo(g[i], 3));
});

test('a plan with nulls has no ladder, and the failure says so', () => {
  const topology = passiveLadder({
    response: 'lowpass',
    alignment: 'elliptic',
    order: 3,
    cutoffHz: 1000,
    bandwidthHz: 1,
    rippleDb: 0.5,
    cutoffAt: 'own',
    ohm: 8,
  });
  expect(topology.design({}, 'normal', {} as never)).toMatchObject({ ok: false, code: 'no-passive-ladder' });
});

test.each([
  ['first order', {}, 90],
  ['second order', { q: 0.5 }, 180],
])(
  'a series crossover of %s, both drivers resistors, gives what its formula says at both ports',
  (form, also, _phase) => {
    const [low, high] = [flatDriver('low'), flatDriver('high', 'tweeter')];
    const design = createCrossover(
      'series',
      (id) => [createDriverWay(id, 'Low', low, []), createDriverWay(id, 'High', high, [])],
      [low, high],
      makeId,
    );
    const parameters = { crossHz: 1000, ohm: 8, q: 0.5, ...also };
    const parts = must(
      seriesCrossover.design(parameters, form, {
        meetParameters: (_s: unknown, _w: unknown, computed: object) => ({ ok: true, value: computed }),
      } as never),
    );
    const stage = {
      id: 'ser',
      topology: 'series-crossover',
      target: { kind: 'network' as const, parameters },
      parts: Object.fromEntries(
        Object.entries(parts).map(([n, v]) => [n, { use: { kind: 'single' as const, values: [v as number] } }]),
      ),
      device: 'ideal',
      output: 'out',
      mode: form,
      bypassed: false,
    };
    const [variant] = design.variants;
    const [lower, upper] = variant.ways;
    const hung = {
      ...variant,
      ways: [
        { ...lower, stages: [stage] },
        {
          ...upper,
          from: { kind: 'stage' as const, way: lower.id, stage: 'ser', output: 'high' },
          polarity: form === 'second order' ? (-1 as const) : (1 as const),
        },
      ],
    };
    const got = acousticsOf({
      ...design,
      brief: { ...design.brief, source: { name: 'a', ohm: 0 } },
      preferences: { ...design.preferences, grades: undefined },
      variants: [hung],
    });
    got.freqHz.forEach((f, i) => {
      const u = f / 1000;
      // First order 1/(1 + ju) and ju/(1 + ju); second order of Q 1/2 the squares of both.
      const lowSize = form === 'first order' ? 1 / Math.hypot(1, u) : 1 / (1 + u * u);
      const highSize = form === 'first order' ? u / Math.hypot(1, u) : (u * u) / (1 + u * u);
      expect(got.ways[0].voltsDb[i]).toBeCloseTo(20 * Math.log10(lowSize), 4);
      expect(got.ways[1].voltsDb[i]).toBeCloseTo(20 * Math.log10(highSize), 4);
    });
  },
);

test(
  'the workshop’s two-way: by formula it misses; fitted it stays within 1 dB from 200 Hz to 15 kHz and ' +
    'above 3.5 ohm',
  () => {
    const design = demoDesigns().find((d) => d.title.startsWith('Tone cabinet, two'))!;
    const [a, b] = design.variants.map((v) => acousticsOf(design, v.id));
    expect(Math.max(a.flat.overDb, -a.flat.underDb)).toBeGreaterThan(3);
    expect(Math.max(b.flat.overDb, -b.flat.underDb)).toBeLessThan(1);
    expect(b.load!.lowestOhm).toBeGreaterThan(3.5);
    expect(b.power.every((p) => p.ratingWatts === null || p.watts < p.ratingWatts)).toBe(true);
  },
);

test('a resistor is its own equivalent, an inductance is many times worse', () => {
  expect(equivalentDissipationOhm(8, 0)).toBeCloseTo(8, 3);
  // At 90° the worst instant is max of (1 − sin t)(−cos t) = 3√3/4 against 1/4.
  expect(equivalentDissipationOhm(8, 90)).toBeCloseTo(8 / ((4 * (3 * Math.sqrt(3))) / 4), 2);
});

test('paths, programme and coils agree with geometry, sums and Brooks', () => {
  const path = pathTo({ distanceM: 2, acrossDeg: 0, upDeg: 0 }, { acrossM: 0, upM: 0, backM: 0.343 });
  expect(path.laterS).toBeCloseTo(1e-3, 9);
  expect(path.offAxisRad).toBeCloseTo(0, 9);
  const shares = programmeShares(logGrid(20, 20e3, 100), 'programme');
  expect(shares.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
  // 1 mH of 1 mm wire: Brooks’s coil has R/L near 0.4 ohm a millihenry at this gauge; thicker wire has less.
  const thin = windingOf(1e-3, gradeById('air-0.7') as never);
  const thick = windingOf(1e-3, gradeById('air-1.4') as never);
  expect(1.6994e-6 * thick.radiusM * thick.turns ** 2).toBeCloseTo(1e-3, 6);
  expect(thin.ohm / thick.ohm).toBeGreaterThan(3);
  const coil = { henry: 1e-3, winding: thick };
  const [near, far, beside, across] = [
    couplingOf(coil, coil, 0.4, 'one behind the other'),
    couplingOf(coil, coil, 0.8, 'one behind the other'),
    couplingOf(coil, coil, 0.4, 'side by side'),
    couplingOf(coil, coil, 0.4, 'one stood up'),
  ];
  expect(near).toBeGreaterThan(far);
  expect(beside / (-near / 2)).toBeCloseTo(1, 1);
  expect(Math.abs(across)).toBeLessThan(near / 20);
});

test('the losses of wire and foil stand in the circuit as built, not in the exact one', () => {
  const design = demoDesigns().find((d) => d.title.startsWith('Tone cabinet, two'))!;
  const way = design.variants[0].ways[0];
  const designed = must(designStage(way.stages[0], null, design, [], way.plans));
  const levelAt = (values: 'exact' | 'chosen', devices: 'ideal' | 'real') =>
    levelsDb(
      must(solver.sweep(compileStage(design, designed, { values, devices }), Float64Array.of(30), ['out']))[0],
    )[0];
  expect(levelAt('exact', 'ideal')).toBeCloseTo(0, 2);
  const ohm = designed.parts.find((p) => p.spec.name === 'L1')!.lossOhm;
  expect(levelAt('chosen', 'real')).toBeCloseTo(20 * Math.log10(8 / (8 + ohm)), 2);
});

test.each(['lowpass', 'highpass', 'bandpass'] as const)(
  'a %s ladder’s formula is what its netlist does',
  (response) => {
    const plan = {
      ...createPlan(makeId(), response, 'butterworth', response === 'bandpass' ? 6 : 4, 1000),
      bandwidthHz: 900,
    };
    const way = createDriverWay(makeId, 'w', flatDriver('low'), [plan]);
    const designed = must(designStage(way.stages[0], null, twoWays('butterworth', 1, false), [], way.plans));
    if (designed.role !== 'network' || !designed.topology.transfer)
      throw new Error('a network with a formula was wanted');
    const freqHz = logGrid(50, 20e3, 31);
    const [got] = must(
      solver.sweep(
        compileStage(twoWays('butterworth', 1, false), designed, { values: 'exact', devices: 'ideal' }),
        freqHz,
        ['out'],
      ),
    );
    const rational = designed.topology.transfer(
      'normal',
      Object.fromEntries(designed.parts.map((p) => [p.spec.name, p.exact])),
      {},
    );
    freqHz.forEach((f, i) => {
      const { re, im } = rationalAt(rational, f);
      expect(Math.hypot(got[2 * i] - re, got[2 * i + 1] - im) / Math.max(1e-6, Math.hypot(re, im))).toBeLessThan(1e-6);
    });
  },
);

test('what a tweeter gets below its safe band is a share of its power, by the integral over the programme', () => {
  const design = twoWays('butterworth', 1, false);
  const safeFromHz = 600;
  const drivers = design.drivers!.map((d) => ({ ...d, safeFromHz }));
  const acoustics = must(
    runAcoustics(
      {
        kind: 'acoustics',
        design: { ...design, drivers },
        variantId: design.currentVariant,
        ghostVariantId: null,
        grid: { fromHz: 20, toHz: 20e3, points: 201 },
      },
      solver,
    ),
  );
  // A first-order high-pass at 1 kHz into its 8 Ω, f²/(f² + 1000²), under the programme's density an octave.
  const density = (f: number) =>
    f ** 2 / (f ** 2 + 1e6) / ((1 + (PROGRAMME_LOW_HZ / f) ** 2) * (1 + (f / PROGRAMME_HIGH_HZ) ** 2));
  const integral = (from: number, to: number) => {
    let sum = 0;
    const step = Math.log(to / from) / 20_000;
    for (let i = 0; i < 20_000; i++) sum += density(from * Math.exp((i + 0.5) * step)) * step;
    return sum;
  };
  const share = integral(20, safeFromHz) / integral(20, 20e3);
  const found = acoustics.checks.find((c) => c.code === 'safe-band')!;
  expect(Number(found.data.sharePct) / (100 * share)).toBeCloseTo(1, 1);
  // The share of its voltage would be another by far.
  expect(share).toBeLessThan(0.35);
});
