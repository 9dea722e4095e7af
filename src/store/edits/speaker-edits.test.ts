import 'fake-indexeddb/auto';
import { demoDesigns } from '@/core/design/demo/demo';
import { designSchema, type Design } from '@/core/design/document/schema';
import { AS_BUILT, compile } from '@/core/design/compiled/compile';
import { variantPrice } from '@/core/design/stages/price';
import { demoDrivers } from '@/core/loudspeaker/demo-drivers';
import { must } from '@/core/result';
import { documentStore, edit, openDesign, redo, undo } from '../document';
import { currentVariantOf, type Edit } from './edits';

import * as speaker from './speaker-edits';

const twoWay = demoDesigns().find((d) => d.title === 'Tone cabinet, two-way')!;
const now = (): Design => documentStore.getState().design as Design;
const variant = () => currentVariantOf(now());
const [lower, upper] = twoWay.variants[0].ways;
const [ladder] = lower.stages;
const coils = { first: { stage: lower.stages[0].id, part: 'L1' }, second: { stage: upper.stages[0].id, part: 'L1' } };

beforeEach(() => openDesign(structuredClone(twoWay)));

const all: [string, Edit][] = [
  ['another driver', speaker.takeDriver(upper.id, demoDrivers()[2])],
  ['terminals over', speaker.turnOver(upper.id)],
  ['a place', speaker.changeWay(lower.id, { position: { acrossM: 0.02, upM: -0.1, backM: 0.03 } })],
  ['an aim gone', speaker.setAim(lower.id, null)],
  ['an aim with an order it has not', speaker.setAim(lower.id, { alignment: 'linkwitz-riley', order: 3 })],
  ['another resistance', speaker.setLadderOhm(ladder.id, 5.9)],
  ['another crossing', speaker.moveCrossing(lower.id, upper.id, 2300, 2800)],
  ['another place to listen', speaker.setListening({ upDeg: 10, distanceM: 3 })],
  ['a third way', speaker.setWays({ count: 3, subwoofer: false })],
  ['a fourth', speaker.setWays({ count: 4, subwoofer: false })],
  ['one way', speaker.setWays({ count: 1, subwoofer: false })],
  ['a subwoofer', speaker.setWays({ count: 2, subwoofer: true })],
  ['an amplifier for each', speaker.setAllActive(true)],
  ['a way less', speaker.removeWay(upper.id)],
  ['an amplifier of its own', speaker.setActive(upper.id, true)],
  ['drivers in a row', speaker.setWiring('first order')],
  [
    'fitted values',
    speaker.takeFitted([
      { stage: ladder.id, part: 'L1', value: 1.5e-3 },
      { stage: upper.stages[0].id, part: 'C1', value: 6.8e-6 },
    ]),
  ],
  ['a grade', speaker.setGrade(ladder.id, 'L1', 'iron-1.2')],
  ['grades as a rule', speaker.setGrades({ capacitor: 'electrolytic' })],
  ['a pair of coils', speaker.addCoupling({ ...coils, distanceM: 0.05, turned: 'side by side' })],
  ['a driver’s own figures', speaker.changeDriver('alder-165', { safeFromHz: 45 })],
];

test.each(all)('%s: valid, compiled, undone and done again', (_, change) => {
  const before = now();
  edit(change);
  const after = now();
  expect(after).not.toEqual(before);
  expect(designSchema.safeParse(after).error?.issues).toBeUndefined();
  must(compile(after, variant(), AS_BUILT));
  undo();
  expect(now()).toEqual(before);
  redo();
  expect(now()).toEqual(after);
});

test('the crossing moves both networks and what the sound is to do', () => {
  edit(speaker.moveCrossing(lower.id, upper.id, 2300, 4600));
  for (const way of variant().ways) expect([way.plans[0].cutoffHz, way.aim?.cutoffHz]).toEqual([4600, 4600]);
});

