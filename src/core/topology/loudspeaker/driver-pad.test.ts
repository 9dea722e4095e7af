import { driverPad } from './driver-pad';

/** Where a line of the working says something, its figure. */
const figure = (form: string, values: Record<string, number>, wanted: Record<string, number>, says: string): number => {
  const line = driverPad.working(form, values, wanted).find((l) => l.says.startsWith(says));
  return Number(/[\d.]+/.exec(line!.value)![0]);
};

test('a bypass capacitor lifts 10 and 20 kHz by what the divider of impedances says', () => {
  const [R1, R2, C1, ohm] = [3.9, 8.2, 1.5e-6, 6];
  const leg = (R2 * ohm) / (R2 + ohm);
  for (const hz of [10e3, 20e3]) {
    // R1 beside C1: 1/(1/R1 + jωC1); its parts by real and imaginary share.
    const g = 1 / R1;
    const b = 2 * Math.PI * hz * C1;
    const [re, im] = [g / (g * g + b * b), -b / (g * g + b * b)];
    const lift = 20 * Math.log10(leg / Math.hypot(leg + re, im) / (leg / (leg + R1)));
    const says = `lift at ${hz / 1000}`;
    expect(figure('two resistors, top lifted', { R1, R2, C1 }, { lossDb: 4, ohm, liftHz: 9000 }, says)).toBeCloseTo(
      lift,
      1,
    );
  }
});

test.each([
  [2, 6],
  [4, 4],
  [8, 2],
])('of %d V across %d ohm each leg takes its volts by its amperes', (R1, R2) => {
  const ohm = 8;
  const leg = (R2 * ohm) / (R2 + ohm);
  const amps = 1 / (R1 + leg);
  const whole = amps ** 2 * (R1 + leg);
  const wanted = { lossDb: 4, ohm };
  expect(figure('two resistors', { R1, R2 }, wanted, 'of the power, in line')).toBeCloseTo(
    (100 * amps ** 2 * R1) / whole,
    1,
  );
  expect(figure('two resistors', { R1, R2 }, wanted, 'of the power, across')).toBeCloseTo(
    (100 * (amps * leg) ** 2) / R2 / whole,
    1,
  );
});

test('a pot in place of either leg reaches a few decibels, not decades', () => {
  for (const form of driverPad.modes)
    for (const spec of driverPad.parts(form).filter((p) => p.kind === 'resistor')) expect(spec.potReach).toBe(2.5);
});
