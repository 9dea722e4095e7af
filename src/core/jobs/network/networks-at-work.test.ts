import { AS_BUILT, compile } from '../../design/compiled/compile';
import { createDesign, createNetwork, createPlan } from '../../design/making/create';
import type { Control, Design, Stage } from '../../design/document/schema';
import { must } from '../../result';
import { lonePath } from '../../testing/lone-path';
import { topologyById } from '../../topology/index';
import { JobRunner } from '../run-job';
import type { FourViews, FourViewsRequest } from './four-views';
import type { Shaping, ShapingGoal } from './shaping';
import type { Turn } from './turn';

let n = 0;
const makeId = () => `w${n++}`;
const runner = new JobRunner();
const stageOf = (design: Design): Stage => design.variants[0].ways[0].stages[0];
const withStage = (design: Design, stage: Stage, controls: Control[] = []): Design => ({
  ...design,
  variants: design.variants.map((v) => ({
    ...v,
    controls,
    ways: v.ways.map((w) => ({ ...w, stages: [stage] })),
  })),
});
const single = (value: number) => ({ use: { kind: 'single' as const, values: [value] } });

/** A stiff source, no load. */
function bare(plans: Parameters<typeof createDesign>[1] = () => []): Design {
  const base = createDesign('t', plans, makeId);
  return {
    ...base,
    brief: { ...base.brief, source: { name: '', ohm: 0 }, load: { name: '', ohm: null } },
  };
}

/** 10 kΩ and 100 nF: a time constant of a millisecond. */
function oneRc(response: 'lowpass' | 'highpass' = 'lowpass'): Design {
  const base = bare((id) => [
    {
      ...createPlan(id(), response, 'butterworth', 1, 159),
      topologies: {
        first: 'first-order-passive',
        second: 'sallen-key-unity-gain',
        notch: 'bainter',
      },
    },
  ]);
  return withStage(base, { ...stageOf(base), parts: { R1: single(10e3), C1: single(100e-9) } });
}
const TAU = 1e-3;
const CORNER = 1 / (2 * Math.PI * TAU);

const views = async (design: Design, patch: Partial<FourViewsRequest> = {}): Promise<FourViews> =>
  must(
    await runner.run<'four-views'>({
      kind: 'four-views',
      design,
      variantId: design.currentVariant,
      stageId: stageOf(design).id,
      wave: 'square',
      freqHz: 40,
      peakVolts: 1,
      discharge: null,
      ...patch,
    }),
  );

