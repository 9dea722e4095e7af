import { must } from '../../result';
import { AS_BUILT, compile } from '../compiled/compile';
import { countingIds, createPlan } from '../making/create';
import { keptParts } from './kept-parts';
import { singlePath } from '../making/single-path';
import { designWay, valuesOf } from './stage-design';
import { withTopology } from '../making/with-topology';
import { deskOf } from '../../testing/desk-of';

const makeId = countingIds('k');
const typed = (value: number, pinned = false) => ({
  use: { kind: 'single' as const, values: [value] },
  ...(pinned ? { pinned } : {}),
});

test(
  'a part of the same name that does the same, or is held, is kept; what the other circuit has not is ' + 'dropped',
  () => {
    const stage = { topology: 'first-order-passive', parts: { R1: typed(4700), C1: typed(33e-9, true), X9: typed(1) } };
    expect(keptParts(stage, 'lowpass', 'first-order-buffered', 'lowpass')).toMatchObject({ C1: typed(33e-9, true) });
    expect(keptParts(stage, 'lowpass', 'first-order-buffered', 'lowpass').X9).toBeUndefined();
    expect(keptParts(stage, 'lowpass', 'nothing-such', 'lowpass')).toEqual({});
  },
);

test('a pot stays on a section’s part that does the same, and on no part of a circuit with its own controls', () => {
  const control = { control: 'c1', kind: 'rheostat' as const, endOhm: 100, totalOhm: 1e4, mismatchPct: 0 };
  const stage = { topology: 'first-order-passive', parts: { R1: { control } } };
  expect(keptParts(stage, 'lowpass', 'first-order-buffered', 'lowpass')).toEqual({ R1: { control } });
  expect(keptParts(stage, 'lowpass', 'first-order-passive', 'highpass')).toEqual({});
  expect(keptParts({ ...stage, topology: 'pad' }, 'normal', 'twin-t', 'normal')).toEqual({});
});

test('a held capacitor stays when the whole path is built otherwise', () => {
  const design = must(singlePath({ plan: createPlan(makeId(), 'lowpass', 'butterworth', 2, 1000) }, makeId));
  const [variant] = design.variants;
  const held = {
    ...variant,
    ways: variant.ways.map((w) => ({
      ...w,
      stages: w.stages.map((s) => ({ ...s, parts: { C1: typed(33e-9, true) } })),
    })),
  };
  expect(withTopology(held, 'tow-thomas').ways[0].stages[0].parts).toEqual({ C1: typed(33e-9, true) });
});

test('two held resistors decide the gain, and the capacitors still put the corners where they are wanted', () => {
  const design = must(
    singlePath(
      { topology: 'shaped-amplifier-non-inverting', form: 'both', wanted: { gainDb: 24, bottomHz: 70, topHz: 8000 } },
      makeId,
    ),
  );
  const way = design.variants[0].ways[0];
  const stage = { ...way.stages[0], parts: { Rf: typed(82e3, true), Ri: typed(3900, true) } };
  const [built] = must(designWay({ ...way, stages: [stage] }, design, [])).stages;
  const { Rf, Ri, Cf, Ci } = valuesOf(built, 'exact');
  expect([Rf, Ri]).toEqual([82e3, 3900]);
  expect(1 / (2 * Math.PI * Rf * Cf)).toBeCloseTo(8000, 3);
  expect(1 / (2 * Math.PI * Ri * Ci)).toBeCloseTo(70, 6);
});

test(
  'a bypassed plan takes no part: ideal, marks and handles are those of what stands; an empty path is ' + 'a wire',
  () => {
    const beside = must(singlePath({ topology: 'wah-inductor' }, makeId));
    const planned = must(
      singlePath(
        {
          plan: { ...createPlan(makeId(), 'lowpass', 'butterworth', 2, 300), gainDb: -6 },
          topology: 'multiple-feedback',
        },
        makeId,
      ),
    );
    const desk = deskOf;
    const alone = desk(beside);
    const [variant] = beside.variants;
    const [way] = variant.ways;
    const [plan] = planned.variants[0].ways;
    const both = {
      ...beside,
      variants: [
        {
          ...variant,
          ways: [
            {
              ...way,
              plans: plan.plans,
              stages: [...plan.stages.map((s) => ({ ...s, bypassed: true })), ...way.stages],
            },
          ],
        },
      ],
    };
    const together = desk(both);
    expect(together.ideal.levelDb).toEqual(alone.ideal.levelDb);
    expect(together.marks).toEqual(alone.marks);
    expect([together.handles, together.worstErrorDb, together.askedDb]).toEqual([
      [],
      alone.worstErrorDb,
      alone.askedDb,
    ]);
    const empty = {
      ...beside,
      brief: { ...beside.brief, source: { name: '', ohm: 0 } },
      variants: [{ ...variant, ways: [{ ...way, stages: [] }] }],
    };
    must(compile(empty, empty.variants[0], AS_BUILT));
    const wire = desk(empty);
    expect(wire.marks).toEqual([]);
    expect(wire.passLevelDb).toBeCloseTo(0, 9);
    expect(wire.checks.filter((c) => c.level === 'bad')).toEqual([]);
  },
);
