import { levelsDb } from '../analysis/curves/response';
import { AcSolver } from '../analysis/ac/solver';
import { compile, compileStage, IDEAL } from '../design/compiled/compile';
import { createDesign, createNetwork, createPlan } from '../design/making/create';
import { designStage } from '../design/stages/stage-design';
import { withTopology } from '../design/making/with-topology';
import { logGrid } from '../math/grid';
import { must } from '../result';
import { topologyById } from './index';

const solver = new AcSolver();
let n = 0;
const makeId = () => `e${n++}`;
const [RIPPLE, ATTENUATION, EDGE] = [0.5, 50, 1000];

/**
 * Chebyshev's rational function of order five with its zeros and poles from sn at K/5 steps, worked out apart from the
 * program: |H|² = 1/(1 + ε²R²).
 */
function ellipticRational(attenuationDb: number): (x: number) => number {
  const epsilon = Math.sqrt(10 ** (RIPPLE / 10) - 1);
  const k1 = epsilon / Math.sqrt(10 ** (attenuationDb / 10) - 1);
  const agm = (a: number, b: number): number => (Math.abs(a - b) < 1e-15 * a ? a : agm((a + b) / 2, Math.sqrt(a * b)));
  const K = (k: number) => Math.PI / 2 / agm(1, Math.sqrt(1 - k * k));
  const complement = (k: number) => Math.sqrt(1 - k * k);
  // Degree equation N K(k)/K'(k) = … solved for k by halving.
  const wanted = K(complement(k1)) / K(k1) / 5;
  let [low, high] = [1e-6, 1 - 1e-12];
  for (let i = 0; i < 200; i++) {
    const middle = (low + high) / 2;
    if (K(complement(middle)) / K(middle) > wanted) low = middle;
    else high = middle;
  }
  const k = (low + high) / 2;
  // sn by its Fourier series in the nome q (Abramowitz and Stegun 16.23.1).
  const q = Math.exp((-Math.PI * K(complement(k))) / K(k));
  const sn = (u: number): number => {
    let sum = 0;
    for (let m = 0; m < 60; m++)
      sum += (q ** (m + 0.5) / (1 - q ** (2 * m + 1))) * Math.sin(((2 * m + 1) * Math.PI * u) / (2 * K(k)));
    return ((2 * Math.PI) / (k * K(k))) * sum;
  };
  const zeros = [2, 4].map((i) => sn((i * K(k)) / 5));
  const bare = (x: number) => zeros.reduce((p, z) => (p * (x * x - z * z)) / (1 - k * k * z * z * x * x), x);
  const unit = bare(1);
  return (x) => bare(x) / unit;
}

test(
  'an elliptic of order five as a cascade with nulls, as two-integrator loops and as a leapfrog: one ' +
    'curve, and the ideal one',
  () => {
    const epsilon = Math.sqrt(10 ** (RIPPLE / 10) - 1);
    const R = ellipticRational(ATTENUATION);
    const pass = logGrid(10, EDGE, 161);
    const ideal = pass.map((f) => -10 * Math.log10(1 + (epsilon * R(f / EDGE)) ** 2));
    // It is the curve that is meant: equal ripples, and 50 dB past the edge.
    expect(Math.min(...ideal)).toBeCloseTo(-RIPPLE, 2);
    const plan = {
      ...createPlan('p', 'lowpass', 'elliptic', 5, EDGE),
      rippleDb: RIPPLE,
      attenuationDb: ATTENUATION,
    };
    const design = createDesign('t', () => [plan], makeId);
    const cascades = ['bainter', 'tow-thomas', 'state-variable'].map((id) => {
      const built = must(compile(design, withTopology(design.variants[0], id), IDEAL));
      return levelsDb(must(solver.sweep(built.circuit, pass, [built.ways[0].output]))[0]).map(
        (level) => level + 20 * Math.log10(built.ways[0].shortfall),
      );
    });
    const topology = topologyById('leapfrog-ladder');
    if (topology.role !== 'network') throw new Error('a network was wanted');
    const { stage } = createNetwork(topology, makeId, {
      form: 'order 5, nulls',
      parameters: { cutoffHz: EDGE, rippleDb: RIPPLE, attenuationDb: ATTENUATION },
    });
    const circuit = compileStage(design, must(designStage(stage, null, design)), {
      values: 'exact',
      devices: 'ideal',
    });
    const leapfrog = levelsDb(must(solver.sweep(circuit, pass, ['out']))[0]);
    for (const levels of [...cascades, leapfrog])
      levels.forEach((level, i) => expect(Math.abs(level - ideal[i])).toBeLessThan(0.05));
    // And what goes, goes: 50 dB from where the ideal says on.
    const stop = logGrid(1600, 50e3, 101);
    const gone = levelsDb(must(solver.sweep(circuit, stop, ['out']))[0]);
    gone.forEach((level, i) => expect(level).toBeCloseTo(-10 * Math.log10(1 + (epsilon * R(stop[i] / EDGE)) ** 2), 1));
  },
);
