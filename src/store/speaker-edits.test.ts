import 'fake-indexeddb/auto';
import { demoDesigns } from '@/core/design/demo';
import { designSchema, type Design } from '@/core/design/schema';
import { AS_BUILT, compile } from '@/core/design/compile';
import { variantPrice } from '@/core/design/price';
import { demoDrivers } from '@/core/loudspeaker/demo-drivers';
import { must } from '@/core/result';
import { documentStore, edit, openDesign, redo, undo } from './document';
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
