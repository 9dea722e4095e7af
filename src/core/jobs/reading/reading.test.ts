import { samplingGrid } from '../../analysis/curves/curve-sampling';
import { noiseSpectrum } from '../../analysis/ac/noise';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import { countingIds, createPlan } from '../../design/making/create';
import type { Design, Stage } from '../../design/document/schema';
import type { SinglePath } from '../../design/making/single-path';
import { must } from '../../result';
import { bruteCurve } from '../../testing/brute-curve';
import { lonePath } from '../../testing/lone-path';
import { seeded } from '../../testing/seeded';
import { NETWORK_TOPOLOGIES, SECTION_TOPOLOGIES } from '../../topology/index';
import type { DeskMark, DeskResult } from '../desk/desk-types';
import { naturalOf, readWay } from './read-way';
import { JobRunner } from '../run-job';

const runner = new JobRunner();
const makeId = countingIds('r');

/** The same with ideal op-amps unless another is named. */
const path = (given: SinglePath, device = 'ideal', patch: Partial<Stage> = {}): Design =>
  lonePath(given, { device, ...patch });
const exact = (design: Design): Design => ({
  ...design,
  preferences: { ...design.preferences, resistorSeries: 'E192', capacitorSeries: 'E192' },
});
const desk = async (design: Design, grid = { fromHz: 20, toHz: 20e3, points: 201 }): Promise<DeskResult> =>
  must(
    await runner.run<'desk'>({ kind: 'desk', design, variantId: design.currentVariant, ghostVariantId: null, grid }),
  );
const cutoffs = ({ marks }: DeskResult) =>
  marks.filter((m): m is Extract<DeskMark, { kind: 'cutoff' }> => m.kind === 'cutoff');
const single = (value: number) => ({ use: { kind: 'single' as const, values: [value] } });

