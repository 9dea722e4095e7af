import { assemble } from '../../circuit/structure';
import { C, idealAmp, L, onePoleAmp, R, V } from '../../circuit/build';
import { couplingBetween } from '../../circuit/elements/coupling';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import { demoDesigns } from '../../design/demo/demo';
import { logGrid } from '../../math/grid';
import { must } from '../../result';
import { opAmpCascade } from '../../testing/circuits';
import { preciseSolve } from '../../testing/precise-solve';
import { compiledKernel } from './compiled';
import { denseKernel } from './dense';
import { rowOf, type AcKernel } from './kernel';
import { planElimination, type Plan } from '../elimination/plan';
import { replayKernel } from './replay';
import { AcSolver } from './solver';
import type { Assembled } from '../../circuit/structure';

const grid = logGrid(10, 100e3, 101);
const noReplay: AcKernel = {
  solve() {
    throw new Error('the guard tripped');
  },
};

function planOf(circuit: Assembled, freqHz = 1000): Plan {
  const plan = planElimination(circuit.structure, circuit.values, freqHz);
  if ('singularUnknown' in plan) throw new Error('no plan');
  return plan;
}

function rows(kernel: AcKernel, { structure, values }: Assembled, frequencies = grid): Float64Array[] {
  const all = Int32Array.from({ length: structure.size }, (_, i) => i);
  const points = kernel.solve(values, frequencies, all);
  return Array.from(all, (_, k) => rowOf(points, k, all.length, frequencies.length));
}

/** Largest difference over a point's largest unknown. */
function disagreement(a: readonly Float64Array[], b: readonly Float64Array[]): number {
  let worst = 0;
  for (let f = 0; f < a[0].length / 2; f++) {
    const size = Math.max(...b.map((row) => Math.hypot(row[2 * f], row[2 * f + 1])));
    a.forEach(
      (row, u) =>
        (worst = Math.max(worst, Math.hypot(row[2 * f] - b[u][2 * f], row[2 * f + 1] - b[u][2 * f + 1]) / size)),
    );
  }
  return worst;
}

const coupled = assemble({
  elements: [
    V('Vin', 'in', '0', 2, 30),
    R('R1', 'in', 'a', 50),
    L('L1', 'a', '0', 1e-3),
    L('L2', 'b', '0', 4e-3),
    { name: 'K1', definition: couplingBetween('L1', 'L2'), nodes: [], values: [0.9] },
    C('C1', 'b', '0', 1e-7),
    R('R2', 'b', '0', 1e3),
  ],
  merged: [],
});
const subjects: [string, Assembled][] = [
  ...demoDesigns().map((design): [string, Assembled] => [
    design.title,
    must(compile(design, design.variants[0], AS_BUILT)).circuit,
  ]),
  ['a cascade of two stages', opAmpCascade(2).circuit],
  ['coupled coils and a source with a phase', coupled],
];

/** A converter's picosiemens and siemens in one circuit: some of its points are the guard's to mend. */
const GUARDED = /volts an octave/;

test.each(subjects)('compiled, replayed and dense agree: %s', (title, circuit) => {
  const plan = planOf(circuit);
  const guard = GUARDED.test(title) ? replayKernel(circuit.structure, plan) : noReplay;
  const dense = rows(denseKernel(circuit.structure), circuit);
  expect(disagreement(rows(replayKernel(circuit.structure, plan), circuit), dense)).toBeLessThan(1e-11);
  expect(disagreement(rows(compiledKernel(circuit.structure, plan, guard, true), circuit), dense)).toBeLessThan(1e-11);
});

test('node voltages are right to 1e-12 of 32-digit arithmetic', () => {
  const { circuit } = opAmpCascade(3);
  const got = rows(compiledKernel(circuit.structure, planOf(circuit), noReplay, true), circuit);
  for (let f = 0; f < grid.length; f += 10)
    preciseSolve(circuit, grid[f]).forEach(({ re, im }, u) => {
      if (circuit.structure.unknowns[u].startsWith('i(')) return;
      expect(Math.hypot(got[u][2 * f] - re, got[u][2 * f + 1] - im) / Math.hypot(re, im)).toBeLessThan(1e-12);
    });
});

