import { compiledRunner } from '../../analysis/sound/sound';
import { compile } from '../../design/compiled/compile';
import { createNetwork } from '../../design/making/create';
import type { Design } from '../../design/document/schema';
import { valuesOf } from '../../design/stages/stage-design';
import { must } from '../../result';
import { commonEmitter } from './stage/common-emitter';
import { THERMAL_VOLTS } from './control-current';
import type { NetworkTopology } from '../kit/define-topology';
import { diodeLegs } from './diode-legs';
import { base, makeId } from '../testing/designed-network';

/**
 * Circuits in time against an integration that shares nothing with the engine: their own node equations written out
 * here, solved by Newton with differences, stepped by Runge and Kutta's fourth order far below any time constant.
 */
const SUPPLY = 9;
const design: Design = {
  ...base,
  brief: {
    ...base.brief,
    supply: { kind: 'single', volts: SUPPLY, virtualGroundOhm: 1e-6 },
    source: { name: 's', ohm: 0 },
  },
};

function solve(residual: (x: number[]) => number[], start: number[]): number[] {
  let x = [...start];
  for (let round = 0; round < 80; round++) {
    const f = residual(x);
    const h = 1e-7;
    const columns = x.map((_, j) => residual(x.map((v, k) => (k === j ? v + h : v))).map((v, i) => (v - f[i]) / h));
    const rows = f.map((v, i) => [...columns.map((column) => column[i]), -v]);
    const n = x.length;
    for (let k = 0; k < n; k++) {
      let pivot = k;
      for (let i = k + 1; i < n; i++) if (Math.abs(rows[i][k]) > Math.abs(rows[pivot][k])) pivot = i;
      [rows[k], rows[pivot]] = [rows[pivot], rows[k]];
      for (let i = 0; i < n; i++) {
        if (i === k) continue;
        const factor = rows[i][k] / rows[k][k];
        for (let j = k; j <= n; j++) rows[i][j] -= factor * rows[k][j];
      }
    }
    const step = rows.map((row, i) => row[n] / row[i]);
    const damped = Math.min(1, 0.05 / Math.max(1e-30, ...step.map(Math.abs)));
    x = x.map((v, i) => v + damped * step[i]);
    if (Math.max(...step.map(Math.abs)) < 1e-12) break;
  }
  return x;
}

/** Charges' rates from the capacitors' voltages; where a node's voltage is read. */
interface Equations {
  readonly capacitors: readonly number[];
  /** Node voltages for capacitors' voltages and an input: residual of their currents. */
  residual(nodes: number[], held: readonly number[], input: number): number[];
  /** Current into each capacitor. */
  currents(nodes: readonly number[], held: readonly number[], input: number): number[];
  readonly start: { readonly nodes: number[]; readonly held: number[] };
  read(nodes: readonly number[], held: readonly number[]): number;
}

/** Samples at a rate, with so many steps between two. */
function integrated(
  e: Equations,
  input: (t: number) => number,
  rateHz: number,
  count: number,
  between: number,
): number[] {
  // At rest no capacitor takes current: their voltages are found with the nodes'.
  const n = e.start.nodes.length;
  const rest = solve(
    (x) => [
      ...e.residual(x.slice(0, n), x.slice(n), 0),
      ...e.currents(x.slice(0, n), x.slice(n), 0).map((i) => i * 1e3),
    ],
    [...e.start.nodes, ...e.start.held],
  );
  let [nodes, held] = [rest.slice(0, n), rest.slice(n)];
  const rate = (at: readonly number[], t: number): number[] => {
    nodes = solve((x) => e.residual(x, at, input(t)), nodes);
    return e.currents(nodes, at, input(t)).map((i, k) => i / e.capacitors[k]);
  };
  const h = 1 / rateHz / between;
  const out: number[] = [];
  for (let s = 0; s < count; s++) {
    for (let b = 0; b < between; b++) {
      const t = (s * between + b) * h;
      const k1 = rate(held, t);
      const k2 = rate(
        held.map((v, i) => v + (h / 2) * k1[i]),
        t + h / 2,
      );
      const k3 = rate(
        held.map((v, i) => v + (h / 2) * k2[i]),
        t + h / 2,
      );
      const k4 = rate(
        held.map((v, i) => v + h * k3[i]),
        t + h,
      );
      held = held.map((v, i) => v + (h / 6) * (k1[i] + 2 * k2[i] + 2 * k3[i] + k4[i]));
    }
    nodes = solve((x) => e.residual(x, held, input((s + 1) * between * h)), nodes);
    out.push(e.read(nodes, held));
  }
  return out;
}

function built(topology: NetworkTopology, form: string, parameters: Record<string, number>) {
  const { stage, controls } = createNetwork(topology, makeId, { form, parameters });
  const variant = {
    ...design.variants[0],
    controls,
    ways: design.variants[0].ways.map((w) => ({ ...w, stages: [stage] })),
  };
  const compiled = must(
    compile({ ...design, variants: [variant] }, variant, { values: 'exact', devices: 'ideal', joints: 'isolated' }),
  );
  return {
    circuit: compiled.live!.circuit,
    output: compiled.live!.circuit.structure.nodeOf(compiled.ways[0].output)!,
    parts: valuesOf(compiled.ways[0].stages[0], 'exact'),
  };
}

