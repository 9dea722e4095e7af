import fc from 'fast-check';
import { C, E, idealAmp, L, R, V } from '../../circuit/build';
import { couplingBetween } from '../../circuit/elements/coupling';
import { assemble, type Assembled } from '../../circuit/structure';
import { logGrid } from '../../math/grid';
import { must } from '../../result';
import { denseKernel } from './dense';
import { rowOf } from './kernel';
import { dominantSection, naturalFrequencies } from '../roots/poles';
import { groupDelaysS, levelsDb, phasesDeg } from '../curves/response';
import { AcSolver } from './solver';

const grid = logGrid(10, 1e5, 61);

test('an RC low-pass is 1/(1 + jωRC) to the last digits', () => {
  const circuit = assemble({
    elements: [V('Vin', 'in', '0', 1), R('R1', 'in', 'out', 10e3), C('C1', 'out', '0', 15.9e-9)],
    merged: [],
  });
  const [out] = must(new AcSolver().sweep(circuit, grid, ['out']));
  grid.forEach((f, i) => {
    const x = 2 * Math.PI * f * 10e3 * 15.9e-9;
    expect(out[2 * i]).toBeCloseTo(1 / (1 + x * x), 13);
    expect(out[2 * i + 1]).toBeCloseTo(-x / (1 + x * x), 13);
  });
  const phase = phasesDeg(out);
  const tau = 10e3 * 15.9e-9;
  expect(groupDelaysS(grid, phase)[10]).toBeCloseTo(tau / (1 + (2 * Math.PI * grid[10] * tau) ** 2), 7);
});

test('two loaded equal RC sections are 3 dB down at 0.3742 of 1/(2πRC)', () => {
  const elements = [
    V('Vin', 'in', '0', 1),
    R('R1', 'in', 'a', 1e3),
    C('C1', 'a', '0', 1e-6),
    R('R2', 'a', 'out', 1e3),
    C('C2', 'out', '0', 1e-6),
  ];
  const [out] = must(
    new AcSolver().sweep(assemble({ elements, merged: [] }), Float64Array.of(0.37424 / (2 * Math.PI * 1e-3)), ['out']),
  );
  expect(levelsDb(out)[0]).toBeCloseTo(-3.0103, 3);
});

test('coupled coils: open secondary has k √(L2/L1) of the primary voltage', () => {
  const elements = [
    V('Vin', 'a', '0', 1),
    L('L1', 'a', '0', 1e-3),
    L('L2', 'b', '0', 4e-3),
    { name: 'K1', definition: couplingBetween('L1', 'L2'), nodes: [], values: [0.9] },
    R('R1', 'b', '0', 1e12),
  ];
  const [b] = must(new AcSolver().sweep(assemble({ elements, merged: [] }), Float64Array.of(1000), ['b']));
  expect(Math.hypot(b[0], b[1])).toBeCloseTo(1.8, 8);
});

/** A random ladder: series and shunt elements of any kind between source and load. */
const ladder = fc.array(
  fc.record({
    kind: fc.constantFrom('R', 'L', 'C'),
    shunt: fc.boolean(),
    size: fc.double({ min: -1, max: 1, noNaN: true }),
  }),
  { minLength: 2, maxLength: 12 },
);
const make = {
  R: (n: string, a: string, b: string, x: number) => R(n, a, b, 1e3 * 10 ** x),
  L: (n: string, a: string, b: string, x: number) => L(n, a, b, 0.1 * 10 ** x),
  C: (n: string, a: string, b: string, x: number) => C(n, a, b, 1e-7 * 10 ** x),
};
function ladderElements(rungs: { kind: string; shunt: boolean; size: number }[], scale = 1) {
  let at = 0;
  const elements = [V('Vin', 'in', '0', 1), R('Rs', 'in', 'n0', 600 * scale)];
  rungs.forEach(({ kind, shunt, size }, i) => {
    const shift = Math.log10(scale) * (kind === 'C' ? -1 : 1);
    const build = make[kind as 'R' | 'L' | 'C'];
    elements.push(
      shunt ? build(`X${i}`, `n${at}`, '0', size + shift) : build(`X${i}`, `n${at}`, `n${++at}`, size + shift),
    );
  });
  elements.push(R('Rl', `n${at}`, '0', 600 * scale));
  return { elements, out: `n${at}` };
}

function denseRow(circuit: Assembled, node: string): Float64Array {
  const points = denseKernel(circuit.structure).solve(
    circuit.values,
    grid,
    Int32Array.of(circuit.structure.nodeOf(node) as number),
  );
  return rowOf(points, 0, 1, grid.length);
}

