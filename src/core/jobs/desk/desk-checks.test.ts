import { AcSolver } from '../../analysis/ac/solver';
import { noiseSpectrum } from '../../analysis/ac/noise';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import type { Design } from '../../design/document/schema';
import type { SinglePath } from '../../design/making/single-path';
import { OP_AMPS, swingRoom } from '../../device/op-amps';
import { controlledDesign } from '../../testing/controlled-design';
import { otaOnePole } from '../../topology/voice/ota-one-pole';
import { lonePath, typedInto } from '../../testing/lone-path';
import { must } from '../../result';
import { deskOf } from '../../testing/desk-of';
import { strains } from './op-amp-strain';
import { naturalOf } from '../reading/read-way';
import { bruteCurve } from '../../testing/brute-curve';
import { JobRunner } from '../run-job';
import { runOpAmpSwap } from './op-amp-swap';
import { runSag } from '../voice/sag';

const solver = new AcSolver();
const [jfet] = OP_AMPS;
type Brief = Partial<Design['brief']>;
const path = (given: SinglePath, brief: Brief = {}, device = jfet.id): Design => lonePath(given, { device }, brief);
const desk = deskOf;
const check = (design: Design, code: string) => desk(design).checks.find((c) => c.code === code);
const gain = (gainDb: number): SinglePath => ({ topology: 'buffer', form: 'lowpass', wanted: { gainDb } });
const single = (volts: number): Brief => ({ supply: { kind: 'single', volts, virtualGroundOhm: 10 } });

describe('swing', () => {
  test('a dual supply gives each rail, a single one half of it, less the headroom either way', () => {
    expect(swingRoom({ supply: { kind: 'dual', volts: 12 } }, jfet)).toBeCloseTo(12 - jfet.headroomVolts, 12);
    expect(swingRoom({ supply: { kind: 'single', volts: 12 } }, jfet)).toBeCloseTo(6 - jfet.headroomVolts, 12);
  });

  test.each([
    [0.69, 'ok'],
    [0.71, 'warn'],
    [0.99, 'warn'],
    [1.01, 'bad'],
  ] as const)('%d of the room is %s, on either kind of supply', (share, level) => {
    for (const [brief, room] of [
      [{ supply: { kind: 'dual', volts: 9 } }, 9 - jfet.headroomVolts],
      [single(9), 4.5 - jfet.headroomVolts],
    ] as const) {
      // A buffer of 6 dB: what it puts out is twice what it gets, peak √2 of the RMS.
      const design = path(gain(20 * Math.log10(2)), {
        ...(brief as Brief),
        signalVolts: (share * room) / 2 / Math.SQRT2,
      });
      expect(check({ ...design, preferences: { ...design.preferences, resistorSeries: 'E192' } }, 'swing')?.level).toBe(
        level,
      );
    }
  });

  test('without room for any signal it is said in one way, here and where op-amps are swapped', () => {
    // 3 V single: half of it is the headroom of two op-amps' worth and more.
    const slow = OP_AMPS.find((o) => o.headroomVolts >= 1.5)!;
    const design = path(gain(0), single(3), slow.id);
    expect(check(design, 'no-room')).toMatchObject({ level: 'bad', data: { needsVolts: 2 * slow.headroomVolts } });
    expect(check(design, 'swing')).toBeUndefined();
    const verdict = must(runOpAmpSwap({ kind: 'op-amp-swap', design, variantId: design.currentVariant }, solver)).find(
      (v) => v.id === slow.id,
    )!;
    expect(verdict.swingShare).toBeNull();
    const reaching = must(
      runOpAmpSwap(
        {
          kind: 'op-amp-swap',
          design: { ...design, brief: { ...design.brief, signalVolts: 0.5 } },
          variantId: design.currentVariant,
        },
        solver,
      ),
    ).find((v) => v.id === 'rail-to-rail-single-supply')!;
    expect(reaching.swingShare).toBeCloseTo((0.5 * Math.SQRT2) / (1.5 - 0.1), 2);
  });
});

describe('slew', () => {
  test.each([
    [0.39, 'ok'],
    [0.41, 'warn'],
    [1.01, 'bad'],
  ] as const)('%d of the rate at 20 kHz is %s; what lies above hearing is nobody’s signal', (share, level) => {
    const signalVolts = (share * jfet.slewVoltsPerSec) / (2 * Math.PI * 20e3) / Math.SQRT2;
    const design = path(gain(0), { signalVolts, supply: { kind: 'dual', volts: 60 } });
    const found = check(design, 'slew')!;
    expect(found.level).toBe(level);
    expect(found.data.atHz).toBeCloseTo(20e3, 6);
    expect(Number(found.data.needs) / (share * jfet.slewVoltsPerSec)).toBeCloseTo(1, 3);
  });
});