describe('one cutoff in four views', () => {
  test(
    'it charges to 63.2 % in a time constant, settles as the exponential says, and marks half power and ' +
      'half voltage',
    async () => {
      const { charge, half } = await views(oneRc());
      expect(charge.onTauS).toBeCloseTo(TAU, 7);
      expect(charge.offTauS).toBeCloseTo(TAU, 6);
      expect((charge.settled?.onePctS as number) / TAU).toBeCloseTo(Math.log(100), 2);
      // A cent is a 1200th of an octave: ln 1200 time constants.
      expect((charge.settled?.centS as number) / TAU).toBeCloseTo(Math.log(1200), 3);
      charge.timeS.forEach(
        (t, i) => t < charge.offAtS && expect(Math.abs(charge.output[i] - (1 - Math.exp(-t / TAU)))).toBeLessThan(1e-3),
      );
      expect(half.find((h) => h.of === 'power')?.freqHz).toBeCloseTo(CORNER, 1);
      expect(half.find((h) => h.of === 'voltage')?.freqHz).toBeCloseTo(CORNER * Math.sqrt(3), 1);
    },
  );

  test('twice the voltage is twice of every voltage, four times the power, and nothing else', async () => {
    const [one, two] = [await views(oneRc()), await views(oneRc(), { peakVolts: 2 })];
    const twice = (of: Float64Array) => Array.from(of, (v) => expect.closeTo(2 * v, 9));
    expect(Array.from(two.charge.output)).toEqual(twice(one.charge.output));
    expect(Array.from(two.through.drive)).toEqual(twice(one.through.drive));
    expect(Array.from(two.through.output)).toEqual(twice(one.through.output));
    expect(Array.from(two.harmonics.after)).toEqual(twice(one.harmonics.after));
    expect([two.charge.onTauS, two.at.levelDb, two.half]).toEqual([one.charge.onTauS, one.at.levelDb, one.half]);
    const [r, c] = ['R1', 'C1'].map((part) => [one, two].map((v) => v.parts.find((p) => p.part === part)!));
    expect(r[1].powerW! / r[0].powerW!).toBeCloseTo(4, 9);
    expect(c[1].energyJ! / c[0].energyJ!).toBeCloseTo(4, 9);
  });

  test('a smaller resistor to discharge through lets it fall sooner and rise as before', async () => {
    const { charge } = await views(oneRc(), { discharge: { part: 'R1', ohm: 2200 } });
    expect(charge.onTauS).toBeCloseTo(TAU, 7);
    expect(charge.offTauS).toBeCloseTo(0.22e-3, 6);
  });

  test('a high-pass jumps, and has fallen back by 63 % after a time constant', async () => {
    const { charge } = await views(oneRc('highpass'));
    expect(charge.output[0]).toBeCloseTo(1, 6);
    expect(charge.onTauS).toBeCloseTo(TAU, 7);
  });

  test('what ends where it began has no time to 63 %', async () => {
    const topology = topologyById('series-lcr');
    if (topology.role !== 'network') throw new Error('a network was wanted');
    const { charge } = await views(withStage(bare(), createNetwork(topology, makeId, { form: 'band-pass' }).stage));
    expect(charge).toMatchObject({ onTauS: null, settled: null });
  });

  test.each([4, 159.155, 6000])(
    'a wave at %d Hz: level and lateness of its fundamental, and each harmonic’s own loss',
    async (freqHz) => {
      const { at, harmonics } = await views(oneRc(), { freqHz });
      const x = freqHz / CORNER;
      expect(at.levelDb).toBeCloseTo(-10 * Math.log10(1 + x * x), 5);
      expect(at.lateS).toBeCloseTo(Math.atan(x) / (2 * Math.PI * freqHz), 8);
      harmonics.before.forEach((v, k) => {
        expect(v).toBeCloseTo(k % 2 === 0 ? 4 / Math.PI / (k + 1) : 0, 9);
        expect(Math.abs(harmonics.after[k] - v / Math.hypot(1, (k + 1) * x))).toBeLessThan(1e-3 * v + 1e-12);
      });
    },
  );

  test('each part at work: the charge moved, the energy held, and all power in the resistor', async () => {
    const { parts } = await views(oneRc(), { freqHz: 40 });
    const [r, c] = ['R1', 'C1'].map((name) => parts.find((p) => p.part === name)!);
    const top = Math.tanh(1 / 40 / 4 / TAU);
    expect(c.chargeC! / (100e-9 * 2 * top)).toBeCloseTo(1, 3);
    expect(c.energyJ! / (0.5 * 100e-9 * top ** 2)).toBeCloseTo(1, 3);
    // In every half period the source, at 1 V, moves C · 2 top, and C holds as much before as after: all of it is heat.
    expect(r.powerW! / (2 * 40 * 100e-9 * 2 * top)).toBeCloseTo(1, 2);
    expect(c.powerW).toBeNull();
  });

  test('a stage that is not there is refused by name', async () => {
    const design = oneRc();
    expect(
      await runner.run<'four-views'>({
        kind: 'four-views',
        design,
        variantId: design.currentVariant,
        stageId: 'none',
        wave: 'sine',
        freqHz: 1,
        peakVolts: 1,
        discharge: null,
      }),
    ).toMatchObject({ code: 'no-such-stage', data: { stage: 'none' } });
  });
});

function amplifier(
  id: 'shaped-amplifier-non-inverting' | 'shaped-amplifier-inverting',
  form: string,
  parts: Stage['parts'],
  device = 'ideal',
): Design {
  const topology = topologyById(id);
  if (topology.role !== 'network') throw new Error('a network was wanted');
  const { stage } = createNetwork(topology, makeId, { form });
  return withStage(bare(), { ...stage, device, parts });
}
const shaping = async (
  design: Design,
  goal: ShapingGoal = { keepHz: 1000, loseHz: 60e3, loseDb: 15 },
): Promise<Shaping> =>
  must(
    await runner.run<'shaping'>({
      kind: 'shaping',
      design,
      variantId: design.currentVariant,
      stageId: stageOf(design).id,
      goal,
    }),
  );
const GAIN_11 = {
  Rf: single(100e3),
  Ri: single(10e3),
  Cf: single(159.155e-12),
  Ci: single(1.59155e-6),
};

