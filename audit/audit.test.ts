import { DenseNetlist } from './dense-netlist';
import { auditCase, tableOf } from './audit';
import { isOff } from './checks';

const CASES = process.env.JAUNTY_REED_LONG ? 2000 : 10;

test(`of ${CASES} designs drawn at random every figure agrees with its second method`, async () => {
  const cases = [];
  for (let seed = 1; seed <= CASES; seed++) cases.push(await auditCase(seed));
  const failed = cases.flatMap((c) => c.findings.filter(isOff).map((f) => ({ words: c.drawn.words.join(' '), ...f })));
  expect(failed).toEqual([]);
  expect(tableOf(cases).length).toBeGreaterThan(8);
  expect(cases.filter((c) => c.refused !== null).length).toBeLessThan(CASES / 4);
}, 7_200_000);

describe('the second method itself', () => {
  const rc = new DenseNetlist('rc\nVin in 0 AC 1 0\nR1 in out 1000\nC1 out 0 1e-6\n.end\n');

  test('solves a corner, its noise and its step as the textbook has them', () => {
    expect(rc.levelDb(1 / (2 * Math.PI * 1e-3))).toBeCloseTo(10 * Math.log10(0.5), 9);
    expect(rc.step(1e-3, 160)).toBeCloseTo(1 - Math.exp(-1), 5);
    // 4kTR far below the corner.
    expect(rc.noiseDensity(0.01) / (4 * 1.380649e-23 * 300.15 * 1000)).toBeCloseTo(1, 6);
  });

  test('finds a figure that is off', () => {
    expect(isOff({ figure: 'f', said: 1, found: 1.1, within: 0.05 })).toBe(true);
    expect(isOff({ figure: 'f', said: NaN, found: 1, within: 0.05 })).toBe(true);
    expect(isOff({ figure: 'f', said: 1, found: 1.01, within: 0.05 })).toBe(false);
  });
});
