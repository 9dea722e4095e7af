import { assemble } from '../../circuit/structure';
import { C, L, R } from '../../circuit/build';
import { diode } from '../../circuit/elements/diode';
import { must } from '../../result';
import { sineWave } from '../../circuit/waves';
import { relaxationOscillator, source, transistorLadder } from '../../testing/circuits';
import { interpretedRunner } from './interpreted-sound';
import { compiledRunner } from './sound';
import type { SampleRunner } from './sound-runner';
import { AcSolver } from '../ac/solver';
import { transient } from '../time/transient';

const RATE = 96_000;

function play(
  runner: SampleRunner,
  inputs: readonly ((t: number) => number)[],
  count: number,
  outputs = 1,
  rate = RATE,
): Float64Array[] {
  const input = inputs.map((f) => Float64Array.from({ length: count }, (_, i) => f((i + 1) / rate)));
  const output = Array.from({ length: outputs }, () => new Float64Array(count));
  runner.process(input, output, count);
  return output;
}
const tone = (level: number, f: number) => (t: number) => level * Math.sin(2 * Math.PI * f * t);

test('the compiled ladder and the interpreted one play the same samples with the same iterations', () => {
  const circuit = transistorLadder();
  const wanted = ['a4', 'd4'].map((node) => circuit.structure.nodeOf(node) as number);
  const [quick, plain] = [
    must(compiledRunner(circuit, { sampleRateHz: RATE, wanted })),
    must(interpretedRunner(circuit, { sampleRateHz: RATE, wanted })),
  ];
  const inputs = [() => 12, () => -12, (t: number) => tone(2, 300)(t) + (t > 0.005 ? 1 : 0)];
  const [a, b] = [play(quick, inputs, 1500, 2), play(plain, inputs, 1500, 2)];
  a.forEach((channel, c) => channel.forEach((v, i) => expect(Math.abs(v - b[c][i])).toBeLessThan(1e-9)));
  expect(quick.iterations).toBe(plain.iterations);
  expect(quick.unsettled).toBe(0);
  expect(quick.iterations / 1500).toBeLessThan(3);
});

test.each([
  ['compiled', compiledRunner],
  ['interpreted', interpretedRunner],
] as const)('%s, it begins again from its rest, whatever was played before', (_, make) => {
  const circuit = transistorLadder();
  const runner = must(make(circuit, { sampleRateHz: RATE, wanted: [circuit.structure.nodeOf('a4') as number] }));
  const inputs = [() => 12, () => -12, tone(1, 500)];
  const [first] = play(runner, inputs, 60).map((wave) => wave.slice());
  const [on] = play(runner, inputs, 60);
  expect([...on]).not.toEqual([...first]);
  runner.restart();
  expect([...play(runner, inputs, 60)[0]]).toEqual([...first]);
});

test('the ladder sample by sample is the ladder of the adaptive transient', () => {
  const circuit = transistorLadder(sineWave(0, 1, 500));
  const wanted = [circuit.structure.nodeOf('a4') as number];
  const [sound] = play(
    must(compiledRunner(circuit, { sampleRateHz: RATE, wanted })),
    [() => 12, () => -12, tone(1, 500)],
    480,
  );
  const exact = must(transient(circuit, { stopS: 480 / RATE, stepS: 1 / RATE }));
  const n = circuit.structure.size;
  const swing = Math.max(...sound) - Math.min(...sound);
  expect(swing).toBeGreaterThan(0.01);
  sound.forEach((v, i) => expect(Math.abs(v - exact.unknowns[(i + 1) * n + wanted[0]])).toBeLessThan(2e-3 * swing));
});

test('a linear filter at a low frequency has the level of its AC response', () => {
  const circuit = assemble({
    elements: [
      source('V', 'in', '0', { dc: 0 }, 1),
      R('R', 'in', 'a', 1e3),
      L('L', 'a', 'out', 0.05),
      C('C', 'out', '0', 1e-7),
      R('RL', 'out', '0', 5e3),
    ],
    merged: [],
  });
  const wanted = [circuit.structure.nodeOf('out') as number];
  const [h] = must(new AcSolver().sweep(circuit, Float64Array.of(1000), ['out']));
  const [out] = play(must(compiledRunner(circuit, { sampleRateHz: RATE, wanted })), [tone(1, 1000)], 9600);
  expect(Math.max(...out.subarray(4800))).toBeCloseTo(Math.hypot(h[0], h[1]), 2);
});

test('part values can move while it plays, and one that was zero asks for a new runner', () => {
  const circuit = assemble({
    elements: [
      source('V', 'in', '0', { dc: 0 }),
      R('R1', 'in', 'out', 1e3),
      R('R2', 'out', '0', 1e3),
      { name: 'D', definition: diode, nodes: ['out', '0'], values: [1e-14, 1, 0] },
    ],
    merged: [],
  });
  const wanted = [circuit.structure.nodeOf('out') as number];
  for (const make of [compiledRunner, interpretedRunner]) {
    const runner = must(make(circuit, { sampleRateHz: RATE, wanted }));
    expect(play(runner, [() => 0.2], 3)[0][2]).toBeCloseTo(0.1, 6);
    const values = circuit.values.slice();
    values[circuit.structure.slotOf('R2') as number] = 3e3;
    expect(runner.setValues(values)).toBe(true);
    expect(play(runner, [() => 0.2], 3)[0][2]).toBeCloseTo(0.15, 5);
    values[(circuit.structure.slotOf('D') as number) + 2] = 1e-9;
    expect(runner.setValues(values)).toBe(false);
  }
});

test('an op-amp that jumps from rail to rail charges as its RC asks, compiled and interpreted alike', () => {
  const { circuit, periodS, rail } = relaxationOscillator();
  const wanted = [circuit.structure.nodeOf('out') as number];
  // Ten times as fine: steps as long as an op-amp takes from rail to rail jump too early.
  const rate = 10 * RATE;
  const [a, b] = [compiledRunner, interpretedRunner].map((make) => {
    const runner = must(make(circuit, { sampleRateHz: rate, wanted }));
    // Half a milliampere until it lies past its threshold.
    const [out] = play(runner, [(t) => (t < 2e-3 ? 500 : 0)], 12_000, 1, rate);
    expect(runner.unsettled).toBe(0);
    expect(runner.jumps).toBeGreaterThan(0);
    return out;
  });
  a.forEach((v, i) => expect(Math.abs(v - b[i])).toBeLessThan(1e-6));
  a.forEach((v) => expect(Math.abs(v)).toBeLessThan(1.001 * rail));
  const ups = [...a.keys()].filter((i) => i > 3000 && a[i - 1] < 0 && a[i] >= 0);
  const period = (ups[ups.length - 1] - ups[0]) / (ups.length - 1) / rate;
  expect(period / periodS).toBeGreaterThan(0.99);
  expect(period / periodS).toBeLessThan(1.02);
});
