import { assemble, type Assembled } from '../../circuit/structure';
import { C, L, R } from '../../circuit/build';
import { diode } from '../../circuit/elements/diode';
import { limitedOpAmp } from '../../circuit/elements/op-amp';
import { optocoupler } from '../../circuit/elements/optocoupler';
import type { ElementInstance, Wave } from '../../circuit/netlist';
import { piecewiseWave, pulseWave, sineWave } from '../../circuit/waves';
import { must } from '../../result';
import { NPN, source } from '../../testing/circuits';
import { linearise } from '../rest/linearise';
import { operatingPoint } from '../rest/operating-point';
import { AcSolver } from '../ac/solver';
import { transient } from './transient';

function run(
  elements: ElementInstance[] | Assembled,
  node: string,
  stopS: number,
  stepS: number,
): { t: Float64Array; v: Float64Array } {
  const circuit = Array.isArray(elements) ? assemble({ elements, merged: [] }) : elements;
  const { timeS, unknowns } = must(transient(circuit, { stopS, stepS }));
  const [n, at] = [circuit.structure.size, circuit.structure.nodeOf(node) as number];
  return { t: timeS, v: timeS.map((_, i) => unknowns[i * n + at]) };
}
const drive = (wave: Wave) => source('V', 'in', '0', { wave }, 1);
/** Largest distance from a function of time. */
const distance = ({ t, v }: { t: Float64Array; v: Float64Array }, f: (t: number) => number) =>
  Math.max(...Array.from(t, (time, i) => Math.abs(v[i] - f(time))));

test('waves: values and corners', () => {
  const pulse = pulseWave(1, 3, 1, 0.5, 0.25, 2, 5);
  expect([0, 1, 1.25, 1.5, 3.5, 3.625, 3.75, 6.25].map(pulse.at)).toEqual([1, 1, 2, 3, 3, 2, 1, 2]);
  expect(pulse.breakpoints(7)).toEqual([1, 1.5, 3.5, 3.75, 6, 6.5]);
  const lines = piecewiseWave([
    [1, 0],
    [2, 4],
    [2, 1],
    [4, 3],
  ]);
  expect([0, 1.5, 2, 3, 9].map(lines.at)).toEqual([0, 2, 1, 2, 3]);
  expect(sineWave(1, 2, 10, 0.1, 3, 90).at(0)).toBe(3);
  expect(sineWave(1, 2, 10, 0.1, 3).at(0.125)).toBeCloseTo(1 + 2 * Math.exp(-0.075), 12);
});

test('an RC charges by 1 − e^(−t/RC), from a jump and from a steep edge', () => {
  const tau = 1e-3;
  const rc = (wave: Wave) => [drive(wave), R('R', 'in', 'out', 1e3), C('C', 'out', '0', 1e-6)];
  expect(
    distance(run(rc(pulseWave(0, 1, 0, 0, 0, 1, Infinity)), 'out', 5e-3, 1e-4), (t) => 1 - Math.exp(-t / tau)),
  ).toBeLessThan(1e-6);
  const late = (t: number) => (t < 1e-3 ? 0 : 1 - Math.exp(-(t - 1e-3) / tau));
  expect(distance(run(rc(pulseWave(0, 1, 1e-3, 1e-9, 1e-9, 1, Infinity)), 'out', 5e-3, 1e-4), late)).toBeLessThan(2e-6);
});

test('fifty cycles of ringing keep their phase', () => {
  const [r, l, c] = [1, 10e-3, 1e-6];
  const [alpha, omega0] = [r / (2 * l), 1 / Math.sqrt(l * c)];
  const omega = Math.sqrt(omega0 ** 2 - alpha ** 2);
  const ring = run(
    [drive(pulseWave(0, 1, 0, 0, 0, 1, Infinity)), R('R', 'in', 'a', r), L('L', 'a', 'out', l), C('C', 'out', '0', c)],
    'out',
    (50 * 2 * Math.PI) / omega,
    2e-5,
  );
  expect(
    distance(ring, (t) => 1 - Math.exp(-alpha * t) * (Math.cos(omega * t) + (alpha / omega) * Math.sin(omega * t))),
  ).toBeLessThan(3e-4);
});

test('a settled sine has the level and phase of the AC response', () => {
  const elements = [
    drive(sineWave(0, 1, 1000)),
    R('R1', 'in', 'a', 1e3),
    C('C1', 'a', '0', 1e-7),
    R('R2', 'a', 'b', 2e3),
    L('L1', 'b', 'out', 0.1),
    R('R3', 'out', '0', 1e3),
    C('C3', 'out', '0', 5e-8),
  ];
  const circuit = assemble({ elements, merged: [] });
  const [h] = must(new AcSolver().sweep(circuit, Float64Array.of(1000), ['out']));
  const { t, v } = run(circuit, 'out', 20e-3, 1e-5);
  for (let i = t.length - 200; i < t.length; i++) {
    const angle = 2 * Math.PI * 1000 * t[i];
    expect(v[i]).toBeCloseTo(h[0] * Math.sin(angle) + h[1] * Math.cos(angle), 5);
  }
});

