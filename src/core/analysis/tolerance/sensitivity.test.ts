import fc from 'fast-check';
import { assemble, type Assembled } from '../../circuit/structure';
import { C, L, R, V } from '../../circuit/build';
import { couplingBetween } from '../../circuit/elements/coupling';
import { diode } from '../../circuit/elements/diode';
import { logGrid } from '../../math/grid';
import { must } from '../../result';
import { opAmpCascade, source } from '../../testing/circuits';
import { distortion } from '../time/distortion';
import { groupDelaysS, phasesDeg } from '../curves/response';
import { sensitivity, worstCase } from './sensitivity';
import { AcSolver } from '../ac/solver';
import { valueDraws, type VaryingSlot } from './spread';

const grid = logGrid(50, 20e3, 13);

/** Response of a changed circuit, for differences. */
function responseAt(circuit: Assembled, slot: number, factor: number, unknown: number): Float64Array {
  const values = circuit.values.slice();
  values[slot] *= factor;
  return must(new AcSolver().difference({ ...circuit, values }, grid, [unknown, -1]));
}

const tank = assemble({
  elements: [
    V('V', 'in', '0', 1),
    R('R1', 'in', 'a', 100),
    L('L1', 'a', '0', 2e-3),
    L('L2', 'out', '0', 5e-3),
    { name: 'K', definition: couplingBetween('L1', 'L2'), nodes: [], values: [0.6] },
    C('C1', 'a', '0', 1e-6),
    R('R2', 'out', '0', 500),
    C('C2', 'out', '0', 2e-7),
  ],
  merged: [],
});
const cascade = opAmpCascade(2);

test.each([
  ['coupled tanks', tank, 'out'],
  ['two op-amp stages', cascade.circuit, cascade.output],
] as const)('the adjoint agrees with differences: %s', (_, circuit, node) => {
  const unknown = circuit.structure.nodeOf(node) as number;
  const slots =
    circuit.structure.unknowns.length > 0
      ? Array.from({ length: circuit.structure.slotCount }, (_, s) => s).filter(
          (s) => Math.abs(circuit.values[s]) > 0 && !circuit.structure.drives.some((d) => d.magnitudeSlot === s),
        )
      : [];
  const { relative, response } = must(sensitivity(circuit, grid, [unknown, -1], slots));
  const h = 1e-5;
  slots.forEach((slot, p) => {
    const [up, down] = [responseAt(circuit, slot, 1 + h, unknown), responseAt(circuit, slot, 1 - h, unknown)];
    grid.forEach((_, f) => {
      const [dr, di] = [(up[2 * f] - down[2 * f]) / (2 * h), (up[2 * f + 1] - down[2 * f + 1]) / (2 * h)];
      const [hr, hi] = [response[2 * f], response[2 * f + 1]];
      const size = hr * hr + hi * hi;
      expect(relative[p][2 * f]).toBeCloseTo((dr * hr + di * hi) / size, 5);
      expect(relative[p][2 * f + 1]).toBeCloseTo((di * hr - dr * hi) / size, 5);
    });
  });
});

test(
  'sensitivities to all resistors, and to all reactances, sum as impedance scaling and frequency ' + 'scaling demand',
  () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: 2, max: 5, noNaN: true }), fc.double({ min: -9, max: -6, noNaN: true })), {
          minLength: 1,
          maxLength: 6,
        }),
        (rungs) => {
          const elements = [V('V', 'n0', '0', 1)];
          rungs.forEach(([r, c], i) =>
            elements.push(R(`R${i}`, `n${i}`, `n${i + 1}`, 10 ** r), C(`C${i}`, `n${i + 1}`, '0', 10 ** c)),
          );
          const circuit = assemble({ elements, merged: [] });
          const slots = (letter: string) => rungs.map((_, i) => circuit.structure.slotOf(`${letter}${i}`) as number);
          const { relative } = must(
            sensitivity(
              circuit,
              grid,
              [circuit.structure.nodeOf(`n${rungs.length}`) as number, -1],
              [...slots('R'), ...slots('C')],
            ),
          );
          grid.forEach((_, f) => {
            const sum = (from: number) => rungs.reduce((total, _, i) => total + relative[from + i][2 * f], 0);
            // All R up and all C down by the same share change nothing.
            expect(sum(0) - sum(rungs.length)).toBeCloseTo(0, 8);
          });
        },
      ),
      { numRuns: 40 },
    ),
);

test('group delay is exact: it agrees with differences on a fine grid, and with RC/(1 + (ωRC)²)', () => {
  const rc = assemble({
    elements: [V('V', 'in', '0', 1), R('R', 'in', 'out', 1e3), C('C', 'out', '0', 1e-7)],
    merged: [],
  });
  const { groupDelayS } = must(sensitivity(rc, grid, [rc.structure.nodeOf('out') as number, -1], []));
  groupDelayS.forEach((d, i) => expect(d / (1e-4 / (1 + (2 * Math.PI * grid[i] * 1e-4) ** 2))).toBeCloseTo(1, 12));
  const fine = logGrid(500, 2000, 4001);
  const unknown = tank.structure.nodeOf('out') as number;
  const byDifferences = groupDelaysS(fine, phasesDeg(must(new AcSolver().difference(tank, fine, [unknown, -1]))));
  must(sensitivity(tank, fine, [unknown, -1], [])).groupDelayS.forEach(
    (d, i) => i > 0 && i < 4000 && expect(d / byDifferences[i]).toBeCloseTo(1, 4),
  );
});

