import { must } from '../result';
import { CALCULATORS } from './calculators';

const calculator = (id: string) => CALCULATORS.find((c) => c.id === id)!;
const answers = (id: string, given: Record<string, number | null>) =>
  must(calculator(id).compute(given)).map((o) => o.value);

/** By hand, from the formulas' textbook forms. */
const SUMS: [string, Record<string, number | null>, number[]][] = [
  ['time-constant', { t: null, R: 47e3, C: 2.2e-6 }, [0.1034]],
  ['time-constant', { t: 0.1034, R: null, C: 2.2e-6 }, [47e3]],
  ['decibels', { db: 6, ratio: null }, [6, 1.99526, 3.98107]],
  ['decibels', { db: null, ratio: 10 }, [20, 10, 100]],
  ['parallel-series', { a: 10e3, b: 15e3 }, [6000, 25e3]],
  ['capacitors-together', { a: 10e-9, b: 15e-9 }, [25e-9, 6e-9]],
  ['divider', { db: null, R1: 9e3, R2: 1e3 }, [20]],
  ['divider', { db: 20, R1: 9e3, R2: null }, [1e3]],
  ['pad', { db: 6, Z: 8 }, [3.9905, 8.0381]],
  ['preferred-resistor', { R: 11.25e3 }, [12e3, 11e3, 11.3e3]],
  ['preferred-capacitor', { C: 14.1e-9 }, [15e-9, 15e-9]],
  // √(4 k T R B) at 293.15 K.
  ['resistor-noise', { R: 10e3, B: 20e3 }, [1.79943e-6, 1.27239e-8, -114.897]],
  ['intervals', { a: 440, b: 660 }, [0.584963, 701.955, 1.5]],
];
test.each(SUMS)('%s of %j', (id, given, wanted) => {
  const got = answers(id, given);
  wanted.forEach((v, i) => expect(got[i] / v).toBeCloseTo(1, 4));
});

test.each(CALCULATORS.map((c) => [c.id] as const))('%s says how many numbers it wants when it has none', (id) => {
  const { inputs, compute } = calculator(id);
  const result = compute(Object.fromEntries(inputs.map((i) => [i.name, null])));
  expect(result).toMatchObject({ ok: false, code: 'needs-more' });
  expect(Number(!result.ok && result.data.wanted)).toBeGreaterThan(0);
});

test('corners and reactances are found whichever number is left out', () => {
  for (const id of ['rc-corner', 'lc-corner', 'time-constant', 'divider']) {
    const { inputs } = calculator(id);
    const given: Record<string, number | null> = Object.fromEntries(inputs.map((i) => [i.name, i.initial]));
    const empty = inputs.find((i) => i.initial === null)!;
    given[empty.name] = answers(id, given)[0];
    for (const { name } of inputs)
      expect(answers(id, { ...given, [name]: null })[0] / (given[name] as number)).toBeCloseTo(1, 9);
  }
});

test('what cannot be says why', () => {
  expect(calculator('decibels').compute({ db: null, ratio: -1 })).toMatchObject({
    code: 'out-of-range',
    data: { why: expect.stringContaining('above zero') },
  });
  expect(calculator('divider').compute({ db: -3, R1: 1e3, R2: null })).toMatchObject({
    code: 'out-of-range',
  });
  expect(calculator('pad').compute({ db: 0, Z: 8 })).toMatchObject({ code: 'out-of-range' });
});

test('a parallel pair is made of what can be bought and comes nearer than one part', () => {
  for (const wanted of [11.25e3, 347, 1.234e6, 7.77]) {
    const out = must(calculator('parallel-pair').compute({ R: wanted }));
    const together = out.find((o) => o.pair)!;
    const [a, b] = together.pair!.values;
    expect(1 / (1 / a + 1 / b)).toBeCloseTo(together.value, 9);
    const [, nearestOfE24] = answers('preferred-resistor', { R: wanted });
    expect(Math.abs(together.value / wanted - 1)).toBeLessThanOrEqual(Math.abs(nearestOfE24 / wanted - 1));
  }
});