test('into a row and back: the plans are what the sound was to do, and each way has its ladder again', () => {
  edit(speaker.setWiring('second order'));
  expect(variant().ways.map((w) => w.from.kind)).toEqual(['source', 'stage']);
  expect(variant().ways[0].stages[0].topology).toBe('series-crossover');
  edit(speaker.setWiring('parallel'));
  expect(variant().ways.map((w) => [w.from.kind, w.stages[0].topology])).toEqual([
    ['source', 'passive-ladder'],
    ['source', 'passive-ladder'],
  ]);
  expect(designSchema.safeParse(now()).success).toBe(true);
});

test('drivers that nothing uses any more leave the design; one that another variant has stays', () => {
  edit(speaker.takeDriver(upper.id, demoDrivers()[2]));
  expect(
    now()
      .drivers?.map((d) => d.id)
      .sort(),
  ).toEqual(['alder-165', 'finch-25', 'rowan-110']);
});

test('a thicker wire or a higher grade costs more, and the price of a variant says so', () => {
  const before = variantPrice(variant(), now())!;
  edit(speaker.setGrades({ capacitor: 'film-high' }));
  expect(variantPrice(variant(), now())).toBeGreaterThan(before);
  edit(speaker.setGrades({ capacitor: 'electrolytic' }));
  expect(variantPrice(variant(), now())).toBeLessThan(before);
});

