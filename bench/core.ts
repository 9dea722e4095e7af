import { planElimination } from '../src/core/analysis/elimination/plan';
import { AcSolver } from '../src/core/analysis/ac/solver';
import { valueDraws } from '../src/core/analysis/tolerance/spread';
import { AS_BUILT, compile } from '../src/core/design/compiled/compile';
import { createDesign, createPlan } from '../src/core/design/making/create';
import { runDesk } from '../src/core/jobs/desk/desk';
import { logGrid } from '../src/core/math/grid';
import { must } from '../src/core/result';

/** Median milliseconds of several runs of two things, taken in turn so that a busy machine treats both alike. */
function paired(a: () => void, b: () => void, rounds = 15): [number, number] {
  const times: [number[], number[]] = [[], []];
  for (let i = 0; i < rounds; i++)
    [a, b].forEach((work, k) => {
      const start = performance.now();
      work();
      times[k].push(performance.now() - start);
    });
  return times.map((t) => t.sort((x, y) => x - y)[t.length >> 1]) as [number, number];
}

/** Figures of the core on an eighth-order cascade with one-pole op-amps. */
export function measureCore(): Record<string, string | number> {
  let n = 0;
  const design = createDesign(
    'bench',
    (id) => [createPlan(id(), 'lowpass', 'butterworth', 8, 1000)],
    () => `b${n++}`,
  );
  const compiled = must(compile(design, design.variants[0], AS_BUILT));
  const { circuit } = compiled;
  const grid = logGrid(20, 20e3, 400);
  const [planMs, coldMs] = paired(
    () => planElimination(circuit.structure, circuit.values, 1000),
    () => must(new AcSolver().sweep(circuit, grid, [compiled.ways[0].output])),
  );
  const solver = new AcSolver();
  const request = {
    kind: 'desk' as const,
    design,
    variantId: design.currentVariant,
    ghostVariantId: null,
    grid: { fromHz: 20, toHz: 20e3, points: 401 },
  };
  const draw = valueDraws(circuit.values, compiled.parts, 1);
  const values = new Float64Array(circuit.values.length);
  const [deskMs, drawsMs] = paired(
    () => must(runDesk(request, solver)),
    () => {
      for (let i = 0; i < 100; i++)
        must(
          solver.sweep(
            { structure: circuit.structure, values: draw(values) },
            grid.filter((_, k) => k % 2 === 0),
            [compiled.ways[0].output],
          ),
        );
    },
    9,
  );
  return {
    unknowns: circuit.structure.size,
    'planning, ms': planMs.toFixed(2),
    'cold: plan and first curve, ms': coldMs.toFixed(2),
    'whole desk result, ms': deskMs.toFixed(1),
    '100 spread draws of 200 points, ms': drawsMs.toFixed(1),
  };
}
