import 'fake-indexeddb/auto';
import { newCrossover } from '@/core/catalogue/new-crossover';
import { layOutWays, waysOf, type WaysWanted } from '@/core/catalogue/lay-out-ways';
import { AcSolver } from '@/core/analysis/ac/solver';
import { AS_BUILT, compile } from '@/core/design/compiled/compile';
import { countingIds } from '@/core/design/making/create';
import { designSchema, type Design } from '@/core/design/document/schema';
import { runAcoustics } from '@/core/jobs/loudspeaker/acoustics';
import type { Driver } from '@/core/loudspeaker/driver';
import { must } from '@/core/result';
import { documentStore, edit, openDesign } from '../document';
import { currentVariantOf, selectWay } from './edits';
import { addPlan, changePlan } from './plan-edits';
import * as speaker from './speaker-edits';

const now = (): Design => documentStore.getState().design as Design;
const variant = () => currentVariantOf(now());
const open = (wanted: WaysWanted) => openDesign(structuredClone(newCrossover(wanted, countingIds('w'))));
const hasOpAmps = () =>
  must(compile(now(), variant(), AS_BUILT)).netlist.elements.some((e) => e.definition.kind.includes('op-amp'));

/* Complex numbers of the test's own: [re, im]. */
type Z = readonly [number, number];
const plus = ([a, b]: Z, [c, d]: Z): Z => [a + c, b + d];
const times = ([a, b]: Z, [c, d]: Z): Z => [a * c - b * d, a * d + b * c];
const over = (x: Z, [c, d]: Z): Z => times(x, [c / (c * c + d * d), -d / (c * c + d * d)]);
const size = ([a, b]: Z) => Math.hypot(a, b);
const ONE: Z = [1, 0];
const beside = (a: Z, b: Z): Z => over(times(a, b), plus(a, b));

/** A driver of wire and coil, with a response as from a file: its phase in it. */
const made = (id: string, kind: Driver['kind'], ohm: number, henry: number, level: number): Driver => {
  const freqHz = [20, 60, 200, 600, 2000, 6000, 20e3];
  return {
    id,
    name: id,
    kind,
    nominalOhm: ohm,
    impedance: { reOhm: 0.8 * ohm, leHenry: henry, lossy: [], resonances: [] },
    measuredImpedance: null,
    response: {
      kind: 'curve',
      curve: {
        freqHz,
        values: freqHz.map((_, i) => level + ((i * 7) % 5)),
        phaseDeg: freqHz.map((_, i) => 40 - 25 * i),
      },
    },
    radiusM: 0.03,
    safeFromHz: 100,
    maxWatts: 50,
    price: null,
  };
};
const DRIVERS = [
  made('low', 'woofer', 8, 0.9e-3, 88),
  made('mid-low', 'woofer', 6, 0.6e-3, 89),
  made('mid', 'midrange', 8, 0.3e-3, 90),
  made('high', 'tweeter', 4, 0.05e-3, 92),
];
const BY_COUNT: Readonly<Record<number, readonly Driver[]>> = { 3: [DRIVERS[0], DRIVERS[2], DRIVERS[3]], 4: DRIVERS };

/** So many ways on those drivers, without what wire loses, at known places. */
function withDrivers(count: 3 | 4): readonly Driver[] {
  open({ count, subwoofer: false });
  const drivers = BY_COUNT[count];
  variant().ways.forEach((way, w) => {
    edit(speaker.takeDriver(way.id, drivers[w]));
    edit(speaker.changeWay(way.id, { position: { acrossM: 0.02 * w, upM: -0.2 + 0.15 * w, backM: 0.03 - 0.01 * w } }));
  });
  edit((draft) => void (draft.preferences.grades = undefined));
  edit(speaker.setListening({ acrossDeg: 25, upDeg: 10, distanceM: 1.7 }));
  return drivers;
}

const driverOhm = ({ impedance }: Driver, f: number): Z => [impedance.reOhm, 2 * Math.PI * f * impedance.leHenry];
const partOhm = (name: string, value: number, f: number): Z =>
  name[0] === 'L' ? [0, 2 * Math.PI * f * value] : [0, -1 / (2 * Math.PI * f * value)];

/** Chosen values of every way's stages, in order. */
const values = () =>
  must(compile(now(), variant(), AS_BUILT)).ways.map((way) =>
    way.stages.map((stage) => Object.fromEntries(stage.parts.map((p) => [p.spec.name, p.chosen]))),
  );

interface Heard {
  readonly volts: readonly Z[];
  readonly load: Z;
}