test(
  'random ladders: the plan agrees with the dense solve, passive networks never gain, impedance ' +
    'scaling leaves the transfer alone',
  () =>
    fc.assert(
      fc.property(ladder, fc.double({ min: 0.1, max: 10, noNaN: true }), (rungs, scale) => {
        const { elements, out } = ladderElements(rungs);
        const circuit = assemble({ elements, merged: [] });
        const [planned] = must(new AcSolver().sweep(circuit, grid, [out]));
        const dense = denseRow(circuit, out);
        const scaled = ladderElements(rungs, scale);
        const [again] = must(new AcSolver().sweep(assemble({ elements: scaled.elements, merged: [] }), grid, [out]));
        const [other] = [must(new AcSolver().sweep(circuit, grid, ['n0']))[0]];
        for (let i = 0; i < planned.length; i++) {
          expect(Math.abs(planned[i] - dense[i])).toBeLessThan(1e-9);
          expect(Math.abs(planned[i] - again[i])).toBeLessThan(1e-8);
        }
        for (let i = 0; i < grid.length; i++)
          expect(Math.hypot(other[2 * i], other[2 * i + 1])).toBeLessThanOrEqual(1 + 1e-9);
      }),
      { numRuns: 60 },
    ),
);

test('one plan serves all values of a structure, and a nasty change of values is repaired', () => {
  const at = (big: number) =>
    assemble({
      elements: [
        V('Vin', 'in', '0', 1),
        R('R1', 'in', 'a', big),
        R('R2', 'a', '0', 1e3),
        R('R3', 'a', 'b', 10),
        R('R4', 'b', '0', 1e3),
        idealAmp('U', 'b', 'm', 'out'),
        R('Rf', 'out', 'm', big),
        R('Rg', 'm', '0', 1e3),
      ],
      merged: [],
    });
  const solver = new AcSolver();
  for (const big of [1e3, 1e9, 1e-6, 1e12]) {
    const circuit = at(big);
    const [got] = must(solver.sweep(circuit, grid, ['out']));
    const dense = denseRow(circuit, 'out');
    expect(Math.abs(got[0] / dense[0] - 1)).toBeLessThan(1e-9);
  }
  expect(solver.plansMade).toBeLessThanOrEqual(4);
  const calm = new AcSolver();
  for (let i = 0; i < 50; i++) must(calm.sweep(at(1e3 + i), grid, ['out']));
  expect(calm.plansMade).toBe(1);
});

test('what has no single solution is a failure that names the unknown', () => {
  const floating = assemble({
    elements: [V('Vin', 'in', '0', 1), R('R1', 'in', '0', 1), R('R2', 'x', 'y', 1)],
    merged: [],
  });
  const got = new AcSolver().sweep(floating, grid, ['x']);
  expect(got).toMatchObject({ ok: false, code: 'no-unique-solution' });
  expect(new AcSolver().sweep(floating, grid, ['nowhere'])).toMatchObject({
    ok: false,
    code: 'no-such-node',
    data: { node: 'nowhere' },
  });
});

test('merged nodes are one node, and ground absorbs what is merged with it', () => {
  const circuit = assemble({
    elements: [V('Vin', 'in', '0', 1), R('R1', 'in', 'a', 1), R('R2', 'b', '0', 1)],
    merged: [
      ['a', 'b'],
      ['c', '0'],
    ],
  });
  expect(circuit.structure.nodeOf('a')).toBe(circuit.structure.nodeOf('b'));
  expect(must(new AcSolver().sweep(circuit, Float64Array.of(1), ['b', 'c'])).map((v) => v[0])).toEqual([
    expect.closeTo(0.5, 15),
    0,
  ]);
});

test('natural frequencies of a series LCR are those of s² L C + s R C + 1', () => {
  const [l, c, r] = [10e-3, 1e-6, 20];
  const circuit = assemble({
    elements: [V('Vin', 'in', '0', 1), R('R', 'in', 'a', r), L('L', 'a', 'b', l), C('C', 'b', '0', c)],
    merged: [],
  });
  const omega = 1 / Math.sqrt(l * c);
  const poles = naturalFrequencies(circuit, omega);
  expect(poles).toHaveLength(2);
  for (const pole of poles) {
    expect(pole.re).toBeCloseTo(-r / (2 * l), 5);
    expect(Math.abs(pole.im)).toBeCloseTo(Math.sqrt(omega ** 2 - (r / (2 * l)) ** 2), 4);
  }
  const section = dominantSection(circuit, 2, omega / 6);
  expect(section?.q).toBeCloseTo((omega * l) / r, 9);
});

test('controlled sources take their sign from their nodes', () => {
  const circuit = assemble({
    elements: [V('Vin', 'in', '0', 1), E('E1', 'out', '0', '0', 'in', 2), R('R1', 'out', '0', 1)],
    merged: [],
  });
  expect(must(new AcSolver().sweep(circuit, Float64Array.of(1), ['out']))[0][0]).toBe(-2);
});