describe('spread', () => {
  const divider = assemble({
    elements: [V('V', 'in', '0', 1), R('R1', 'in', 'out', 1e3), R('R2', 'out', '0', 1e3)],
    merged: [],
  });
  const slots = ['R1', 'R2'].map((name) => divider.structure.slotOf(name) as number);
  const out = [divider.structure.nodeOf('out') as number, -1] as const;
  const separate: VaryingSlot[] = slots.map((slot) => ({ slot, tolerancePct: 5 }));
  const matched: VaryingSlot[] = slots.map((slot) => ({
    slot,
    tolerancePct: 5,
    batch: { id: 'b', matchPct: 0.5 },
  }));

  test('worst case of a divider: both parts against each other; of a matched pair, only as far as they differ', () => {
    const one = Float64Array.of(1000);
    const apart = must(worstCase(divider, one, out, separate));
    expect(10 ** (apart.highDb[0] / 20)).toBeCloseTo(1.05 / 2, 9);
    expect(10 ** (apart.lowDb[0] / 20)).toBeCloseTo(0.95 / 2, 9);
    const together = must(worstCase(divider, one, out, matched));
    expect(10 ** (together.highDb[0] / 20)).toBeLessThan(0.5 * 1.006);
    expect(10 ** (together.highDb[0] / 20)).toBeGreaterThan(0.5 * 1.004);
  });

  test('parts of a batch track in every draw, stay within tolerance, and leave no draw outside the worst case', () => {
    const draw = valueDraws(divider.values, matched, 7);
    const limits = must(
      worstCase(
        cascade.circuit,
        grid,
        [cascade.circuit.structure.nodeOf(cascade.output) as number, -1],
        [2, 3].map((slot) => ({ slot, tolerancePct: 2 })),
      ),
    );
    for (let i = 0; i < 300; i++) {
      const v = draw(new Float64Array(divider.values.length));
      for (const slot of slots) expect(Math.abs(v[slot] / 1e3 - 1)).toBeLessThanOrEqual(0.05 + 1e-12);
      expect(Math.abs(v[slots[0]] / v[slots[1]] - 1)).toBeLessThan(0.0106);
    }
    const wide = valueDraws(
      cascade.circuit.values,
      [2, 3].map((slot) => ({ slot, tolerancePct: 2 })),
      3,
    );
    for (let i = 0; i < 40; i++) {
      const response = must(
        new AcSolver().sweep(
          { ...cascade.circuit, values: wide(new Float64Array(cascade.circuit.values.length)) },
          grid,
          [cascade.output],
        ),
      )[0];
      grid.forEach((_, f) => {
        const level = 20 * Math.log10(Math.hypot(response[2 * f], response[2 * f + 1]));
        expect(level > limits.lowDb[f] - 1e-3 && level < limits.highDb[f] + 1e-3).toBe(true);
      });
    }
  });
});

describe('distortion', () => {
  const through = (...elements: Parameters<typeof assemble>[0]['elements']) =>
    assemble({ elements: [source('V', 'in', '0', { dc: 0 }), ...elements], merged: [] });

  test('a linear circuit makes none, and its fundamental has the AC level', () => {
    const circuit = through(R('R', 'in', 'out', 1e3), C('C', 'out', '0', 1e-7));
    const { levels, total } = must(
      distortion(circuit, {
        source: 'V',
        amplitude: 2,
        freqHz: 1000,
        output: [circuit.structure.nodeOf('out') as number, -1],
      }),
    );
    expect(levels[0]).toBeCloseTo(2 / Math.hypot(1, 2 * Math.PI * 0.1), 4);
    expect(total).toBeLessThan(1e-5);
  });

  test('a pair of diodes back to back clips in odd harmonics only; one diode in even ones too', () => {
    const clip = (name: string, a: string, k: string) => ({
      name,
      definition: diode,
      nodes: [a, k],
      values: [1e-12, 1, 0],
    });
    const pair = through(R('R', 'in', 'out', 1e3), clip('D1', 'out', '0'), clip('D2', '0', 'out'));
    const out = [pair.structure.nodeOf('out') as number, -1] as const;
    const odd = must(distortion(pair, { source: 'V', amplitude: 2, freqHz: 1000, output: out }));
    expect(odd.levels[1] / odd.levels[0]).toBeLessThan(1e-6);
    expect(odd.levels[2] / odd.levels[0]).toBeGreaterThan(0.1);
    const single = through(R('R', 'in', 'out', 1e3), clip('D1', 'out', '0'));
    const even = must(distortion(single, { source: 'V', amplitude: 2, freqHz: 1000, output: out }));
    expect(even.levels[1] / even.levels[0]).toBeGreaterThan(0.1);
    expect(distortion(single, { source: 'nobody', amplitude: 1, freqHz: 1, output: out })).toMatchObject({
      ok: false,
      code: 'no-such-source',
    });
  });
});