/** Ladders of second order: a part in line and one across, from the driver back to the amplifier. */
function parallelWays(drivers: readonly Driver[], f: number, sourceOhm: number): Heard {
  const ways = variant().ways.map((way, w) => {
    let [ohm, ratio]: [Z, Z] = [driverOhm(drivers[w], f), ONE];
    const stages = values()[w];
    for (let k = stages.length - 1; k >= 0; k--) {
      const low = way.plans[k].response === 'lowpass';
      const [inLine, across] = (low ? ['L1', 'C1'] : ['C1', 'L1']).map((n) => partOhm(n, stages[k][n], f));
      const end = beside(across, ohm);
      ratio = times(ratio, over(end, plus(inLine, end)));
      ohm = plus(inLine, end);
    }
    return { ohm, ratio };
  });
  const load = ways.map((w) => w.ohm).reduce(beside);
  const fed = over(load, plus(load, [sourceOhm, 0]));
  return { volts: ways.map((w) => times(w.ratio, fed)), load };
}

/** Drivers in a row, first order: coil across all above, capacitor across the one below, and again of what is above. */
function seriesWays(drivers: readonly Driver[], f: number, sourceOhm: number): Heard {
  const parts = values();
  const upTo = (w: number): { ohm: Z; ratios: Z[] } => {
    if (w === drivers.length - 1) return { ohm: driverOhm(drivers[w], f), ratios: [ONE] };
    const above = upTo(w + 1);
    const [{ L1, C1 }] = parts[w];
    const upper = beside(partOhm('L1', L1, f), above.ohm);
    const lower = beside(partOhm('C1', C1, f), driverOhm(drivers[w], f));
    const ohm = plus(upper, lower);
    return { ohm, ratios: [over(lower, ohm), ...above.ratios.map((r) => times(r, over(upper, ohm)))] };
  };
  const { ohm, ratios } = upTo(0);
  const fed = over(ohm, plus(ohm, [sourceOhm, 0]));
  return { volts: ratios.map((r) => times(r, fed)), load: ohm };
}

/** First-order Bessel function over half its argument, by its series. */
const piston = (x: number): number => {
  let [term, sum] = [1, 1];
  for (let k = 1; k < 40; k++) sum += term *= -((x / 2) ** 2) / (k * (k + 1));
  return sum;
};

/** dB at the listener, by geometry. */
function heardDb(drivers: readonly Driver[], volts: readonly Z[], f: number, point: number): number {
  const [across, up] = [25, 10].map((deg) => (deg * Math.PI) / 180);
  const at = [Math.sin(across) * Math.cos(up), Math.sin(up), Math.cos(across) * Math.cos(up)].map((v) => 1.7 * v);
  const sum = variant().ways.reduce<Z>(
    (all, { position, polarity }, w) => {
      const { response, radiusM } = drivers[w];
      if (response.kind !== 'curve' || !position) throw new Error('a curve and a place were given');
      const way = [at[0] - position.acrossM, at[1] - position.upM, at[2] + position.backM];
      const far = Math.hypot(...way);
      const k = (2 * Math.PI * f) / 343;
      const level = 10 ** (response.curve.values[point] / 20);
      const aside = piston(k * radiusM * Math.hypot(way[0], way[1]) * (1 / far));
      const turn = (response.curve.phaseDeg![point] * Math.PI) / 180 - k * (far - 1.7);
      const carried: Z = [Math.cos(turn), Math.sin(turn)];
      const much = polarity * level * (1.7 / far) * aside;
      return plus(all, times(times(volts[w], carried), [much, 0]));
    },
    [0, 0],
  );
  return 20 * Math.log10(size(sum));
}

/** Watts that each driver takes of 12 V of programme, by a fine sum over the octaves. */
function driverWatts(drivers: readonly Driver[], heard: (f: number) => Heard): number[] {
  const [low, high, n] = [Math.log(20), Math.log(20e3), 4000];
  let whole = 0;
  const watts = drivers.map(() => 0);
  for (let i = 0; i < n; i++) {
    const f = Math.exp(low + ((i + 0.5) * (high - low)) / n);
    const weight = 1 / ((1 + (40 / f) ** 2) * (1 + (f / 4000) ** 2));
    whole += weight;
    const { volts } = heard(f);
    drivers.forEach((driver, w) => {
      const ohm = driverOhm(driver, f);
      watts[w] += weight * (12 * (size(volts[w]) / size(ohm))) ** 2 * ohm[0];
    });
  }
  return watts.map((w) => w / whole);
}