describe('marks by their closed forms', () => {
  test(
    'a band-pass of Q 1.7: edges f0 (√(1 + 1/4Q²) ∓ 1/2Q) of the parts that stand, and Q as centre over ' + 'width',
    async () => {
      const [R1, R2, C] = [47e3, 560e3, 1e-9];
      const result = await desk(
        path({ topology: 'multiple-feedback-band-pass', form: 'bandpass', wanted: { freqHz: 980, q: 1.7 } }, 'ideal', {
          parts: { R1: single(R1), R2: single(R2), C1: single(C), C2: single(C), R1b: { leftOut: true } },
        }),
      );
      // Own node equations, R1b open: ω0 = 1/(C √(R1 R2)), Q = √(R2/R1)/2, peak R2/2R1.
      const [f0, q] = [1 / (2 * Math.PI * C * Math.sqrt(R1 * R2)), Math.sqrt(R2 / R1) / 2];
      const [low, high] = [-1, 1].map((sign) => f0 * (Math.sqrt(1 + 1 / (4 * q * q)) + sign / (2 * q)));
      expect(cutoffs(result).map((m) => m.freqHz / (m.falling ? high : low))).toEqual([
        expect.closeTo(1, 6),
        expect.closeTo(1, 6),
      ]);
      expect(cutoffs(result)[0].q).toBeCloseTo(q, 5);
      expect(result.passLevelDb).toBeCloseTo(20 * Math.log10(R2 / (2 * R1)), 5);
      expect(result.passLevelOf).toBe('peak');
    },
  );

  test(
    'an amplifier whose typed capacitors cross one another is read under its own top, not under what was ' + 'wanted',
    async () => {
      const [Rf, Ri, Cf, Ci] = [68e3, 2.2e3, 3.3e-9, 22e-9];
      const result = await desk(
        path({ topology: 'shaped-amplifier-inverting', form: 'both' }, 'ideal', {
          parts: { Rf: single(Rf), Ri: single(Ri), Cf: single(Cf), Ci: single(Ci) },
        }),
      );
      // |H| = (Rf/Ri) b/√((1 + b²)(1 + t²)), b = f/fb, t = f/ft, highest at √(fb ft): Rf/Ri · 1/(1 + fb/ft).
      const [fb, ft] = [1 / (2 * Math.PI * Ri * Ci), 1 / (2 * Math.PI * Rf * Cf)];
      expect(fb).toBeGreaterThan(ft);
      expect(result.passLevelDb).toBeCloseTo(20 * Math.log10(Rf / Ri / (1 + fb / ft)), 5);
      const level = (f: number) =>
        20 * Math.log10(((Rf / Ri) * (f / fb)) / Math.sqrt((1 + (f / fb) ** 2) * (1 + (f / ft) ** 2)));
      for (const mark of cutoffs(result))
        expect(level(mark.freqHz)).toBeCloseTo(result.passLevelDb - 10 * Math.log10(2), 5);
      expect(cutoffs(result)).toHaveLength(2);
    },
  );

  test('a twin-T: √5 ∓ 2 times its null, under the level far from it, though it is 0 dB on both sides', async () => {
    const result = await desk(exact(path({ topology: 'twin-t', wanted: { notchHz: 84 } })));
    const notch = result.marks.find((m) => m.kind === 'notch');
    const null_ = notch?.freqHz ?? NaN;
    expect(null_ / 84).toBeCloseTo(1, 1);
    expect(cutoffs(result).map((m) => [m.freqHz / null_, m.falling])).toEqual([
      [expect.closeTo(Math.sqrt(5) - 2, 2), true],
      [expect.closeTo(Math.sqrt(5) + 2, 2), false],
    ]);
    expect(result.passLevelDb).toBeCloseTo(0, 3);
  });

  test.each([
    [2, 'lowpass'],
    [6, 'lowpass'],
    [3, 'highpass'],
  ] as const)('a resonant %s is read against its pass band: Q %d', async (q, response) => {
    const freqHz = 640;
    const result = await desk(exact(path({ topology: 'state-variable', form: response, wanted: { freqHz, q } })));
    const peak = result.marks.find((m): m is Extract<DeskMark, { kind: 'peak' }> => m.kind === 'peak')!;
    const [{ got }] = result.stages;
    expect(result.passLevelOf).toBe('pass-band');
    expect(result.passLevelDb).toBeCloseTo(got.gainDb!, 3);
    // Peak of a pair: Q/√(1 − 1/4Q²) over the flat part.
    expect(peak.levelDb - peak.referenceDb).toBeCloseTo(
      20 * Math.log10(got.q! / Math.sqrt(1 - 1 / (4 * got.q! ** 2))),
      3,
    );
    expect(peak.q).toBeCloseTo(got.q!, 3);
    // Cutoff: |H|² = 1/2 at u² = 1 − 1/2Q² + √((1 − 1/2Q²)² + 1), mirrored for a high-pass.
    const b = 1 - 1 / (2 * got.q! ** 2);
    const u = Math.sqrt(b + Math.sqrt(b * b + 1));
    expect(cutoffs(result).map((m) => m.freqHz)).toEqual([
      expect.closeTo(response === 'lowpass' ? got.freqHz! * u : got.freqHz! / u, 1),
    ]);
    const edges = result.marks.filter((m) => m.kind === 'band-edge');
    expect(edges).toHaveLength(2);
    for (const edge of edges) expect(edge.referenceDb).toBeCloseTo(peak.levelDb, 9);
  });

  test('Linkwitz-Riley is read where its ways meet, 6 dB down; a Chebyshev under the top of its ripple', async () => {
    const riley = await desk(exact(path({ plan: createPlan(makeId(), 'lowpass', 'linkwitz-riley', 4, 1500) })));
    expect(cutoffs(riley)[0].depthDb).toBeCloseTo(-6.0206, 4);
    expect(cutoffs(riley)[0].freqHz / 1500).toBeCloseTo(1, 1);
    const even = await desk(
      exact(
        path({
          plan: { ...createPlan(makeId(), 'lowpass', 'chebyshev', 4, 1500), rippleDb: 1, gainDb: 0 },
          topology: 'multiple-feedback',
        }),
      ),
    );
    // −3 dB of order 4 at 1 dB: cosh(arcosh(1/ε)/4) = 1.0530 of the ripple's edge (A. Zverev, Handbook of Filter
    // Synthesis, 3.3).
    expect(even.passLevelOf).toBe('pass-band');
    expect(cutoffs(even)[0].freqHz / 1500).toBeCloseTo(1.053, 1);
    expect(even.passLevelDb).toBeCloseTo(0, 0);
  });
});

/** A number between two, evenly in its logarithm. */
const between = (random: () => number, low: number, high: number): number => low * (high / low) ** random();
const near = (found: readonly { freqHz: number; falling: boolean }[], f: number) =>
  found.reduce((best, c) => Math.min(best, Math.abs(c.freqHz / f - 1)), Infinity);

