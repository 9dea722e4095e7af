import { BATTERIES, discharge, voltsAfter } from './batteries';

const alkaline = BATTERIES[0];

test('curves fall all the way, from nothing used to all of it', () => {
  for (const { curve } of BATTERIES) {
    expect([curve[0][0], curve[curve.length - 1][0]]).toEqual([0, 1]);
    for (let i = 1; i < curve.length; i++) {
      expect(curve[i][0]).toBeGreaterThan(curve[i - 1][0]);
      expect(curve[i][1]).toBeLessThan(curve[i - 1][1]);
    }
  }
  expect(voltsAfter(alkaline, 0.2, 9)).toBeCloseTo(8.3, 9);
  expect(voltsAfter(alkaline, 0.2, 18)).toBeCloseTo(16.6, 9);
  expect(voltsAfter(alkaline, 2, 9)).toBeCloseTo(4.8, 9);
});

test('an even 5 mA takes half an ampere-hour in a hundred hours; what needs 7 V stops at seven tenths of them', () => {
  const even = [{ volts: 9, amps: 5e-3 }];
  const whole = discharge(alkaline, 9, even, null);
  expect(whole.hours[whole.hours.length - 1]).toBeCloseTo(100, 6);
  expect(whole.stopped).toBe(false);
  const cut = discharge(alkaline, 9, even, 7);
  expect(cut.stopped).toBe(true);
  expect(cut.hours[cut.hours.length - 1]).toBeCloseTo(70, 6);
});

test('what draws less as the volts fall lasts longer: by the mean of what it draws', () => {
  // In proportion to its volts, as a resistor does: the time is the charge over the amperes, summed along the curve.
  const resistor = [
    { volts: 9, amps: 9e-3 },
    { volts: 4.5, amps: 4.5e-3 },
  ];
  const found = discharge(alkaline, 9, resistor, null);
  let hours = 0;
  for (let k = 0; k < 10000; k++)
    hours += alkaline.ampereHours / 10000 / (voltsAfter(alkaline, (k + 0.5) / 10000, 9) * 1e-3);
  expect(found.hours[found.hours.length - 1] / hours).toBeCloseTo(1, 3);
});