describe.each([
  ['three ways side by side', 3, 'parallel', parallelWays],
  ['four ways side by side', 4, 'parallel', parallelWays],
  ['three ways in a row', 3, 'first order', seriesWays],
  ['four ways in a row', 4, 'first order', seriesWays],
] as const)('%s', (_, count, wiring, independent) => {
  test('sum off axis, volts, load and watts are those of impedances put together by hand', () => {
    const drivers = withDrivers(count);
    edit(speaker.setWiring(wiring));
    expect(hasOpAmps()).toBe(false);
    const { source } = now().brief;
    const freqHz = [20, 60, 200, 600, 2000, 6000, 20e3];
    const answer = (f: number) => independent(drivers, f, source.ohm);
    freqHz.forEach((f, point) => {
      const grid = { fromHz: f, toHz: f * 1.0000001, points: 2 };
      const heard = must(
        runAcoustics(
          { kind: 'acoustics', design: now(), variantId: variant().id, ghostVariantId: null, grid },
          new AcSolver(),
        ),
      );
      const { volts, load } = answer(f);
      heard.ways.forEach((way, w) => expect(way.voltsDb[0]).toBeCloseTo(20 * Math.log10(size(volts[w])), 5));
      expect(heard.load!.ohm[0]).toBeCloseTo(size(load), 5);
      expect(heard.sumDb[0]).toBeCloseTo(heardDb(drivers, volts, f, point), 4);
      if (point > 0) return;
      const watts = driverWatts(drivers, answer);
      drivers.forEach((driver, w) => {
        const taken = heard.power.find((p) => p.part === driver.name && p.wayId === variant().ways[w].id)!;
        expect(taken.watts / watts[w]).toBeCloseTo(1, 2);
      });
    });
  });
});

