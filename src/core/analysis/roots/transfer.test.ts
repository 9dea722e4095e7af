import fc from 'fast-check';
import { assemble, type Assembled } from '../../circuit/structure';
import { C, E, idealAmp, L, R, V } from '../../circuit/build';
import { couplingBetween } from '../../circuit/elements/coupling';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import type { Design } from '../../design/document/schema';
import { demoDesigns } from '../../design/demo/demo';
import { complex, divide, magnitude, multiply, subtract, type Complex } from '../../math/complex';
import { logGrid } from '../../math/grid';
import { must } from '../../result';
import { opAmpCascade } from '../../testing/circuits';
import { AcSolver } from '../ac/solver';
import { transferFunction, type TransferFunction } from './transfer';
import { orLong } from '@/testing/extent';

const circuitOf = (...elements: Parameters<typeof assemble>[0]['elements']) => assemble({ elements, merged: [] });
const at = (circuit: Assembled, node: string): TransferFunction =>
  must(transferFunction(circuit, [circuit.structure.nodeOf(node) as number, -1]));

function value({ poles, zeros, gain }: TransferFunction, omega: number): Complex {
  const s = complex(0, omega);
  let h = complex(gain);
  for (let i = 0; i < Math.max(poles.length, zeros.length); i++) {
    if (i < zeros.length) h = multiply(h, subtract(s, zeros[i]));
    if (i < poles.length) h = divide(h, subtract(s, poles[i]));
  }
  return h;
}

/** Largest relative difference between the product over poles and zeros and the solved response. */
function againstResponse(circuit: Assembled, node: string, grid = logGrid(1, 1e6, 61)): number {
  const [response] = must(new AcSolver().sweep(circuit, grid, [node]));
  const transfer = at(circuit, node);
  let worst = 0;
  grid.forEach((f, i) => {
    const direct = complex(response[2 * i], response[2 * i + 1]);
    if (magnitude(direct) > 1e-6)
      worst = Math.max(worst, magnitude(subtract(value(transfer, 2 * Math.PI * f), direct)) / magnitude(direct));
  });
  return worst;
}

/** The bank has a hundred and twenty unknowns. */
const isQuick = ({ variants: [{ bank }] }: Design): boolean => orLong(bank === undefined, true);

test.each([
  ...demoDesigns()
    .filter(isQuick)
    .map((design): [string, Assembled, string] => {
      // What was measured has no poles of its own: the circuits fitted to it have.
      const drivers = design.drivers?.map((d) => ({ ...d, measuredImpedance: null }));
      const { circuit, ways } = must(compile({ ...design, drivers }, design.variants[0], AS_BUILT));
      return [design.title, circuit, ways[0].output];
    }),
  ['four stages with one-pole op-amps', opAmpCascade(4).circuit, opAmpCascade(4).output] as [string, Assembled, string],
])('poles, zeros and gain make the response again: %s', (_, circuit, node) =>
  expect(againstResponse(circuit, node)).toBeLessThan(1e-6),
);

test('a resonant circuit has the roots of s² L C + s R C + 1 and no zero', () => {
  const [l, c, r] = [10e-3, 1e-6, 20];
  const { poles, zeros, gain } = at(
    circuitOf(V('V', 'in', '0', 1), R('R', 'in', 'a', r), L('L', 'a', 'out', l), C('C', 'out', '0', c)),
    'out',
  );
  expect(poles).toHaveLength(2);
  expect(poles[0].re).toBeCloseTo(-r / (2 * l), 8);
  expect(poles[0].im).toBeCloseTo(Math.sqrt(1 / (l * c) - (r / (2 * l)) ** 2), 7);
  expect(zeros).toHaveLength(0);
  expect(gain * l * c).toBeCloseTo(1, 10);
});

test('equal poles of separate stages stay together to the last digit, however many there are', () => {
  const stages = 6;
  const elements = [V('V', 'n0', '0', 1)];
  for (let i = 0; i < stages; i++)
    elements.push(
      R(`R${i}`, `n${i}`, `a${i}`, 1e4),
      C(`C${i}`, `a${i}`, '0', 1e-8),
      E(`E${i}`, `n${i + 1}`, '0', `a${i}`, '0', 1),
    );
  const { poles, zeros } = at(circuitOf(...elements), `n${stages}`);
  expect(zeros).toHaveLength(0);
  expect(poles.map((p) => p.re)).toEqual(Array.from({ length: stages }, () => expect.closeTo(-1e4, 6)));
  expect(poles.every((p) => p.im === 0)).toBe(true);
});