test('the strain inside a stage counts, not only that at its end: a two-integrator loop rings at its middle', () => {
  const design = path(
    { topology: 'state-variable', form: 'lowpass', wanted: { freqHz: 1000, q: 5 } },
    { signalVolts: 0.1 },
    'ideal',
  );
  const built = must(compile(design, design.variants[0], AS_BUILT));
  const strain = [...strains(built, design.brief, naturalOf(built), solver).values()][0];
  // At its corner the low-pass stands Q over the input, and no output of the loop stands lower at its own peak.
  expect(strain.volts).toBeGreaterThanOrEqual(0.1 * Math.SQRT2 * 5 * 0.99);
});

test('noise of bias current is shot noise: √(2 q I) through what feeds the input', () => {
  const bipolar = { ...OP_AMPS.find((o) => o.biasAmps >= 1e-7)!, id: 'quiet', noiseVoltsPerRtHz: 0 };
  const base = path(gain(0), {}, 'quiet');
  const design = {
    ...base,
    brief: { ...base.brief, source: { name: '', ohm: 1e6 } },
    preferences: { ...base.preferences, ownOpAmps: [{ ...bipolar, unitsPerPackage: [...bipolar.unitsPerPackage] }] },
  };
  const { circuit, ways } = must(compile(design, design.variants[0], AS_BUILT));
  const { output } = must(
    noiseSpectrum(circuit, new Float64Array(circuit.structure.size), {
      freqHz: Float64Array.of(1000),
      output: [circuit.structure.nodeOf(ways[0].output) as number, -1],
      source: 'Vin',
    }),
  );
  const [k, T, q] = [1.380649e-23, 300.15, 1.602176634e-19];
  // The source's megohm beside the resistor that gives the input its way to ground.
  const toGround = ways[0].stages[0].parts.find((p) => p.spec.name === 'R1')!.chosen;
  const ohm = 1 / (1e-6 + 1 / toGround);
  expect(output[0] / Math.sqrt(4 * k * T * ohm + 2 * q * bipolar.biasAmps * ohm ** 2)).toBeCloseTo(1, 2);
});

test('signal to noise counts the signal as it comes out at its best, not as it goes in', () => {
  const design = path(gain(20), { signalVolts: 0.1 });
  const verdict = must(runOpAmpSwap({ kind: 'op-amp-swap', design, variantId: design.currentVariant }, solver)).find(
    (v) => v.current,
  )!;
  const built = desk({ ...design, preferences: design.preferences }).passLevelDb;
  expect(verdict.signalToNoiseDb).toBeCloseTo(20 * Math.log10(0.1 / verdict.noiseV!) + built, 1);
});

test(
  'a battery that sags under what its diodes need is said to stop, at the highest voltage where it ' +
    'does; a full one is not',
  () => {
    const design = path({ topology: 'diode-band-pass', form: 'LED pair' }, single(9));
    const sag = must(runSag({ kind: 'sag', design, variantId: design.currentVariant }, solver));
    // Two junctions of n Vt ln(I/Is) in a row over the middle of the supply: the supply must be twice that.
    const stage = desk(design).stages[0];
    const amps = stage.parts.find((p) => p.name === 'I1')!.chosen;
    const needs = 2 * 2 * 2 * 0.02585 * Math.log(amps / 1e-18);
    const tried = [9, 8.1, 7.2, 6.3, 5.4];
    const stops = tried.filter((v) => v <= needs);
    expect(stops.length).toBeGreaterThan(0);
    // To half a per cent of the supply, and never above what it needs.
    expect(sag.stopsAtVolts).toBeLessThanOrEqual(needs);
    expect(sag.stopsAtVolts).toBeGreaterThan(needs - 0.005 * 9);
    expect(sag.points.map((p) => p.supplyVolts)).toEqual(
      tried.filter((v) => v > needs).map((v) => expect.closeTo(v, 9)),
    );
    // What it draws is its op-amp's too.
    expect(sag.points[0].restAmps).toBeGreaterThanOrEqual(jfet.supplyAmps);
    expect(desk(design).checks.some((c) => c.code === 'supply-short')).toBe(false);
    expect(
      desk({ ...design, brief: { ...design.brief, ...single(0.98 * needs) } }).checks.find(
        (c) => c.code === 'supply-short',
      ),
    ).toMatchObject({ level: 'bad' });
  },
);