describe('ways laid out', () => {
  const shape = () =>
    variant().ways.map(({ name, plans, polarity }) => [
      name,
      plans.map((p) => `${p.response} ${p.cutoffHz}`).join(', '),
      polarity,
    ]);

  test('from one to four: the lowest a low-pass, the highest a high-pass, both between', () => {
    open({ count: 2, subwoofer: false });
    edit(speaker.setWays({ count: 3, subwoofer: false }));
    expect(shape()).toEqual([
      ['Bass', 'lowpass 500', 1],
      ['Midrange', 'highpass 500, lowpass 3000', -1],
      ['Tweeter', 'highpass 3000', 1],
    ]);
    expect(hasOpAmps()).toBe(false);
    edit(speaker.setWays({ count: 4, subwoofer: false }));
    expect(shape().map(([name]) => name)).toEqual(['Bass', 'Lower midrange', 'Upper midrange', 'Tweeter']);
    edit(speaker.setWays({ count: 1, subwoofer: false }));
    expect(shape()).toEqual([['Full range', '', 1]]);
    expect(designSchema.safeParse(now()).success).toBe(true);
  });

  test('drivers, circuits put in by hand, a crossing and a name of the maker’s own stay', () => {
    open({ count: 2, subwoofer: false });
    const [woofer, tweeter] = variant().ways;
    edit(speaker.takeDriver(tweeter.id, made('mine', 'tweeter', 6, 1e-4, 91)));
    edit(
      speaker.levelWays([
        { wayId: woofer.id, ableDb: 86 },
        { wayId: tweeter.id, ableDb: 90 },
      ]),
    );
    edit(speaker.changeWay(woofer.id, { name: 'My bass' }));
    edit(speaker.moveCrossing(woofer.id, tweeter.id, 2500, 2000));
    edit(speaker.setWays({ count: 2, subwoofer: true }));
    const [sub, low, high] = variant().ways;
    expect([sub.name, low.name, high.name]).toEqual(['Subwoofer', 'My bass', 'Tweeter']);
    expect(low.plans.map((p) => p.cutoffHz)).toEqual([80, 2000]);
    expect(high.load).toMatchObject({ driver: 'mine' });
    expect(high.stages.map((s) => s.topology)).toEqual(['passive-ladder', 'driver-pad']);
    expect(waysOf(variant())).toEqual({ count: 2, subwoofer: true });
  });

  test('ways with amplifiers of their own stay so, with both slopes in the middle, and none is turned over', () => {
    open({ count: 2, subwoofer: false, active: true });
    edit(speaker.setWays({ count: 3, subwoofer: false }));
    const [, middle] = variant().ways;
    expect(middle.plans.map((p) => [p.response, p.order])).toEqual([
      ['highpass', 4],
      ['lowpass', 4],
    ]);
    expect(middle.stages.every((s) => s.target.kind === 'section')).toBe(true);
    expect(variant().ways.map((w) => w.polarity)).toEqual([1, 1, 1]);
    edit(speaker.setAllActive(false));
    expect(hasOpAmps()).toBe(false);
  });

  test('each way keeps its own feed and its amplifier; a new one is fed as most are', () => {
    open({ count: 2, subwoofer: false });
    const [woofer, tweeter] = variant().ways;
    edit(speaker.setActive(woofer.id, true));
    edit((draft) => {
      const { load } = currentVariantOf(draft).ways[0];
      if (load.kind === 'driver') load.amplifier = { inputOhm: 47e3, gainDb: 30 };
    });
    edit(speaker.setWays({ count: 2, subwoofer: true }));
    const feeds = () => variant().ways.map(({ load }) => (load.kind === 'driver' ? load.amplifier?.gainDb : undefined));
    expect(feeds()).toEqual([26, 30, undefined]);
    expect(
      variant()
        .ways.map((w) => w.id)
        .slice(1),
    ).toEqual([woofer.id, tweeter.id]);
    edit(speaker.setWays({ count: 2, subwoofer: false, active: false }));
    expect(feeds()).toEqual([undefined, undefined]);
  });

  test('poles of the maker’s own are no pattern for other ways', () => {
    open({ count: 2, subwoofer: false, active: true });
    const [woofer] = variant().ways;
    edit(selectWay(woofer.id));
    edit(changePlan(woofer.plans[0].id, { alignment: 'custom' }));
    edit(speaker.setWays({ count: 3, subwoofer: false }));
    expect(designSchema.safeParse(now()).error?.issues).toBeUndefined();
    expect(variant().ways.flatMap((w) => w.plans.map((p) => p.alignment))).not.toContain('custom');
  });

  test('an acoustic target goes with the outer ways, at the new crossing', () => {
    open({ count: 2, subwoofer: false });
    edit(speaker.setAim(variant().ways[0].id, { alignment: 'linkwitz-riley', order: 4 }));
    const { ways } = layOutWays(variant(), now().drivers!, { count: 3, subwoofer: false }, countingIds('l'));
    expect(ways.map((w) => w.aim && `${w.aim.response} ${w.aim.order} ${w.aim.cutoffHz}`)).toEqual([
      'lowpass 4 500',
      undefined,
      'highpass 4 3000',
    ]);
  });

  test('a passive way gets a ladder whatever it is asked to pass', () => {
    open({ count: 2, subwoofer: false });
    const [woofer] = variant().ways;
    edit(selectWay(woofer.id));
    edit(changePlan(woofer.plans[0].id, { response: 'bandpass' }));
    edit(addPlan('highpass', 40));
    expect(variant().ways[0].stages.map((s) => s.topology)).toEqual(['passive-ladder', 'passive-ladder']);
    expect(hasOpAmps()).toBe(false);
  });

  test('levelled: the loud ones are padded or trimmed to the quietest, once', () => {
    open({ count: 2, subwoofer: false });
    const able = variant().ways.map(({ id }, w) => ({ wayId: id, ableDb: [86, 89.04][w] }));
    for (let again = 0; again < 2; again++) {
      edit(speaker.levelWays(able));
      expect(variant().ways.map((w) => w.stages.map((s) => s.target).filter((t) => t.kind === 'network'))).toEqual([
        [],
        [{ kind: 'network', parameters: expect.objectContaining({ lossDb: 3, ohm: 6 }) }],
      ]);
    }
    // A difference that nobody hears is no pad's worth: from 0.3 dB on it is.
    for (const [apart, stages] of [
      [0, 1],
      [0.2, 1],
      [0.3, 2],
    ]) {
      edit(speaker.levelWays(able.map((a, w) => ({ ...a, ableDb: 88 + w * apart }))));
      expect(variant().ways[1].stages).toHaveLength(stages);
    }
    edit(speaker.setAllActive(true));
    const volts = () => {
      const built = must(compile(now(), variant(), AS_BUILT));
      const [solved] = must(new AcSolver().sweep(built.circuit, Float64Array.of(9000), [built.ways[1].output]));
      return 20 * Math.log10(Math.hypot(solved[0], solved[1]));
    };
    const before = volts();
    for (const lossDb of [3, 5.5, 0]) {
      edit(speaker.levelWays(able.map((a, w) => ({ ...a, ableDb: 86 + w * lossDb }))));
      // A trimmer of its own and what drives the amplifier from it: parts to buy, a knob to turn.
      expect(
        variant()
          .ways[1].stages.slice(-2)
          .map((s) => s.topology),
      ).toEqual(['volume-pot', 'buffer']);
      expect(variant().ways[0].stages.every((s) => s.target.kind === 'section')).toBe(true);
      expect(variant().controls.map((c) => c.name)).toEqual(['Level, Tweeter']);
      expect(volts() - before).toBeCloseTo(-lossDb, 1);
    }
    expect(variant().ways.map((w) => w.levelTrimDb)).toEqual([0, 0]);
    // Without its amplifier a way has neither, and the knob is gone.
    edit(speaker.setAllActive(false));
    expect(hasOpAmps()).toBe(false);
    expect(variant().controls).toEqual([]);
  });
});
