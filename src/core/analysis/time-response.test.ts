import { C, L, R, V } from '../circuit/build';
import { assemble } from '../circuit/structure';
import { must } from '../result';
import { squareWave, stepWave, timeResponse } from './time-response';

const rc = assemble({
  elements: [V('Vin', 'in', '0', 1), R('R1', 'in', 'out', 1e3), C('C1', 'out', '0', 1e-6)],
  merged: [],
});

test('the step response of an RC is 1 − exp(−t/RC)', () => {
  const out = must(timeResponse(rc, 'out', stepWave, 5e-3, 201));
  out.forEach((v, i) =>
    expect(Math.abs(v - (1 - Math.exp((-i * 5e-3) / 200 / 1e-3)))).toBeLessThan(1e-4),
  );
});

test('a high-pass passes the edge whole', () => {
  const cr = assemble({
    elements: [V('Vin', 'in', '0', 1), C('C1', 'in', 'out', 1e-6), R('R1', 'out', '0', 1e3)],
    merged: [],
  });
  const out = must(timeResponse(cr, 'out', stepWave, 5e-3, 201));
  out.forEach((v, i) =>
    expect(Math.abs(v - Math.exp((-i * 5e-3) / 200 / 1e-3))).toBeLessThan(1e-3),
  );
});

test('a series LCR rings as its closed form says', () => {
  const [l, c, r] = [10e-3, 1e-6, 20];
  const circuit = assemble({
    elements: [
      V('Vin', 'in', '0', 1),
      R('R', 'in', 'a', r),
      L('L', 'a', 'b', l),
      C('C', 'b', '0', c),
    ],
    merged: [],
  });
  const [alpha, omega0] = [r / (2 * l), 1 / Math.sqrt(l * c)];
  const omega = Math.sqrt(omega0 ** 2 - alpha ** 2);
  const out = must(timeResponse(circuit, 'b', stepWave, 4e-3, 401, 8));
  out.forEach((v, i) => {
    const t = (i * 4e-3) / 400;
    expect(
      Math.abs(
        v -
          (1 -
            Math.exp(-alpha * t) * (Math.cos(omega * t) + (alpha / omega) * Math.sin(omega * t))),
      ),
    ).toBeLessThan(2e-3);
  });
});

test('a square wave through an RC settles into the exponentials between its edges', () => {
  const freq = 250;
  const stop = 5 / freq;
  const out = must(timeResponse(rc, 'out', squareWave(freq, stop), stop, 1001));
  const edge = Math.tanh(1 / freq / 4 / 1e-3);
  // At every falling edge of the steady state the output has reached tanh(T/4τ).
  expect(out[900]).toBeCloseTo(edge, 2);
  expect(out[1000]).toBeCloseTo(-edge, 2);
});

test('an unknown node is a failure', () =>
  expect(timeResponse(rc, 'nowhere', stepWave, 1, 10)).toMatchObject({ code: 'no-such-node' }));