describe('each change touches what it is of and nothing else', () => {
  const ways = () => variant().ways;

  test('a name, a place and a trim are one way’s', () => {
    edit(speaker.changeWay(upper.id, { name: 'Top', levelTrimDb: -2 }));
    expect(ways().map((w) => [w.name, w.levelTrimDb])).toEqual([
      [lower.name, lower.levelTrimDb],
      ['Top', -2],
    ]);
    edit(speaker.turnOver(upper.id));
    expect(ways().map((w) => w.polarity)).toEqual([lower.polarity, -upper.polarity]);
    edit(speaker.turnOver(upper.id));
    expect(ways()[1].polarity).toBe(upper.polarity);
  });

  test('a driver’s figures are its own, and a network is made for what is printed on a new one', () => {
    edit(speaker.changeDriver('finch-25', { maxWatts: 7 }));
    expect(now().drivers!.map((d) => [d.id, d.maxWatts])).toEqual(
      twoWay.drivers!.map((d) => [d.id, d.id === 'finch-25' ? 7 : d.maxWatts]),
    );
    edit(speaker.takeDriver(upper.id, { ...demoDrivers()[2], nominalOhm: 5 }));
    expect(ways()[1].stages.map((s) => s.target)).toContainEqual(expect.objectContaining({ kind: 'plan', ohm: 5 }));
    expect(ways()[0].stages.map((s) => s.target)).toContainEqual(expect.objectContaining({ kind: 'plan', ohm: 8 }));
  });

  test('a target of its own begins as the plan, has an order there is, and goes again', () => {
    edit(speaker.setAim(lower.id, null));
    edit(speaker.setAim(lower.id, { order: 3 }));
    const { aim, plans } = ways()[0];
    // A Linkwitz-Riley has even orders only: the nearest is taken.
    expect(aim).toMatchObject({ response: plans[0].response, cutoffHz: plans[0].cutoffHz, order: 2 });
    expect(aim!.topologies.whole).toBeUndefined();
    expect(ways()[1].aim).toEqual(upper.aim);
    edit(speaker.setAim(lower.id, { alignment: 'butterworth', order: 3 }));
    expect(ways()[0].aim).toMatchObject({ alignment: 'butterworth', order: 3, cutoffAt: '-3db' });
  });

  test('the last way stays; what another hangs on stays; what is removed takes its coils along', () => {
    edit(speaker.addCoupling({ ...coils, distanceM: 0.05, turned: 'side by side' }));
    edit(speaker.changeCoupling(variant().couplings![0].id, { distanceM: 0.07 }));
    expect(variant().couplings).toMatchObject([{ distanceM: 0.07, turned: 'side by side' }]);
    edit(speaker.removeWay(upper.id));
    expect(variant().couplings).toEqual([]);
    expect(ways().map((w) => w.id)).toEqual([lower.id]);
    const alone = now();
    edit(speaker.removeWay(lower.id));
    expect(now()).toBe(alone);
    undo();
    edit(speaker.setWiring('first order'));
    // Its ladders are gone, and what was said of their coils with them.
    expect(ways()[1].from).toMatchObject({ way: lower.id });
    expect(variant().couplings).toEqual([]);
    const wired = now();
    edit(speaker.removeWay(lower.id));
    expect(now()).toBe(wired);
  });

  test('a pair of coils goes with either coil’s stage, whatever takes that away', () => {
    edit(speaker.addCoupling({ ...coils, distanceM: 0.05, turned: 'side by side' }));
    edit((draft) => void (currentVariantOf(draft).ways[0].stages = []));
    expect(variant().couplings).toEqual([]);
  });

  test('with amplifiers of their own ways have sections and no ladders, and back', () => {
    edit(speaker.setActive(upper.id, true));
    expect(ways()[1].load).toMatchObject({ amplifier: { inputOhm: 22e3, gainDb: 26 } });
    expect(ways()[1].stages.map((s) => s.target.kind)).toEqual(['section', 'section']);
    expect(ways()[0].stages[0].target.kind).toBe('plan');
    edit(speaker.setActive(upper.id, false));
    expect(ways()[1].load).toMatchObject({ amplifier: null });
    expect(ways()[1].stages.map((s) => s.target)).toEqual([expect.objectContaining({ kind: 'plan', ohm: 6 })]);
  });

  test('in a row the networks are made for where the ways cross and what is printed on the lower driver', () => {
    edit(speaker.setWiring('second order'));
    const [{ stages, plans, aim }, top] = ways();
    expect(stages[0]).toMatchObject({
      topology: 'series-crossover',
      mode: 'second order',
      target: { parameters: { crossHz: lower.plans[0].cutoffHz, ohm: 8 } },
    });
    expect(plans).toEqual([]);
    expect(aim).toEqual(lower.aim);
    expect(top.from).toEqual({ kind: 'stage', way: lower.id, stage: stages[0].id, output: 'high' });
    // One of them with an amplifier of its own cannot be in the row.
    openDesign(structuredClone(twoWay));
    edit(speaker.setActive(upper.id, true));
    const before = now();
    edit(speaker.setWiring('first order'));
    expect(now()).toBe(before);
  });

  test('fitted values and grades go to their own part, and a grade as a rule takes the own one away', () => {
    edit(speaker.takeFitted([{ stage: ladder.id, part: 'L1', value: 1.5e-3 }]));
    edit(speaker.setGrade(ladder.id, 'L1', 'iron-1.2'));
    expect(ways()[0].stages[0].parts.L1).toEqual({ use: { kind: 'single', values: [1.5e-3] }, grade: 'iron-1.2' });
    expect(ways()[1].stages.map((s) => s.parts)).toEqual(upper.stages.map((s) => s.parts));
    edit(speaker.setGrade(ladder.id, 'L1', undefined));
    expect(ways()[0].stages[0].parts.L1).toEqual({ use: { kind: 'single', values: [1.5e-3] } });
    edit(speaker.setGrade(ladder.id, 'C1', 'film-high'));
    const before = ladder.parts.C1;
    edit(speaker.setGrade(ladder.id, 'C1', undefined));
    expect(ways()[0].stages[0].parts.C1).toEqual(before);
    const same = now();
    edit(speaker.setGrade('nobody', 'L1', 'iron-1.2'));
    edit(speaker.takeFitted([{ stage: 'nobody', part: 'L1', value: 1 }]));
    expect(now()).toBe(same);
  });
});
