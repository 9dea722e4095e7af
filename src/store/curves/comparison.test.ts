import { demoDesigns } from '@/core/design/demo/demo';
import { runDesk } from '@/core/jobs/desk/desk';
import { AcSolver } from '@/core/analysis/ac/solver';
import { must } from '@/core/result';
import { comparisonOf } from './comparison';
import { csvOfView } from './view-csv';

const [rumble, , band] = demoDesigns();
const deskOf = (design: typeof band, ghostVariantId: string | null) =>
  must(
    runDesk(
      {
        kind: 'desk',
        design,
        variantId: design.currentVariant,
        ghostVariantId,
        grid: { fromHz: 5, toHz: 50e3, points: 201 },
      },
      new AcSolver(),
    ),
  );
const desk = deskOf(band, band.variants[1].id);
const sources = { desk, measurements: [], ownName: 'A', ghostName: 'B' };
const USUAL = { first: null, second: null };
/** 3 dB under what was asked for, over the two decades about 500 Hz only. */
const kept = [
  {
    id: 'k1',
    name: 'before lunch',
    hidden: true,
    freqHz: [50, 500, 5000],
    levelDb: [50, 500, 5000].map(() => -3),
    phaseDeg: [0, 0, 0],
    delayS: [0, 0, 0],
  },
];

test('without a choice it is the one as built less the ideal, whatever else is shown', () => {
  const usual = comparisonOf(sources, USUAL)!;
  expect([usual.first.key, usual.second.key]).toEqual(['asBuilt', 'ideal']);
  usual.differenceDb.forEach((d, i) => expect(d).toBeCloseTo(desk.asBuilt.levelDb[i] - desk.ideal.levelDb[i], 9));
  const alone = comparisonOf({ ...sources, desk: deskOf(rumble, null), ghostName: undefined }, USUAL)!;
  expect(alone.second.key).toBe('ideal');
});

test('any two: hidden kept ones too, over the frequencies that both have', () => {
  const two = comparisonOf({ ...sources, kept }, { first: 'ideal', second: 'k1' })!;
  expect(two.first.name).toBe('ideal');
  expect(two.second.name).toBe('before lunch');
  desk.freqHz.forEach((f, i) => {
    if (f < 50 || f > 5000) expect(two.differenceDb[i]).toBeNaN();
    else expect(two.differenceDb[i]).toBeCloseTo(desk.ideal.levelDb[i] + 3, 9);
  });
  const back = comparisonOf({ ...sources, kept }, { first: 'k1', second: 'ideal' })!;
  expect(Array.from(back.freqHz)).toEqual([50, 500, 5000]);
  expect(back.differenceDb[1]).toBeCloseTo(
    -3 - desk.ideal.levelDb[Math.round(desk.freqHz.findIndex((f) => f > 499))],
    1,
  );
});

test('what was chosen and is gone, or is the same twice, gives way to the usual', () => {
  expect(comparisonOf(sources, { first: 'k1', second: 'ghost' })!.first.key).toBe('asBuilt');
  expect(comparisonOf(sources, { first: 'ghost', second: 'ghost' })!.second.key).not.toBe('ghost');
});

test('a curve that is about one stage names it', () => {
  const [stage] = desk.stages;
  const bare = { ...desk.ideal, stageId: stage.id };
  const { second } = comparisonOf({ ...sources, desk: { ...desk, bare } }, { first: null, second: 'bare' })!;
  expect(second.name).toBe(`${stage.name} without its capacitors`);
});

test('it is written as a table of its own', () => {
  const none = { desk, acoustics: null, time: null, angles: null, decay: null };
  const csv = csvOfView('difference', { ...none, comparison: comparisonOf(sources, USUAL) })!;
  const [header, first] = csv.split(/\r?\n/);
  expect(header).toBe('frequency_hz,a_as_built_less_ideal_db');
  const [f, d] = first.split(',').map(Number);
  expect(f).toBe(5);
  expect(d).toBeCloseTo(desk.asBuilt.levelDb[0] - desk.ideal.levelDb[0], 4);
  expect(csvOfView('difference', { ...none, comparison: null })).toBeNull();
});
