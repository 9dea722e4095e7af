import { C, L, R, V } from '../../circuit/build';
import type { ElementInstance } from '../../circuit/netlist';
import { assemble, type Assembled } from '../../circuit/structure';
import { must } from '../../result';
import { naturalFrequencies } from '../roots/poles';
import { runStep, settledWithin, stepFigures, stillAfter, timeToShare } from './step-response';

const circuit = (...elements: ElementInstance[]): Assembled => assemble({ elements, merged: [] });
const run = (of: Assembled, level?: number) => must(runStep(of, 'out', naturalFrequencies(of, 6e3), level));

/** A resonant circuit: source, R and L in series, C across the output. */
const resonant = (q: number, f0 = 1000): Assembled => {
  const [l, w] = [10e-3, 2 * Math.PI * f0];
  return circuit(
    V('Vin', 'in', '0', 1),
    R('R1', 'in', 'a', (w * l) / q),
    L('L1', 'a', 'out', l),
    C('C1', 'out', '0', 1 / (w * w * l)),
  );
};

/** Unit step of ω²/(s² + sω/Q + ω²), Q over a half: A. V. Oppenheim and A. S. Willsky, Signals and Systems, 6.5.2. */
const stepOf = (q: number, f0: number) => (t: number) => {
  const [w, zeta] = [2 * Math.PI * f0, 1 / (2 * q)];
  const d = w * Math.sqrt(1 - zeta * zeta);
  return 1 - Math.exp(-zeta * w * t) * (Math.cos(d * t) + (zeta / Math.sqrt(1 - zeta * zeta)) * Math.sin(d * t));
};
/** Last time outside a band about 1, by brute force on a fine grid. */
function lastOutsideOf(y: (t: number) => number, band: number, stopS: number): number {
  for (let i = 2e6; i > 0; i--) if (Math.abs(y((i * stopS) / 2e6) - 1) > band) return (i * stopS) / 2e6;
  return 0;
}

test.each([0.6, 1, Math.SQRT1_2, 5, 19.2, 180])('overshoot, settling, rise and delay at a Q of %d', (q) => {
  const [figures, y] = [stepFigures(run(resonant(q))), stepOf(q, 1000)];
  const zeta = 1 / (2 * q);
  const overshoot = 100 * Math.exp((-Math.PI * zeta) / Math.sqrt(1 - zeta * zeta));
  expect(Math.abs(figures.end!.overshootPct - overshoot)).toBeLessThan(0.02);
  expect(Math.abs(figures.peak.timeS * 2000 * Math.sqrt(1 - zeta * zeta) - 1)).toBeLessThan(1e-3);
  for (const [name, band] of [
    ['settle2PctS', 0.02],
    ['settle1PctS', 0.01],
  ] as const)
    expect(figures.end![name] / lastOutsideOf(y, band, (12 * q) / 1000)).toBeCloseTo(1, 3);
  expect(y(figures.end!.delayS)).toBeCloseTo(0.5, 4);
});

test('one time constant: delay, rise and settling are its logarithms; from another level too', () => {
  const tau = 270 * 4.7e-6;
  const rc = circuit(V('Vin', 'in', '0', 1), R('R1', 'in', 'out', 270), C('C1', 'out', '0', 4.7e-6));
  const up = run(rc, 2.5);
  const { end, peak } = stepFigures(up);
  expect(end!.overshootPct).toBeLessThan(1e-6);
  expect(end!.volts).toBeCloseTo(2.5, 9);
  expect(end!.settle2PctS / (tau * Math.log(50))).toBeCloseTo(1, 4);
  expect(end!.settle1PctS / (tau * Math.log(100))).toBeCloseTo(1, 4);
  expect(end!.riseS / (tau * Math.log(9))).toBeCloseTo(1, 4);
  expect(end!.delayS / (tau * Math.LN2)).toBeCloseTo(1, 4);
  expect(peak.volts).toBeCloseTo(2.5, 6);
  expect(timeToShare(up, 1 - Math.exp(-1))! / tau).toBeCloseTo(1, 4);
  expect(settledWithin(up, 0.01)! / (tau * Math.log(100))).toBeCloseTo(1, 4);
  expect(stillAfter(up, Math.exp(-6)) / (6 * tau)).toBeCloseTo(1, 1);
  const down = must(runStep(rc, 'out', naturalFrequencies(rc, 800), 0, up.endState));
  expect(down.volts[0]).toBeCloseTo(2.5, 4);
  expect(timeToShare(down, 1 - Math.exp(-1))! / tau).toBeCloseTo(1, 4);
});

test('a fast mode before a slow one: both are followed', () => {
  // 1 µs and 1 s apart: H = 1/(1 + s a) · s b/(1 + s b), buffered by size.
  const of = circuit(
    V('Vin', 'in', '0', 1),
    R('R1', 'in', 'm', 1),
    C('C1', 'm', '0', 1e-6),
    C('C2', 'm', 'out', 1e-6),
    R('R2', 'out', '0', 1e6),
  );
  const figures = stepFigures(must(runStep(of, 'out', naturalFrequencies(of, 1000))));
  expect(figures.end).toBeNull();
  // It peaks where both exponentials meet: near 1 of the source, some 14 fast time constants after the step.
  expect(figures.peak.volts).toBeGreaterThan(0.99998);
  expect(figures.peak.timeS).toBeGreaterThan(10e-6);
  expect(figures.peak.timeS).toBeLessThan(60e-6);
});

test('what never decays is refused', () => {
  const lossless = circuit(V('Vin', 'in', '0', 1), L('L1', 'in', 'out', 1e-3), C('C1', 'out', '0', 1e-6));
  expect(runStep(lossless, 'out', [{ re: 0, im: 3e4 }])).toMatchObject({ ok: false, code: 'never-settles' });
  expect(runStep(lossless, 'out', [{ re: -1e-6, im: 3e4 }])).toMatchObject({ ok: false, code: 'never-settles' });
});