test('a transistor amplifier at a tenth of a millivolt does what its small-signal circuit does', () => {
  const level = 1e-4;
  const circuit = assemble({
    elements: [
      source('Vcc', 'vcc', '0', { dc: 12 }),
      source('V', 'in', '0', { wave: sineWave(0, level, 1000) }, 1),
      C('Cin', 'in', 'b', 1e-6),
      R('R1', 'vcc', 'b', 47e3),
      R('R2', 'b', '0', 10e3),
      R('RC', 'vcc', 'c', 4.7e3),
      R('RE', 'e', '0', 1e3),
      NPN('Q', 'c', 'b', 'e'),
      C('CC', 'c', 'out', 1e-6),
      R('RL', 'out', '0', 10e3),
    ],
    merged: [],
  });
  const rest = must(operatingPoint(circuit));
  const [h] = must(new AcSolver().sweep(linearise(circuit, rest), Float64Array.of(1000), ['c']));
  const { t, v } = run(circuit, 'c', 0.1, 5e-5);
  const dc = rest[circuit.structure.nodeOf('c') as number];
  for (let i = t.length - 20; i < t.length; i++) {
    const angle = 2 * Math.PI * 1000 * t[i];
    expect((v[i] - dc) / level).toBeCloseTo(h[0] * Math.sin(angle) + h[1] * Math.cos(angle), 2);
  }
});

test('a peak rectifier holds the peak less a diode, and droops between', () => {
  const { t, v } = run(
    [
      drive(sineWave(0, 5, 1000)),
      { name: 'D', definition: diode, nodes: ['in', 'out'], values: [1e-12, 1.5, 0] },
      R('R', 'out', '0', 1e5),
      C('C', 'out', '0', 1e-6),
    ],
    'out',
    10e-3,
    1e-5,
  );
  const last = v.subarray(v.length - 100);
  expect(Math.max(...last)).toBeGreaterThan(4.2);
  // Between peaks the capacitor alone feeds the resistor: e^(−Δt/RC).
  const [i, j] = [t.length - 60, t.length - 20];
  expect(v[j] / v[i]).toBeCloseTo(Math.exp(-(t[j] - t[i]) / 0.1), 5);
});

test('an op-amp slews at its rate and stops at its swing', () => {
  const { t, v } = run(
    [
      drive(pulseWave(0, 8, 1e-6, 0, 0, 1, Infinity)),
      {
        name: 'U',
        definition: limitedOpAmp,
        nodes: ['in', 'out', 'out', 'pole'],
        values: [1e5, 2e7, 1e6, 5, -5, 0, 0, 0, 0],
      },
      R('RL', 'out', '0', 1e4),
    ],
    'out',
    10e-6,
    1e-7,
  );
  const at = (time: number) => v[Math.round(time / 1e-7)];
  expect((at(4e-6) - at(2e-6)) / 2e-6 / 1e6).toBeCloseTo(1, 3);
  expect(at(9e-6)).toBeCloseTo(5, 2);
  expect(t[100]).toBeCloseTo(1e-5, 15);
});

test('a photocell rises quickly and falls slowly', () => {
  const cell = {
    name: 'O',
    definition: optocoupler,
    nodes: ['lamp', '0', 'cell', '0', 'light'],
    values: [1e-18, 2, 2e3, 0.8, 1e7, 1e-3, 2e-2],
  };
  const { t, v } = run(
    [
      drive(pulseWave(0, 5, 0, 0, 0, 10e-3, Infinity)),
      R('R1', 'in', 'lamp', 1e3),
      cell,
      source('Vc', 'top', '0', { dc: 1 }),
      R('R2', 'top', 'cell', 1e3),
    ],
    'light',
    50e-3,
    1e-4,
  );
  const at = (time: number) => v[Math.round(time / 1e-4)];
  const full = at(10e-3);
  expect(at(1e-3) / full).toBeCloseTo(1 - Math.exp(-1), 3);
  expect(at(30e-3) / full).toBeCloseTo(Math.exp(-1), 2);
  expect(t).toHaveLength(501);
});

test('too many points, and a run that is called off, say so', () => {
  const circuit = assemble({
    elements: [drive(sineWave(0, 1, 1)), R('R', 'in', '0', 1)],
    merged: [],
  });
  expect(transient(circuit, { stopS: 1, stepS: 1e-9 })).toMatchObject({
    ok: false,
    code: 'too-many-points',
  });
  expect(transient(circuit, { stopS: 1, stepS: 1e-3, cancelled: (t) => t > 0.1 })).toMatchObject({
    ok: false,
    code: 'cancelled',
  });
});