test('an op-amp that would rest nearer to a rail than it reaches is a fault, and one that reaches is its cure', () => {
  const design = controlledDesign(otaOnePole, 'linear-converter', single(9));
  const found = desk(design).checks.filter((c) => c.code === 'rests-at-rail');
  expect(found).toHaveLength(1);
  const [{ data, cure }] = found;
  expect(data.headroomVolts).toBe(OP_AMPS.find((o) => o.id === 'jfet-audio-3mhz')!.headroomVolts);
  // At rest its output stands a base and an emitter resistor under the middle: within the headroom, over the rail.
  expect(data.fromRailVolts).toBeGreaterThan(0);
  expect(data.fromRailVolts).toBeLessThan(Number(data.headroomVolts));
  if (cure?.kind !== 'use-device') throw new Error('a cure was wanted');
  const [variant] = design.variants;
  const cured = {
    ...design,
    variants: [
      {
        ...variant,
        ways: variant.ways.map((w) => ({ ...w, stages: w.stages.map((s) => ({ ...s, device: cure.device })) })),
      },
    ],
  };
  expect(desk(cured).checks.some((c) => c.code === 'rests-at-rail')).toBe(false);
  expect(desk(controlledDesign(otaOnePole, 'linear-converter')).checks.some((c) => c.code === 'rests-at-rail')).toBe(
    false,
  );
});

test.each([
  ['just reaches there', 0.99, 0],
  ['just does not', 1.01, 1],
])('an op-amp that %s', (_, share, found) => {
  const design = controlledDesign(otaOnePole, 'linear-converter', single(9));
  const [{ data }] = desk(design).checks.filter((c) => c.code === 'rests-at-rail');
  const own = { ...OP_AMPS.find((o) => o.id === 'jfet-audio-3mhz')!, id: 'own' };
  const headroomVolts = share * Number(data.fromRailVolts);
  const [variant] = design.variants;
  const withOwn = {
    ...design,
    preferences: { ...design.preferences, ownOpAmps: [{ ...own, headroomVolts, unitsPerPackage: [1] }] },
    variants: [
      {
        ...variant,
        ways: variant.ways.map((w) => ({ ...w, stages: w.stages.map((s) => ({ ...s, device: 'own' })) })),
      },
    ],
  };
  expect(desk(withOwn).checks.filter((c) => c.code === 'rests-at-rail')).toHaveLength(found);
});

describe('stability', () => {
  /**
   * An equal-part Sallen-Key with its gain typed in: 1 + Rb/Ra = 3 is where its poles reach the axis, 5 where they part
   * on the real one.
   */
  const withGain = (gain: number): Design => {
    const design = path(
      {
        topology: 'sallen-key-equal-parts',
        form: 'lowpass',
        wanted: { freqHz: 1000, q: 2, gainDb: 20 * Math.log10(3 - 1 / 2) },
      },
      {},
      'ideal',
    );
    return typedInto(design, { R1: 10e3, R2: 10e3, C1: 10e-9, C2: 10e-9, Ra: 1e3, Rb: 1e3 * (gain - 1) });
  };
  const f0 = 1 / (2 * Math.PI * 10e3 * 10e-9);

  test('under a gain of three it stands; over it, it sings at 1/2πRC and nothing else is said', async () => {
    const [still, sings] = [desk(withGain(2.98)), desk(withGain(3.02))];
    expect(still.stability).toEqual({ stable: true, undamped: false, singsHz: null });
    expect(still.marks.find((m) => m.kind === 'peak')!.levelDb).toBeCloseTo(20 * Math.log10(2.98 / 0.02), 1);
    expect(sings.stability.stable).toBe(false);
    // √(1 − (K − 3)²/4) of it: poles of s² + (3 − K) s + 1.
    expect(sings.stability.singsHz! / f0).toBeCloseTo(Math.sqrt(1 - 0.01 ** 2), 6);
    expect([sings.marks, sings.joints, sings.brief]).toEqual([[], [], []]);
    expect(sings.checks.filter((c) => c.level === 'bad').map((c) => c.code)).toEqual(['sings']);
    const runner = new JobRunner();
    const grid = { fromHz: 20, toHz: 20e3, points: 61 };
    const design = withGain(3.02);
    const ask = { design, variantId: design.currentVariant };
    for (const answer of [
      await runner.run<'range'>({ kind: 'range', ...ask }),
      await runner.run<'spread'>({ kind: 'spread', ...ask, grid, runs: 20, seed: 1 }),
      await runner.run<'yield'>({ kind: 'yield', ...ask, grid, runs: 20, seed: 1 }),
    ])
      expect(answer).toMatchObject({ ok: false, code: 'sings' });
  });

  test('with both poles on the real axis it runs to a rail and has no pitch', () => {
    expect(desk(withGain(4.9)).checks[0]).toMatchObject({ code: 'sings' });
    const latched = desk(withGain(5.2));
    expect(latched.stability).toEqual({ stable: false, undamped: false, singsHz: 0 });
    expect(latched.checks[0]).toMatchObject({ code: 'latches', level: 'bad' });
  });
});

test.each([
  [-0.02, true],
  [0.02, false],
])('a supply %d V over the headroom of both rails: no room is %s', (over, none) => {
  expect(check(path(gain(0), single(2 * jfet.headroomVolts + over)), 'no-room') !== undefined).toBe(none);
  expect(
    check(path(gain(0), { supply: { kind: 'dual', volts: jfet.headroomVolts + over } }), 'no-room') !== undefined,
  ).toBe(none);
});