describe('an amplifier shaped by capacitors', () => {
  test('falls from 1/(2π Rf Cf), and levels off where Rf ∥ Ri says, not where the rule of thumb does', async () => {
    const { shelves, noiseGain, gainDb } = await shaping(amplifier('shaped-amplifier-non-inverting', 'both', GAIN_11));
    expect(noiseGain).toBeCloseTo(11, 9);
    expect(gainDb).toBeCloseTo(20 * Math.log10(11), 9);
    const [bottom, top] = ['bottom', 'top'].map((edge) => shelves.find((s) => s.edge === edge)!);
    expect(top.fallsHz).toBeCloseTo(10e3, 0);
    expect(top.levels!.exactHz / top.fallsHz).toBeCloseTo(11, 6);
    expect(top.levels!.errorPct).toBeCloseTo(-100 / 11, 6);
    expect(bottom.fallsHz).toBeCloseTo(10, 2);
    expect(bottom.levels!.exactHz).toBeCloseTo(10 / 11, 4);
    expect(bottom.levels!.errorPct).toBeCloseTo(10, 6);
    // |1 + 10/(1 + jx)|² = 2 where x² = 119: the shelf's floor and 3 dB.
    expect(top.levels!.threeAboveHz / top.fallsHz).toBeCloseTo(Math.sqrt(119), 4);
  });

  test('the inverting one falls on, and has no shelf', async () => {
    const { shelves, inverting } = await shaping(
      amplifier('shaped-amplifier-inverting', 'top', {
        Rf: single(100e3),
        Ri: single(10e3),
        Cf: single(159e-12),
      }),
    );
    expect(inverting).toBe(true);
    expect(shelves.map((s) => s.levels)).toEqual([null]);
  });

  test(
    'the op-amp’s own top is gain-bandwidth over noise gain; the series capacitor takes the offset’s ' + 'gain away',
    async () => {
      const withCi = await shaping(amplifier('shaped-amplifier-non-inverting', 'both', GAIN_11, 'jfet-audio-3mhz'));
      expect(withCi.ownTopHz).toBeCloseTo(3e6 / 11, 0);
      expect(withCi.offset!.withoutBottomVolts / withCi.offset!.volts).toBeCloseTo(11, 9);
      const without = await shaping(amplifier('shaped-amplifier-non-inverting', 'top', GAIN_11, 'jfet-audio-3mhz'));
      expect(without.offset!.volts).toBe(without.offset!.withoutBottomVolts);
      expect((await shaping(amplifier('shaped-amplifier-non-inverting', 'both', GAIN_11))).offset).toBeNull();
    },
  );

  test('asked the other way round, the corner it answers loses what was asked', async () => {
    const { answer, remedies, gainDb } = await shaping(amplifier('shaped-amplifier-non-inverting', 'top', GAIN_11));
    expect(answer).toMatchObject({ parameter: 'topHz' });
    const corner = (answer as { hz: number }).hz;
    const x = 60e3 / corner;
    // (1 + jx + 10)/(1 + jx)
    const level = 10 * Math.log10((11 ** 2 + x * x) / (1 + x * x));
    expect(gainDb - level).toBeCloseTo(15, 6);
    const first = remedies.find((r) => r.id === 'first-order')!;
    expect(10 * Math.log10(1 + (60e3 / first.cutoffHz) ** 2)).toBeCloseTo(15, 6);
    expect(remedies.find((r) => r.id === 'second-order')!.keepLossDb).toBeLessThan(first.keepLossDb);
  });

  test('more than there is to take is refused with what there is; the inverting one can', async () => {
    const goal = { keepHz: 1000, loseHz: 60e3, loseDb: 30 };
    const { answer, remedies } = await shaping(amplifier('shaped-amplifier-non-inverting', 'top', GAIN_11), goal);
    expect(answer).toEqual({ mostDb: 20 * Math.log10(11) });
    expect(remedies.map((r) => r.id)).toEqual(['first-order', 'second-order']);
    expect((await shaping(amplifier('shaped-amplifier-inverting', 'top', GAIN_11), goal)).answer).toMatchObject({
      parameter: 'topHz',
    });
    expect(
      (
        await shaping(amplifier('shaped-amplifier-inverting', 'bottom', GAIN_11), {
          keepHz: 1000,
          loseHz: 20,
          loseDb: 12,
        })
      ).answer,
    ).toMatchObject({ parameter: 'bottomHz' });
  });

  test('a stage of another kind is refused', async () => {
    const design = oneRc();
    expect(
      await runner.run<'shaping'>({
        kind: 'shaping',
        design,
        variantId: design.currentVariant,
        stageId: stageOf(design).id,
        goal: { keepHz: 1, loseHz: 2, loseDb: 3 },
      }),
    ).toMatchObject({ code: 'not-shaped' });
  });
});