describe('marks over the catalogue, beside a dense solver searched without wit', () => {
  test.each(
    SECTION_TOPOLOGIES.filter(
      (t) => t.family !== 'loudspeaker' && t.order > 0 && !t.responses.includes('allpass'),
    ).flatMap((t) => t.responses.map((response) => [t.id, response] as const)),
  )('%s as %s', async (topology, response) => {
    const random = seeded(`${topology} ${response}`);
    const freqHz = between(random, 60, 6000);
    const design = path({ topology, form: response, wanted: { freqHz, q: between(random, 0.6, 7), gainDb: 0 } });
    const result = await desk(design);
    const built = must(compile(design, design.variants[0], AS_BUILT));
    const { freqHz: at } = result.stages[0].got;
    const brute = bruteCurve(built.circuit, built.ways[0].output, at! / 300, at! * 300);
    const far = {
      lowpass: brute.levelAt(at! / 1e4),
      highpass: brute.levelAt(at! * 1e4),
      bandpass: brute.highest().levelDb,
      notch: Math.max(brute.levelAt(at! / 1e4), brute.levelAt(at! * 1e4)),
      allpass: NaN,
    }[response];
    expect(result.passLevelDb).toBeCloseTo(far, 2);
    const expected = brute.crossings(far - 10 * Math.log10(2));
    expect(cutoffs(result).length).toBeGreaterThan(0);
    for (const mark of cutoffs(result)) expect(near(expected, mark.freqHz)).toBeLessThan(1e-3);
  });

  test.each(
    NETWORK_TOPOLOGIES.filter((t) => t.family !== 'loudspeaker').flatMap((t) =>
      t.modes.slice(0, 2).map((mode) => [t.id, mode] as const),
    ),
  )('%s, %s', async (topology, form) => {
    const design = path({ topology, form }, 'jfet-audio-3mhz');
    const result = await desk(design);
    const built = must(compile(design, design.variants[0], AS_BUILT));
    const { reader } = must(readWay(built, design.variants[0].ways[0], built.ways[0], runner.solver));
    const brute = bruteCurve(built.circuit, built.ways[0].output, reader.span.fromHz, reader.span.toHz);
    if (result.passLevelOf === 'peak') expect(result.passLevelDb).toBeCloseTo(brute.highest().levelDb, 3);
    for (const mark of result.marks) {
      if (mark.kind === 'cutoff' || mark.kind === 'band-edge')
        expect(brute.levelAt(mark.freqHz)).toBeCloseTo(
          mark.referenceDb + (mark.kind === 'cutoff' ? mark.depthDb : -10 * Math.log10(2)),
          4,
        );
      if (mark.kind === 'peak') expect(mark.levelDb).toBeCloseTo(brute.highest().levelDb, 3);
    }
  });
});