test('zeros at 0 are exactly there, poles the probe cannot see come with the zeros that cancel them', () => {
  // Two series capacitors in a high-pass chain, and an idle RC on the side.
  const { poles, zeros } = at(
    circuitOf(
      V('V', 'in', '0', 1),
      C('C1', 'in', 'a', 1e-7),
      R('R1', 'a', '0', 1e4),
      C('C2', 'a', 'out', 1e-7),
      R('R2', 'out', '0', 1e4),
      R('R3', 'in', 'idle', 1e3),
      C('C3', 'idle', '0', 1e-6),
    ),
    'out',
  );
  expect(zeros.filter((z) => z.re === 0 && z.im === 0)).toHaveLength(2);
  expect(zeros.find((z) => z.re !== 0)?.re).toBeCloseTo(-1000, 9);
  expect(poles.map((p) => p.re)).toEqual([
    expect.closeTo(-1e3 * ((3 - Math.sqrt(5)) / 2), 8),
    expect.closeTo(-1000, 9),
    expect.closeTo(-1e3 * ((3 + Math.sqrt(5)) / 2), 8),
  ]);
});

test('an all-pass has its zero where its pole is mirrored', () => {
  const { poles, zeros, gain } = at(
    circuitOf(
      V('V', 'in', '0', 1),
      R('R1', 'in', 'm', 1e4),
      R('R2', 'm', 'out', 1e4),
      R('R3', 'in', 'p', 1e4),
      C('C3', 'p', '0', 1e-8),
      idealAmp('U', 'p', 'm', 'out'),
    ),
    'out',
  );
  expect([poles[0].re, zeros[0].re, gain]).toEqual([
    expect.closeTo(-1e4, 8),
    expect.closeTo(1e4, 8),
    expect.closeTo(-1, 12),
  ]);
});

test('perfect coupling takes one pole away, near coupling puts it far out', () => {
  const transformer = (k: number) =>
    circuitOf(
      V('V', 'in', '0', 1),
      R('R1', 'in', 'a', 10),
      L('L1', 'a', '0', 1e-3),
      L('L2', 'out', '0', 2e-3),
      { name: 'K', definition: couplingBetween('L1', 'L2'), nodes: [], values: [k] },
      R('R2', 'out', '0', 100),
    );
  expect(at(transformer(1), 'out').poles).toHaveLength(1);
  const near = at(transformer(0.999), 'out').poles;
  expect(near).toHaveLength(2);
  // s² L1 L2 (1 − k²) + s (R1 L2 + R2 L1) + R1 R2
  const [a, b, c] = [2e-6 * (1 - 0.999 ** 2), 10 * 2e-3 + 100 * 1e-3, 1000];
  const root = Math.sqrt(b * b - 4 * a * c);
  expect(near[0].re / ((-2 * c) / (b + root))).toBeCloseTo(1, 9);
  expect(near[1].re / (-(b + root) / (2 * a))).toBeCloseTo(1, 9);
});

test('random RC ladders: every pole is real and negative, and the response comes out of them', () =>
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.double({ min: 1, max: 6, noNaN: true }), fc.double({ min: -12, max: -5, noNaN: true })), {
        minLength: 1,
        maxLength: 9,
      }),
      (rungs) => {
        const elements = [V('V', 'n0', '0', 1)];
        rungs.forEach(([r, c], i) =>
          elements.push(R(`R${i}`, `n${i}`, `n${i + 1}`, 10 ** r), C(`C${i}`, `n${i + 1}`, '0', 10 ** c)),
        );
        const circuit = circuitOf(...elements);
        const { poles, zeros } = at(circuit, `n${rungs.length}`);
        expect(poles).toHaveLength(rungs.length);
        expect(zeros).toHaveLength(0);
        for (const { re, im } of poles) expect(re < 0 && im === 0).toBe(true);
        expect(againstResponse(circuit, `n${rungs.length}`)).toBeLessThan(1e-6);
      },
    ),
    { numRuns: 60 },
  ));

test('a circuit without a solution says so', () =>
  expect(
    transferFunction(circuitOf(V('V', 'in', '0', 1), R('R', 'in', '0', 1), R('R2', 'x', 'y', 1)), [0, -1]),
  ).toMatchObject({ ok: false, code: 'no-unique-solution' }));