test('odd counts, single points and long sweeps come out whole; one output is the same as that of all', () => {
  const { circuit, output } = opAmpCascade(2);
  const kernel = compiledKernel(circuit.structure, planOf(circuit), noReplay, true);
  const one = Int32Array.of(circuit.structure.nodeOf(output) as number);
  for (const count of [1, 2, 15, 16, 17, 3001]) {
    const frequencies = count === 1 ? Float64Array.of(500) : logGrid(20, 20e3, count);
    const alone = rowOf(kernel.solve(circuit.values, frequencies, one), 0, 1, count);
    const among = rows(denseKernel(circuit.structure), circuit, frequencies)[one[0]];
    alone.forEach((v, i) => expect(Math.abs(v - among[i])).toBeLessThan(1e-12));
  }
});

test('a source that was silent when the program was made is heard when it speaks', () => {
  const at = (second: number, phase: number) =>
    assemble({
      elements: [
        V('V1', 'a', '0', 1),
        V('V2', 'b', '0', second, phase),
        R('R1', 'a', 'out', 1e3),
        R('R2', 'b', 'out', 1e3),
        C('C', 'out', '0', 1e-7),
      ],
      merged: [],
    });
  const quiet = at(0, 0);
  const kernel = compiledKernel(quiet.structure, planOf(quiet), noReplay, true);
  for (const circuit of [quiet, at(3, 0), at(3, 90), quiet])
    expect(disagreement(rows(kernel, circuit), rows(denseKernel(circuit.structure), circuit))).toBeLessThan(1e-13);
});