test(
  'as the battery sags: level, its place and the cutoff are the circuit’s own at that voltage, by ' + 'brute force',
  () => {
    const design = path({ topology: 'transistor-ladder' }, single(9));
    const sag = must(runSag({ kind: 'sag', design, variantId: design.currentVariant }, solver));
    for (const point of sag.points) {
      const { circuit, ways } = must(
        compile(design, design.variants[0], { ...AS_BUILT, supplyShare: point.supplyVolts / 9 }),
      );
      const brute = bruteCurve(circuit, ways[0].output, 20, 20e3);
      const top = brute.highest();
      expect(point.topDb).toBeCloseTo(top.levelDb, 3);
      expect(point.topHz! / top.freqHz).toBeCloseTo(1, 3);
      const falls = brute.crossings(point.passDb! - 10 * Math.log10(2)).filter((c) => c.falling);
      expect(point.cutoffHz! / falls[falls.length - 1].freqHz).toBeCloseTo(1, 4);
      // Direct coupled: its pass band goes on to nothing at all.
      expect(point.passDb).toBeCloseTo(brute.levelAt(1), 3);
    }
    expect(sag.points.length).toBeGreaterThan(2);
  },
);

test.each([
  // 1 kΩ and 2.2 µF fall below 72.34 Hz, with 19 kΩ a gain of 26.02 dB: within five per cent of what is asked, or not.
  [70, false],
  [65, true],
])('an amplifier asked to fall below %d Hz that falls below 72: said where that is beyond tolerance', (hz, said) => {
  const wanted = { gainDb: 26, bottomHz: hz };
  const asked = path({ topology: 'shaped-amplifier-non-inverting', form: 'bottom', wanted });
  const built = typedInto(asked, { Ri: 1e3, Rf: 19e3, Ci: 2.2e-6 });
  expect(desk(built).checks.flatMap((c) => (c.code === 'off-target' ? [c.data.what] : []))).toEqual(
    said ? ['bottom falls below'] : [],
  );
});

test.each([
  // Of the parts' tolerances the largest is five per cent, 0.42 dB: (R1 + R2)/R2 is 6.38 dB here, and 6.56 there.
  [10.4e3, 9.6e3, false],
  [10.6e3, 9.4e3, true],
])('a divider of %d and %d Ω asked for 6.02 dB: said where its decibels are beyond tolerance', (R1, R2, said) => {
  const wanted = { lossDb: 20 * Math.log10(2), inputOhm: 20e3, loadOhm: 1e12, loadFarad: 220e-12 };
  const built = typedInto(path({ topology: 'loaded-divider', wanted }), {
    R1,
    R2,
    C1: (220e-12 * R2) / R1,
    C2: 220e-12,
  });
  const found = desk(built).checks.filter((c) => c.code === 'off-target');
  expect(found.map((c) => c.data.kind)).toEqual(said ? ['decibel'] : []);
  if (said) expect(found[0].data.got).toBeCloseTo(20 * Math.log10((R1 + R2) / R2), 6);
});

test('a wah is designed for a small battery, and no capacitor of it takes long to charge', () => {
  const wah = path({ topology: 'wah-inductor' });
  expect(wah.brief.supply).toMatchObject({ kind: 'single', volts: 9 });
  const of = (name: string) => desk(wah).stages[0].parts.find((p) => p.name === name)!.chosen;
  // The base's foot charges through what holds it, the pedal's capacitor through the pedal: five time constants.
  expect(5 * of('C3') * ((of('R3') * of('R4')) / (of('R3') + of('R4')))).toBeLessThan(5);
  expect(5 * of('C4') * of('P1')).toBeLessThan(5);
});

test('each capacitor of a ladder moves its frequency by a quarter of its own share, all together as one', async () => {
  const ladder = path({ topology: 'transistor-ladder', wanted: { cutoffHz: 800, feedback: 3 } });
  const [stage] = ladder.variants[0].ways[0].stages;
  const details = must(
    await new JobRunner().run<'detail'>({
      kind: 'detail',
      design: ladder,
      variantId: ladder.currentVariant,
      stageId: stage.id,
    }),
  );
  const moves = (name: string) => details.find((d) => d.part === name)!.movesCutoff!;
  // Four alike, so a quarter each by symmetry; a frequency goes down as all times are stretched.
  for (const name of ['C1', 'C2', 'C3', 'C4']) expect(moves(name)).toBeCloseTo(-0.25, 1);
  const all = details.filter((d) => d.part.startsWith('C')).reduce((sum, d) => sum + (d.movesCutoff ?? 0), 0);
  expect(all).toBeCloseTo(-1, 2);
});