function run(
  { circuit, output }: ReturnType<typeof built>,
  input: (t: number) => number,
  rateHz: number,
  count: number,
): Float64Array {
  const runner = must(compiledRunner(circuit, { sampleRateHz: rateHz, wanted: [output] }));
  const inputs = runner.sources.map((name) =>
    name === 'Vin'
      ? Float64Array.from({ length: count }, (_, i) => input((i + 1) / rateHz))
      : new Float64Array(count).fill(circuit.sources?.get(name)?.dc ?? 0),
  );
  const out = [new Float64Array(count)];
  runner.process(inputs, out, count);
  return out[0];
}

/** Largest difference over the swing. */
function farthest(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let [worst, low, high] = [0, Infinity, -Infinity];
  for (let i = 0; i < a.length; i++)
    [worst, low, high] = [Math.max(worst, Math.abs(a[i] - b[i])), Math.min(low, b[i]), Math.max(high, b[i])];
  return worst / (high - low);
}

const IS_DIODE = 2e-9;
const DIODE_VOLTS = 1.75 * THERMAL_VOLTS;

test('diode legs driven well into bending: sample by sample as integrated', () => {
  const made = built(diodeLegs, 'low-pass', { padDb: -14, cutoffHz: 600, shelfDb: -30, turnHz: 600 });
  const { R1, R2, R3, R4, C1, C2, I1 } = made.parts;
  const share = R2 / (R1 + R2);
  const Ra = (R1 * R2) / (R1 + R2) + R3;
  const diode = (v: number) => IS_DIODE * (Math.exp(v / DIODE_VOLTS) - 1);
  const equations: Equations = {
    capacitors: [C1, C2],
    // Nodes n and out; each capacitor stands between its node and its diode.
    residual: ([n, out], [c1, c2], vin) => [
      (share * vin - n) / Ra - (n - out) / R4 - (diode(n - c1) - I1),
      (n - out) / R4 - (diode(out - c2) - I1),
    ],
    currents: ([n, out], [c1, c2]) => [diode(n - c1) - I1, diode(out - c2) - I1],
    start: { nodes: [0, 0], held: [-0.4, -0.4] },
    read: ([, out]) => out,
  };
  const input = (t: number) => 3 * Math.sin(2 * Math.PI * 440 * t) + Math.sin(2 * Math.PI * 1210 * t);
  const [rate, count] = [192e3, 1200];
  expect(farthest(run(made, input, rate, count), integrated(equations, input, rate, count, 4))).toBeLessThan(2e-3);
});

const [IS, BF, BR] = [1e-14, 300, 4];

test('a common emitter driven to where it clips: sample by sample as integrated', () => {
  const made = built(commonEmitter, 'divider', {
    collectorAmps: 0.6e-3,
    emitterVolts: 1.1,
    gain: 12,
    stiffness: 12,
    lowestHz: 60,
    loadOhm: 47e3,
  });
  const { R1, R2, R3, R4, R5, C1, C2, C3 } = made.parts;
  const load = 47e3;
  const half = SUPPLY / 2;
  const forward = (b: number, e: number) => IS * (Math.exp((b - e) / THERMAL_VOLTS) - 1);
  const reverse = (b: number, c: number) => IS * (Math.exp((b - c) / THERMAL_VOLTS) - 1);
  const equations: Equations = {
    capacitors: [C1, C2, C3],
    // Volts from the middle of the supply. Base, collector, emitter; the load behind C2, the leg R5 before C3.
    residual: ([b, c, e], [c1, c2, c3], vin) => {
      const [f, r] = [forward(b, e), reverse(b, c)];
      const base = f / BF + r / BR;
      const collector = f - r - r / BR;
      // The source is stiff: C1 is a part of what holds the base, so its current is what the base asks for.
      return [
        (vin - c1 - b) * 1e3,
        (half - c) / R3 - collector - (c - c2) / load,
        collector + base - (e + half) / R4 - (e + half - c3) / (R5 as number),
      ];
    },
    currents: ([b, c, e], [, c2, c3]) => {
      const [f, r] = [forward(b, e), reverse(b, c)];
      return [f / BF + r / BR - (half - b) / R1 + (b + half) / R2, (c - c2) / load, (e + half - c3) / (R5 as number)];
    },
    start: { nodes: [-2.75, 0.5, -3.4], held: [2.75, 0.5, 1.1] },
    read: ([, c], [, c2]) => c - c2,
  };
  const input = (t: number) => 0.35 * Math.sin(2 * Math.PI * 440 * t);
  const [rate, count] = [192e3, 1000];
  expect(farthest(run(made, input, rate, count), integrated(equations, input, rate, count, 3))).toBeLessThan(3e-3);
});
