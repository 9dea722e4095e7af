import { AcSolver } from '../../analysis/ac/solver';
import { AS_DESIGNED } from '../../design/compiled/board';
import { demoDesigns } from '../../design/demo/demo';
import { logGrid } from '../../math/grid';
import { must } from '../../result';
import { builtVariant } from '../reading/built-variant';
import { withFault } from './draw-board';
import { JobRunner } from '../run-job';
import { hiddenFault, seededBoard } from './hidden-fault';

const solver = new AcSolver();
const grid = logGrid(20, 20e3, 61);
const designs = demoDesigns();
const levels = (design: (typeof designs)[number], fault: string | null) => {
  const { variant } = must(builtVariant(design, design.currentVariant));
  const board = fault === null ? AS_DESIGNED : must(withFault(design, variant, AS_DESIGNED, fault));
  const { circuit, ways } = must(builtVariant(design, variant.id, { board }));
  const [row] = must(solver.sweep(circuit, grid, [ways[0].output]));
  return grid.map((_, i) => 20 * Math.log10(Math.hypot(row[2 * i], row[2 * i + 1]) + 1e-15));
};

test.each(designs.slice(0, 4).map((d) => [d.title, d] as const))('what is hidden in %s can be seen', (_, design) => {
  const { variant } = must(builtVariant(design, design.currentVariant));
  const faults = [1, 2, 3, 4, 5, 6].map((seed) => must(hiddenFault(design, variant, 'out', seed, solver)));
  expect(must(hiddenFault(design, variant, 'out', 3, solver))).toBe(faults[2]);
  expect(new Set(faults).size).toBeGreaterThan(2);
  const sound = levels(design, null);
  for (const fault of faults) {
    expect(fault).toMatch(/^[RCLP]\d+=(x[\d.]+|open|short)$/);
    const broken = levels(design, fault);
    expect(Math.max(...sound.map((db, i) => Math.abs(db - broken[i])))).toBeGreaterThan(1);
  }
});

test('what is revealed of a board is what was hidden in it', async () => {
  const [design] = designs;
  const { variant } = must(builtVariant(design, design.currentVariant));
  const asked = { kind: 'reveal-fault', design, variantId: variant.id, place: 'out' } as const;
  const runner = new JobRunner();
  const kinds = new Set<string>();
  for (let board = 1; board <= 12; board++) {
    const { designator, is, factor } = must(await runner.run<'reveal-fault'>({ ...asked, board }));
    kinds.add(is);
    // The fault put into the same board by its words, in place of by its seed.
    const sound = must(seededBoard(design, variant.id, { seed: board, hidden: false, place: 'out' }, solver));
    const broken = must(seededBoard(design, variant.id, { seed: board, hidden: true, place: 'out' }, solver));
    const words = is === 'value' ? `x${factor}` : is;
    expect(must(withFault(design, variant, sound, `${designator}=${words}`))).toEqual(broken);
  }
  expect(kinds.has('value')).toBe(true);
  expect(kinds.size).toBeGreaterThan(1);
});

test('a path without a part has nothing to break', () => {
  const [design] = designs;
  const { variant } = must(builtVariant(design, design.currentVariant));
  const bare = { ...variant, ways: variant.ways.map((way) => ({ ...way, stages: [] })) };
  const empty = { ...design, variants: [bare] };
  expect(hiddenFault(empty, bare, 'out', 1, solver)).toMatchObject({ ok: false, code: 'nothing-to-break' });
});
