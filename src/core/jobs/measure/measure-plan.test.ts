import { demoDesigns } from '../../design/demo/demo';
import { must } from '../../result';
import { JobRunner } from '../run-job';

const runner = new JobRunner();
const designs = demoDesigns();
const named = (part: string) => designs.find((d) => d.title.includes(part)) ?? designs[0];
const planOf = async (design: (typeof designs)[number], rateHz = 48e3) =>
  must(await runner.run<'measure-plan'>({ kind: 'measure-plan', design, variantId: design.currentVariant, rateHz }));

test('a decade to either side of the corners, within what a card can do', async () => {
  const { sweep } = await planOf(named('Swell-box'));
  // 72 Hz and 4 kHz.
  expect(sweep.fromHz).toBeCloseTo(7.2, 1);
  expect(sweep.toHz).toBeCloseTo(0.46 * 48e3, -2);
  expect((await planOf(named('Swell-box'), 96e3)).sweep.toHz).toBeCloseTo(40e3, -3);
  expect((await planOf(named('rumble'))).sweep.fromHz).toBe(5);
});

test('no louder than the stage bears that would clip first, and 6 dB under full scale', async () => {
  for (const design of designs) {
    const { sweep, clipsFirst } = await planOf(design);
    expect(sweep.levelDbfs).toBeLessThanOrEqual(-6);
    expect(sweep.levelDbfs).toBeGreaterThanOrEqual(-60);
    expect(clipsFirst === null || /^stage \d+$/.test(clipsFirst)).toBe(true);
  }
  // On a tenth of the supply a stage has less to give, and says that it is the one.
  const usual = await planOf(named('Horn preamplifier'));
  const starved = structuredClone(named('Horn preamplifier'));
  starved.brief.supply = { kind: 'dual', volts: 2 };
  const low = await planOf(starved);
  expect(low.sweep.levelDbfs).toBeLessThan(usual.sweep.levelDbfs);
  expect(low.clipsFirst).toMatch(/^stage \d+$/);
});

test('places: the output first, then the joints; of a crossover the sum, the ways and their joints', async () => {
  const filter = await planOf(named('Swell-box'));
  expect(filter.places.map((p) => p.name)).toEqual(['output', 'after stage 1', 'after stage 2', 'after stage 3']);
  const cabinet = await planOf(named('Tone cabinet, two-way'));
  expect(cabinet.places.slice(0, 3).map((p) => p.name)).toEqual(['sum', 'Woofer', 'Tweeter']);
  expect(filter.bends).toBe(false);
  expect((await planOf(named('ladder'))).bends).toBe(true);
});

test('a low corner or a high Q makes it longer, up to ten seconds', async () => {
  expect((await planOf(named('Swell-box'))).sweep.seconds).toBeGreaterThanOrEqual(2);
  for (const design of designs) {
    const { seconds } = (await planOf(design)).sweep;
    expect(seconds).toBeGreaterThanOrEqual(2);
    expect(seconds).toBeLessThanOrEqual(10);
  }
});