describe('a declared pass band', () => {
  test('of a high-pass with a resonance and a source of 600 ohm is where it lies flat, not its peak', async () => {
    const plain = path({ topology: 'tow-thomas', form: 'highpass', wanted: { freqHz: 440, q: 29.8 } }, 'ideal');
    const design = { ...plain, brief: { ...plain.brief, source: { name: 'Source', ohm: 600 } } };
    const result = await desk(design);
    const built = must(compile(design, design.variants[0], AS_BUILT));
    const brute = bruteCurve(built.circuit, built.ways[0].output, 20, 200e3);
    // Its own 0 dB: the source’s resistance takes the top of it, and nowhere does it lie flat for long.
    expect(Math.abs(result.passLevelDb)).toBeLessThan(1.5);
    const expected = brute.crossings(result.passLevelDb - 10 * Math.log10(2)).map((c) => c.freqHz);
    for (const mark of cutoffs(result))
      expect(Math.min(...expected.map((f) => Math.abs(f / mark.freqHz - 1)))).toBeLessThan(1e-3);
    // A high-pass of high Q is half as powerful at 0.644 of its frequency.
    expect(cutoffs(result)[0].freqHz / 283).toBeCloseTo(1, 1);
    // Its Q with that source, by the width of the very peak.
    const top = brute.highest();
    const [low, high] = brute.crossings(top.levelDb - 10 * Math.log10(2)).map((c) => c.freqHz);
    expect(result.stages[0].got.q! / (top.freqHz / (high - low))).toBeCloseTo(1, 1);
  });

  test.each(['elliptic', 'inverse-chebyshev'] as const)(
    'of an even %s band-pass is its peak, not what its stop band lets through',
    async (alignment) => {
      const plan = { ...createPlan(makeId(), 'bandpass', alignment, 4, 1000), bandwidthHz: 300, attenuationDb: 50 };
      const design = path({ plan }, 'ideal');
      const result = await desk(design);
      const built = must(compile(design, design.variants[0], AS_BUILT));
      const top = bruteCurve(built.circuit, built.ways[0].output, 500, 2000).highest();
      expect(result.passLevelOf).toBe('peak');
      expect(result.passLevelDb).toBeCloseTo(top.levelDb, 3);
      for (const { freqHz } of cutoffs(result)) expect(Math.abs(Math.log2(freqHz / 1000))).toBeLessThan(0.5);
    },
  );

  test('limits are bands: a peak in the pass band misses one that only its depth would meet', async () => {
    const bare = path({ topology: 'sallen-key-unity-gain', wanted: { freqHz: 1000, q: 3 } }, 'ideal');
    const limit = { id: 'm', kind: 'at-most' as const, side: 'below' as const, freqHz: 900, db: 1 };
    const verdict = async (more: { upDb?: number }) =>
      (await desk({ ...bare, brief: { ...bare.brief, mask: [{ ...limit, ...more }] } })).brief[0];
    const built = must(compile(bare, bare.variants[0], AS_BUILT));
    const brute = bruteCurve(built.circuit, built.ways[0].output, 20, 900);
    const over = brute.highest().levelDb - brute.levelAt(1);
    expect((await verdict({})).byDb).toBeCloseTo(1 - over, 3);
    expect(await verdict({})).toMatchObject({ met: false });
    expect(await verdict({ upDb: 12 })).toMatchObject({ met: true });
  });
});

test('an undamped circuit is said to be so, and has no figures', async () => {
  const text = 'undamped\nL1 in out 10m\nC1 out 0 1u\n.end';
  const plain = path({ topology: 'sallen-key-unity-gain', wanted: { freqHz: 1000 } });
  const [variant] = plain.variants;
  const [way] = variant.ways;
  const [stage] = way.stages;
  const lossless: Stage = {
    ...stage,
    topology: 'deck',
    mode: 'normal',
    output: 'out',
    parts: {},
    target: { kind: 'deck', text, input: 'in', output: 'out' },
  };
  const design: Design = {
    ...plain,
    brief: { ...plain.brief, source: { name: 'Source', ohm: 0 }, load: { name: 'Load', ohm: null } },
    variants: [{ ...variant, ways: [{ ...way, plans: [], outputResistor: null, stages: [lossless] }] }],
  };
  const result = await desk(design);
  expect(result.stability).toMatchObject({ stable: false, undamped: true });
  expect(result.stability.singsHz).toBeCloseTo(1 / (2 * Math.PI * Math.sqrt(10e-3 * 1e-6)), 3);
  expect(result.marks).toEqual([]);
  expect(result.checks[0].code).toBe('undamped');
});

describe('phase', () => {
  test('stands at 0 or 180° in the pass band: a third-order high-pass comes from +270°', async () => {
    const plain = await desk(path({ plan: createPlan(makeId(), 'highpass', 'butterworth', 3, 800) }), {
      fromHz: 2,
      toHz: 200e3,
      points: 201,
    });
    expect(plain.asBuilt.phaseDeg[0]).toBeCloseTo(270, -1);
    expect(plain.asBuilt.phaseDeg[200]).toBeCloseTo(0, -1);
    const inverted = await desk(path({ topology: 'multiple-feedback', form: 'highpass', wanted: { freqHz: 800 } }), {
      fromHz: 2,
      toHz: 200e3,
      points: 201,
    });
    expect(inverted.asBuilt.phaseDeg[200]).toBeCloseTo(180, -1);
    expect(inverted.asBuilt.phaseDeg[0]).toBeCloseTo(360, -1);
  });

  test('of a steep low-pass falls from the pass band’s own turn, however coarse the grid on show', async () => {
    const plan = { ...createPlan(makeId(), 'lowpass', 'chebyshev', 8, 1000), rippleDb: 1 };
    const coarse = await desk(path({ plan }), { fromHz: 900, toHz: 20e3, points: 21 });
    // Eight poles take 720 degrees: a decade above, all but a few of them.
    expect(coarse.asBuilt.phaseDeg[20]).toBeLessThan(-690);
    expect(coarse.asBuilt.phaseDeg[20]).toBeGreaterThan(-720);
  });

  test('an inverting low-pass comes late, not ahead: the inversion is no part of its delay', async () => {
    const design = path({ topology: 'multiple-feedback', form: 'lowpass', wanted: { freqHz: 1000, q: Math.SQRT1_2 } });
    const [way] = design.variants[0].ways;
    const views = must(
      await runner.run<'four-views'>({
        kind: 'four-views',
        design,
        variantId: design.currentVariant,
        stageId: way.stages[0].id,
        wave: 'sine',
        freqHz: 200,
        peakVolts: 1,
        discharge: null,
      }),
    );
    const [{ got }] = (await desk(design)).stages;
    // Lag of a pair: atan((u/Q)/(1 − u²)).
    const u = 200 / got.freqHz!;
    expect(views.at.turnedOver).toBe(true);
    expect(views.at.lateS).toBeCloseTo(Math.atan2(u / got.q!, 1 - u * u) / (2 * Math.PI * 200), 8);
  });
});

