import fc from 'fast-check';
import { nearestPair } from './pairs';
import { nearestPreferred } from './preferred';

test('a pair comes nearer than one part, or as near, and is what its two parts make', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 100, max: 1e6, noNaN: true }),
      fc.constantFrom('E12' as const, 'E24' as const),
      fc.constantFrom('resistor' as const, 'capacitor' as const),
      (wanted, series, kind) => {
        const pair = nearestPair(wanted, series, kind);
        const [a, b] = pair.values;
        const adds = (pair.kind === 'series') === (kind === 'resistor');
        expect(pair.value).toBeCloseTo(adds ? a + b : 1 / (1 / a + 1 / b), 6);
        expect([nearestPreferred(a, series), nearestPreferred(b, series)]).toEqual([a, b]);
        // A pair of E12 is never more than two per cent off; the equal ones cost at most a twentieth of a per cent of
        // that.
        expect(Math.abs(pair.value / wanted - 1)).toBeLessThan(0.02);
      },
    ),
  );
});

test('doubles and halves are two equal parts', () => {
  expect(nearestPair(20e3, 'E12', 'resistor').values).toEqual([10e3, 10e3]);
  expect(nearestPair(5e3, 'E12', 'resistor')).toMatchObject({
    kind: 'parallel',
    values: [10e3, 10e3],
  });
  expect(nearestPair(44e-9, 'E6', 'capacitor')).toMatchObject({
    kind: 'parallel',
    values: [22e-9, 22e-9],
  });
  expect(nearestPair(11.25e3, 'E12', 'resistor').value).toBeCloseTo(11.25e3, 0);
});
