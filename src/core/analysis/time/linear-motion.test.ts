import { C, L, R, V } from '../../circuit/build';
import type { ElementInstance } from '../../circuit/netlist';
import { assemble, type Assembled } from '../../circuit/structure';
import { must } from '../../result';
import { LinearMotion, stretches } from './linear-motion';
import { PERIODIC_WAVES, periodicWave, waveInTime, type WaveId } from './periodic-waves';

const circuit = (...elements: ElementInstance[]): Assembled => assemble({ elements, merged: [] });
const lowPass = circuit(V('Vin', 'in', '0', 1), R('R1', 'in', 'out', 1e3), C('C1', 'out', '0', 1e-6));
const highPass = circuit(V('Vin', 'in', '0', 1), C('C1', 'in', 'out', 1e-6), R('R1', 'out', '0', 1e3));
const TAU = 1e-3;
const FASTEST = 600;

function step(of: Assembled, node: string, stopS: number, count: number): Float64Array {
  const motion = new LinearMotion(of);
  const rows = must(motion.run(new Float64Array(motion.size), stretches(0, stopS, count, [0], FASTEST), () => 1));
  const at = of.structure.nodeOf(node) as number;
  return Float64Array.from(rows, (row) => row[at]);
}

function steady(of: Assembled, id: WaveId, freqHz: number, count = 480): Float64Array {
  const wave = periodicWave(id);
  const drive = waveInTime(wave, freqHz);
  const walk = stretches(
    0,
    1 / freqHz,
    count,
    wave.edges.map((p) => p / freqHz),
    FASTEST,
  );
  const motion = new LinearMotion(of);
  const rows = must(motion.run(must(motion.steadyState(walk, drive)), walk, drive));
  const at = of.structure.nodeOf('out') as number;
  return Float64Array.from(rows, (row) => row[at]);
}

test.each([5e-3, 0.5, 50])(
  'a charge curve over %d s is 1 − exp(−t/RC) to a ten-thousandth, however quick it is',
  (stopS) => {
    step(lowPass, 'out', stopS, 200).forEach((v, i) =>
      expect(Math.abs(v - (1 - Math.exp((-i * stopS) / 200 / TAU)))).toBeLessThan(1e-4),
    );
  },
);

test('a high-pass passes the edge whole, and lets it fade', () => {
  step(highPass, 'out', 5e-3, 200).forEach((v, i) =>
    expect(Math.abs(v - Math.exp((-i * 5e-3) / 200 / TAU))).toBeLessThan(1e-4),
  );
});

test('a series LCR rings as its closed form says', () => {
  const [l, c, r] = [10e-3, 1e-6, 20];
  const ringing = circuit(V('Vin', 'in', '0', 1), R('R', 'in', 'a', r), L('L', 'a', 'b', l), C('C', 'b', '0', c));
  const [alpha, omega0] = [r / (2 * l), 1 / Math.sqrt(l * c)];
  const omega = Math.sqrt(omega0 ** 2 - alpha ** 2);
  step(ringing, 'b', 4e-3, 400).forEach((v, i) => {
    const t = (i * 4e-3) / 400;
    const exact = 1 - Math.exp(-alpha * t) * (Math.cos(omega * t) + (alpha / omega) * Math.sin(omega * t));
    expect(Math.abs(v - exact)).toBeLessThan(1e-4);
  });
});

/** A square wave of ±1 through an RC: from each edge e^(−t/τ) towards the new level, from ∓tanh(T/4τ). */
const squareThroughLowPass = (phase: number, freqHz: number): number => {
  const [half, t] = [0.5 / freqHz, (phase % 0.5) / freqHz];
  const start = -Math.tanh(half / 2 / TAU);
  const rising = 1 + (start - 1) * Math.exp(-t / TAU);
  return phase % 1 < 0.5 ? rising : -rising;
};

test.each([0.5, 16, 159.155, 1592, 50e3])(
  'the steady square wave at %d Hz is its closed form to a thousandth, far below cutoff and far above',
  (freqHz) => {
    const [low, high] = [steady(lowPass, 'square', freqHz), steady(highPass, 'square', freqHz)];
    const swing = Math.tanh(0.25 / freqHz / TAU);
    for (let i = 0; i < 480; i++) {
      const exact = squareThroughLowPass(i / 480, freqHz);
      expect(Math.abs(low[i] - exact)).toBeLessThan(1e-3 * swing);
      // What the low-pass leaves, the high-pass passes.
      expect(Math.abs(high[i] - ((i < 240 ? 1 : -1) - exact))).toBeLessThan(1e-3);
    }
    expect(low[480]).toBeCloseTo(low[0], 7);
  },
);

test.each(PERIODIC_WAVES.map((w) => w.id))(
  'the harmonics of a %s out of an RC are those put in, times 1/√(1 + (kωRC)²)',
  (id) => {
    const freqHz = 130;
    const out = steady(lowPass, id, freqHz, 4800);
    const wave = periodicWave(id);
    for (let k = 1; k <= 9; k++) {
      let [re, im] = [0, 0];
      for (let i = 0; i < 4800; i++) {
        re += out[i] * Math.cos((2 * Math.PI * k * i) / 4800);
        im += out[i] * Math.sin((2 * Math.PI * k * i) / 4800);
      }
      const exact = wave.harmonic(k) / Math.hypot(1, 2 * Math.PI * k * freqHz * TAU);
      expect(Math.abs(Math.hypot(re, im) / 2400 - exact)).toBeLessThan(1e-3 * wave.harmonic(1));
    }
  },
);

test('the harmonics that the closed forms name are those of the waves themselves', () => {
  for (const wave of PERIODIC_WAVES)
    for (let k = 1; k <= 12; k++) {
      const n = 4000;
      let [re, im] = [0, 0];
      for (let i = 0; i < n; i++) {
        const v = wave.at((i + 0.5) / n);
        re += v * Math.cos((2 * Math.PI * k * (i + 0.5)) / n);
        im += v * Math.sin((2 * Math.PI * k * (i + 0.5)) / n);
      }
      expect((2 * Math.hypot(re, im)) / n).toBeCloseTo(wave.harmonic(k), 4);
    }
});