describe('a control over its rotation', () => {
  const turn = async (design: Design, controlId: string): Promise<Turn> =>
    must(
      await runner.run<'turn'>({
        kind: 'turn',
        design,
        variantId: design.currentVariant,
        controlId,
        grid: { fromHz: 1, toHz: 100e3, points: 401 },
      }),
    );
  const control = (taper: Control['taper'], kind: Control['kind'] = 'pot'): Control => ({
    id: 'c',
    name: 'Cutoff',
    kind,
    position: 0.5,
    taper,
  });
  const onPot = (taper: Control['taper']): Design => {
    const base = oneRc();
    return withStage(
      base,
      {
        ...stageOf(base),
        parts: {
          ...stageOf(base).parts,
          R1: {
            control: {
              kind: 'rheostat',
              control: 'c',
              totalOhm: 100e3,
              endOhm: 1000,
              mismatchPct: 0,
            },
          },
        },
      },
      [control(taper)],
    );
  };

  test('the cutoff goes from that of the end resistor to that of track and end resistor', async () => {
    const { points, family } = await turn(onPot('linear'), 'c');
    const ends = [1000, 101e3].map((ohm) => 1 / (2 * Math.PI * ohm * 100e-9));
    expect(points[0].cutoffHz! / ends[0]).toBeCloseTo(1, 2);
    expect(points[points.length - 1].cutoffHz! / ends[1]).toBeCloseTo(1, 2);
    // Half way, a linear track: 51 kΩ.
    expect(points[16].cutoffHz! * 2 * Math.PI * 51e3 * 100e-9).toBeCloseTo(1, 2);
    expect(family.map((f) => f.position)).toEqual([0, 0.125, 0.25, 0.375, 0.5, 0.625, 0.75, 0.875, 1]);
  });

  test('of a band-pass its law is the centre’s, not that of its lower edge', async () => {
    const base = lonePath({ topology: 'multiple-feedback-band-pass', wanted: { freqHz: 800, q: 6 } });
    const stage = stageOf(base);
    const held = { kind: 'rheostat' as const, control: 'c', totalOhm: 10e3, endOhm: 500, mismatchPct: 0 };
    const design = withStage(base, { ...stage, parts: { ...stage.parts, R1b: { control: held } } }, [
      control('linear'),
    ]);
    const { points } = await turn(design, 'c');
    const parts = must(compile(design, design.variants[0], AS_BUILT)).ways[0].stages[0].parts;
    const value = (name: string) => parts.find((p) => p.spec.name === name)!.chosen;
    // ω0² = (1/R1 + 1/R1b)/(R2 C1 C2), whatever the pot; its half-power points lie evenly about it.
    for (const at of [0, 16, 32]) {
      const ohm = 500 + 10e3 * points[at].position;
      const centre = Math.sqrt((1 / value('R1') + 1 / ohm) / (value('R2') * value('C1') * value('C2'))) / (2 * Math.PI);
      expect(points[at].cutoffHz! / centre).toBeCloseTo(1, 2);
    }
  });

  test('a log taper gives a variable resistor the evenest musical steps, and all tapers reach as far', async () => {
    const { tapers } = await turn(onPot('linear'), 'c');
    expect(tapers[0].taper).toBe('log');
    for (const { octaves } of tapers) expect(octaves).toBeCloseTo(Math.log2(101), 1);
    expect(tapers[2].unevenOctaves).toBeGreaterThan(2 * tapers[0].unevenOctaves);
  });

  test('a switch has its positions and no taper', async () => {
    const base = oneRc();
    const design = withStage(
      base,
      {
        ...stageOf(base),
        parts: {
          ...stageOf(base).parts,
          R1: { control: { kind: 'switch', control: 'c', ohms: [4700, 10e3, 22e3] } },
        },
      },
      [control('linear', 'switch')],
    );
    const { points, tapers } = await turn(design, 'c');
    expect(points.map((p) => p.cutoffHz! * 2 * Math.PI * 100e-9)).toEqual(
      [4700, 10e3, 22e3].map((ohm) => expect.closeTo(1 / ohm, 7)),
    );
    expect(tapers).toEqual([]);
  });

  test('a control that is not there is refused by name', async () => {
    const design = oneRc();
    expect(
      await runner.run<'turn'>({
        kind: 'turn',
        design,
        variantId: design.currentVariant,
        controlId: 'x',
        grid: { fromHz: 1, toHz: 10, points: 11 },
      }),
    ).toMatchObject({ code: 'no-such-control' });
  });
});
