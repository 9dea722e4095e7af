import { assemble } from '../circuit/structure';
import { AcSolver } from '../analysis/ac/solver';
import { ALIGNMENTS } from '../filter/alignments/index';
import { butterworth } from '../filter/alignments/butterworth';
import { linkwitzRiley } from '../filter/alignments/linkwitz-riley';
import { powerAt, type Alignment } from '../filter/alignments/define-alignment';
import { logGrid } from '../math/grid';
import { nearestPreferred } from '../parts/preferred';
import { must } from '../result';
import { passiveCrossover } from './crossover';

const grid = logGrid(20, 20e3, 61);
const exact = (_: string, value: number) => value;

function responses(alignment: Alignment, order: number, cutoffsHz: number[], loadsOhm: number[]) {
  const netlist = must(passiveCrossover({ alignment, order, cutoffsHz, loadsOhm, rippleDb: 0.5, snap: exact }));
  const names = cutoffsHz.length === 2 ? ['low', 'mid', 'high'] : ['low', 'high'];
  return must(new AcSolver().sweep(assemble(netlist), grid, names));
}
const power = (v: Float64Array, i: number) => v[2 * i] ** 2 + v[2 * i + 1] ** 2;

test.each(
  // A ladder of coils and capacitors by turns has no nulls.
  ALIGNMENTS.filter((a) => !a.hasAttenuation && a.id !== 'custom').flatMap((a) =>
    [1, 2, 3, 4]
      .filter((n) => (a.orders as readonly number[]).includes(n))
      .map((n) => [a.name, n, a as Alignment] as const),
  ),
)('%s of order %i: both ways are the prototype and its mirror image', (_, order, alignment) => {
  const [low, high] = responses(alignment, order, [1000], [8, 4]);
  const sections = alignment.prototype(order, {
    rippleDb: 0.5,
    cutoffAt: alignment.defaultCutoffAt,
  });
  grid.forEach((f, i) => {
    expect(10 * Math.log10(power(low, i) / powerAt(sections, f / 1000))).toBeCloseTo(0, 4);
    expect(10 * Math.log10(power(high, i) / powerAt(sections, 1000 / f))).toBeCloseTo(0, 4);
  });
});

test('sums: Linkwitz-Riley of order 4 and Butterworth of order 3 are flat, order 2 with one way turned over', () => {
  const flat = (order: number, alignment: Alignment, sign: number) => {
    const [low, high] = responses(alignment, order, [2000], [8]);
    grid.forEach((_, i) =>
      expect(
        10 * Math.log10((low[2 * i] + sign * high[2 * i]) ** 2 + (low[2 * i + 1] + sign * high[2 * i + 1]) ** 2),
      ).toBeCloseTo(0, 3),
    );
  };
  flat(4, linkwitzRiley, 1);
  flat(2, linkwitzRiley, -1);
  flat(3, butterworth, 1);
  flat(3, butterworth, -1);
  flat(1, butterworth, 1);
});

test('values of the textbook: order 2, 8 ohm, 2 kHz', () => {
  const netlist = must(
    passiveCrossover({
      alignment: butterworth,
      order: 2,
      cutoffsHz: [2000],
      loadsOhm: [8],
      rippleDb: 0.5,
      snap: exact,
    }),
  );
  const value = (name: string) => netlist.elements.find((e) => e.name === name)?.values[0] ?? NaN;
  const omega = 2 * Math.PI * 2000;
  expect(value('Llow1')).toBeCloseTo((8 * Math.SQRT2) / omega, 10);
  expect(value('Clow2')).toBeCloseTo(1 / (8 * Math.SQRT2 * omega), 12);
  expect(value('Chigh1')).toBeCloseTo(1 / (8 * Math.SQRT2 * omega), 12);
  expect(value('Lhigh2')).toBeCloseTo((8 * Math.SQRT2) / omega, 10);
});

test(
  'three ways: the middle one passes between its edges and is down at both; parts come from a series ' + 'when asked',
  () => {
    const [low, mid, high] = responses(butterworth, 2, [400, 3000], [8, 6, 4]);
    const at = (v: Float64Array, f: number) =>
      10 *
      Math.log10(
        power(
          v,
          grid.findIndex((g) => g >= f),
        ),
      );
    expect(at(mid, Math.sqrt(400 * 3000))).toBeCloseTo(0, 1);
    expect(at(mid, 60)).toBeLessThan(-25);
    expect(at(mid, 19e3)).toBeLessThan(-25);
    expect(at(low, 30)).toBeCloseTo(0, 2);
    expect(at(high, 19e3)).toBeCloseTo(0, 1);
    const snapped = must(
      passiveCrossover({
        alignment: butterworth,
        order: 2,
        cutoffsHz: [400, 3000],
        loadsOhm: [8],
        rippleDb: 0.5,
        snap: (_, v) => nearestPreferred(v, 'E12'),
      }),
    );
    for (const { definition, values } of snapped.elements)
      if (/capacitor|inductor/.test(definition.kind)) expect(nearestPreferred(values[0], 'E12')).toBe(values[0]);
  },
);