describe('noise and level inside', () => {
  const narrow = { ...createPlan(makeId(), 'bandpass', 'butterworth', 4, 900), bandwidthHz: 16 };

  test('of a band 16 Hz wide: on a fine grid of its own it is the same', async () => {
    const design = path({ plan: narrow, topology: 'state-variable' }, 'low-noise-bipolar-10mhz');
    const range = must(await runner.run<'range'>({ kind: 'range', design, variantId: design.currentVariant }));
    const { circuit, ways } = must(compile(design, design.variants[0], AS_BUILT));
    // Rectangles, even in frequency about the band and even in the logarithm elsewhere.
    const freqHz = Float64Array.from([
      ...Array.from({ length: 300 }, (_, i) => 20 * (700 / 20) ** (i / 300)),
      ...Array.from({ length: 1600 }, (_, i) => 700 + i * 0.25),
      ...Array.from({ length: 301 }, (_, i) => 1100 * (20e3 / 1100) ** (i / 300)),
    ]);
    const { output } = must(
      noiseSpectrum(circuit, new Float64Array(circuit.structure.size), {
        freqHz,
        output: [circuit.structure.nodeOf(ways[0].output) as number, -1],
        source: 'Vin',
      }),
    );
    let power = 0;
    for (let i = 1; i < freqHz.length; i++)
      power += ((output[i] ** 2 + output[i - 1] ** 2) / 2) * (freqHz[i] - freqHz[i - 1]);
    expect(range.noiseV / Math.sqrt(power)).toBeCloseTo(1, 3);
    // What each stage rises to, by brute force.
    range.stages.forEach((stage, k) => {
      const peak = bruteCurve(circuit, ways[0].joints[k + 1], 600, 1300).highest().levelDb;
      expect(stage.peakDb).toBeCloseTo(peak, 2);
    });
  });

  test('a grid has points across every width, and integrals of a resonance between its points are exact', () => {
    const natural = naturalOf(must(compile(path({ plan: narrow }), path({ plan: narrow }).variants[0], AS_BUILT)));
    const grid = samplingGrid(natural, { fromHz: 20, toHz: 20e3 });
    for (const { re, im } of natural.filter((s) => s.im > 0)) {
      const [middle, width] = [Math.hypot(re, im) / (2 * Math.PI), -re / Math.PI];
      expect(grid.filter((f) => Math.abs(f - middle) <= width / 2).length).toBeGreaterThanOrEqual(16);
    }
  });
});

test('a stop limit without an end is read to where the curve is level beyond its nulls', async () => {
  // Its nulls lie thirty times over its cutoff: beyond them it comes back to 60 dB, which 20 kHz does not show yet.
  const plan = { ...createPlan(makeId(), 'lowpass', 'inverse-chebyshev', 2, 2348), attenuationDb: 60 };
  const bare = path({ plan });
  const limit = { id: 'm', kind: 'at-least' as const, side: 'above' as const, freqHz: 11490, db: 54.8 };
  const { brief, passLevelDb } = await desk({ ...bare, brief: { ...bare.brief, mask: [limit] } });
  const built = must(compile(bare, bare.variants[0], AS_BUILT));
  const far = bruteCurve(built.circuit, built.ways[0].output, 1e6, 1e7).levelAt(1e6);
  expect(brief[0].byDb).toBeCloseTo(passLevelDb - far - 54.8, 2);
});
