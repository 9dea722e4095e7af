import fc from 'fast-check';
import { R, V } from '../circuit/build';
import { assemble } from '../circuit/structure';
import { AcSolver } from '../analysis/ac/solver';
import { must } from '../result';
import { potentiometer, rotationFor, trackShare, type Taper } from './potentiometer';

const tapers: Taper[] = ['linear', 'log', 'reverse-log'];

/** Level at the wiper of a divider across 1 V, into a load. */
function wiperVolts(taper: Taper, rotation: number, endOhm: number, loadOhm: number): number {
  const pot = potentiometer('P1', '0', 'w', 'in', { totalOhm: 10e3, taper, endOhm }, rotation);
  const circuit = assemble({
    elements: [V('Vin', 'in', '0', 1), ...pot.elements, R('RL', 'w', '0', loadOhm)],
    merged: pot.merged,
  });
  return must(new AcSolver().sweep(circuit, Float64Array.of(1000), ['w']))[0][0];
}

test.each(tapers)('%s: from nothing to everything, rising, and back by the inverse', (taper) => {
  expect([trackShare(taper, 0), trackShare(taper, 1)]).toEqual([expect.closeTo(0, 12), expect.closeTo(1, 12)]);
  fc.assert(
    fc.property(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }), (a, b) => {
      fc.pre(b - a > 1e-9);
      expect(trackShare(taper, b)).toBeGreaterThan(trackShare(taper, a));
      expect(rotationFor(taper, trackShare(taper, a))).toBeCloseTo(a, 9);
    }),
  );
});

test('half way a log track has 15 % below the wiper, a reverse-log one 85 %', () => {
  expect(trackShare('log', 0.5)).toBeCloseTo(0.15, 12);
  expect(trackShare('reverse-log', 0.5)).toBeCloseTo(0.85, 12);
});

test('as a divider: the track against its load, merged at the ends, held off them by the end resistance', () => {
  expect(wiperVolts('linear', 0.5, 0, 1e12)).toBeCloseTo(0.5, 8);
  // 5 k over 5 k with 10 k across the lower half.
  expect(wiperVolts('linear', 0.5, 0, 10e3)).toBeCloseTo(10 / 3 / (5 + 10 / 3), 9);
  expect(wiperVolts('log', 0, 0, 1e6)).toBe(0);
  expect(wiperVolts('log', 1, 0, 1e6)).toBe(1);
  expect(wiperVolts('linear', 0, 100, 1e12)).toBeCloseTo(100 / 10200, 8);
});

test('a rotation or a track that cannot be is a mistake of the caller', () => {
  const pot = { totalOhm: 1e3, taper: 'linear', endOhm: 0 } as const;
  expect(() => potentiometer('P', 'a', 'b', 'c', pot, 1.2)).toThrow('between 0 and 1');
  expect(() => potentiometer('P', 'a', 'b', 'c', { ...pot, totalOhm: 0 }, 0.5)).toThrow('positive resistance');
});