describe('the guard', () => {
  /** A bridge that a plan made for one balance meets at another: a pivot that was large cancels to nothing. */
  const bridge = (r: number, gain: number) =>
    assemble({
      elements: [
        V('Vin', 'in', '0', 1),
        R('R1', 'in', 'a', 1e3),
        R('R2', 'a', 'b', r),
        R('R3', 'b', '0', 1e3),
        idealAmp('U', 'a', 'm', 'out'),
        R('Rf', 'out', 'm', gain),
        R('Rg', 'm', 'b', 1e3),
        onePoleAmp('U2', 'b', 'q', 'q', 1e5, 1e7),
        R('R4', 'q', 'c', 1e3),
        C('C4', 'c', '0', 1e-8),
        L('L4', 'c', 'd', 1e-3),
        R('R5', 'd', 'out', r),
      ],
      merged: [],
    });

  test('circuits far from the values a plan was made at still come out right, over twelve decades', () => {
    const nominal = bridge(1e3, 1e3);
    const kernel = compiledKernel(
      nominal.structure,
      planOf(nominal),
      replayKernel(nominal.structure, planOf(nominal)),
      true,
    );
    for (const r of [1e-2, 1, 1e6, 1e10])
      for (const gain of [1, 1e5, 1e9]) {
        const circuit = bridge(r, gain);
        if (circuit.structure.key !== nominal.structure.key) continue;
        const got = rows(kernel, circuit);
        for (const f of [0, 50, 100]) {
          const exact = preciseSolve(circuit, grid[f]);
          const size = Math.max(...exact.map(({ re, im }) => Math.hypot(re, im)));
          const dense = rows(denseKernel(circuit.structure), circuit);
          const error = (from: readonly Float64Array[]) =>
            Math.max(...exact.map(({ re, im }, u) => Math.hypot(from[u][2 * f] - re, from[u][2 * f + 1] - im))) / size;
          expect(error(got)).toBeLessThan(10 * error(dense) + 1e-12);
        }
      }
  });

  /**
   * Two conductances in one row, of which the plan takes the first as its pivot: with the values turned round it is a
   * trillionth of the other.
   */
  const lopsided = (first: number, second: number) =>
    assemble({
      elements: [
        V('Vin', 'in', '0', 1),
        R('R1', 'in', 'a', first),
        R('R2', 'a', 'b', second),
        C('C1', 'a', '0', 1e-9),
        C('C2', 'b', '0', 1e-6),
        L('L1', 'b', '0', 1e-3),
        R('R3', 'b', 'in', first),
      ],
      merged: [],
    });

  test(
    'a plan that does not suit is refined, made again or passed to the dense solver, and the answer is ' +
      'never worse for it',
    () => {
      const poor = lopsided(1, 1e6);
      let better = 0;
      let tried = 0;
      const plan = planOf(poor, 1e5);
      for (const [first, second] of [
        [1, 1e6],
        [1e6, 1],
        [1e9, 1],
        [1e3, 1e3],
      ]) {
        const circuit = lopsided(first, second);
        if (circuit.structure.key !== poor.structure.key) continue;
        tried++;
        const kernel = replayKernel(poor.structure, plan, () => better++);
        const got = rows(kernel, circuit);
        expect(got.every((row) => row.every(Number.isFinite))).toBe(true);
        expect(disagreement(got, rows(denseKernel(circuit.structure), circuit))).toBeLessThan(1e-9);
      }
      expect(better).toBeLessThan(20);
      expect(tried).toBeGreaterThanOrEqual(3);
    },
  );

  test('a pivot that vanishes at one frequency is repaired there: a trap exactly in tune', () => {
    // At 1/(2π√(LC)) the series trap has no impedance at all; the plan is made far from it.
    const [l, c] = [1e-3, 1e-7];
    const circuit = assemble({
      elements: [V('Vin', 'in', '0', 1), R('R1', 'in', 'a', 1e3), L('L1', 'a', 'b', l), C('C1', 'b', '0', c)],
      merged: [],
    });
    const tuned = 1 / (2 * Math.PI * Math.sqrt(l * c));
    const frequencies = Float64Array.of(tuned / 10, tuned * (1 - 1e-9), tuned, tuned * (1 + 1e-9), tuned * 10);
    const plan = planOf(circuit, 1);
    const kernel = compiledKernel(circuit.structure, plan, replayKernel(circuit.structure, plan), true);
    const node = circuit.structure.nodeOf('a') as number;
    const [got, dense] = [
      rows(kernel, circuit, frequencies)[node],
      rows(denseKernel(circuit.structure), circuit, frequencies)[node],
    ];
    got.forEach((v, i) => expect(Math.abs(v - dense[i])).toBeLessThan(1e-9));
  });

  test('a resistance a trillionth of its neighbours loses nothing: its current is an unknown', () => {
    const circuit = assemble({
      elements: [
        V('Vin', 'in', '0', 1),
        R('R1', 'in', 'a', 1e6),
        R('Rs', 'a', 'b', 1e-6),
        R('R2', 'b', '0', 1e6),
        R('R3', 'a', '0', 1e6),
      ],
      merged: [],
    });
    expect(circuit.structure.unknowns).toContain('i(Rs)');
    const [a, b] = must(new AcSolver().sweep(circuit, Float64Array.of(1000), ['a', 'b']));
    expect(a[0]).toBeCloseTo(1 / (2 + 1 / (1 + 1e-12)), 15);
    expect((a[0] - b[0]) / 1e-6).toBeCloseTo(1 / 3e6, 9);
  });
});

test('no more than one plan and one program for a thousand sweeps of one structure', () => {
  const { circuit, output } = opAmpCascade(2);
  const solver = new AcSolver();
  for (let i = 0; i < 1000; i++)
    must(
      solver.sweep({ ...circuit, values: circuit.values.map((v) => v * (1 + i * 1e-5)) }, Float64Array.of(100, 1000), [
        output,
      ]),
    );
  expect(solver.plansMade).toBe(1);
});
