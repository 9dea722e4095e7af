import { levelsDb } from '../../analysis/curves/response';
import { AcSolver } from '../../analysis/ac/solver';
import { valueDraws } from '../../analysis/tolerance/spread';
import { logGrid } from '../../math/grid';
import { must } from '../../result';
import { AS_BUILT, compile, IDEAL } from './compile';
import { arrangeStages, createDesign, createPlan, createWay, placeOf } from '../making/create';
import { demoDesigns } from '../demo/demo';
import { readDesign, readDesignText, writeDesign } from '../document/migrate';
import { designSchema, type Design } from '../document/schema';
import { idealTargets, wayTargets } from '../stages/targets';

let n = 0;
const makeId = () => `t${n++}`;
const grid = logGrid(20, 20e3, 41);

const lowPass = (order: number, patch: Partial<Design['variants'][0]['ways'][0]['plans'][0]> = {}): Design =>
  createDesign('t', (id) => [{ ...createPlan(id(), 'lowpass', 'butterworth', order, 1000), ...patch }], makeId);

describe('a tree of two ways that share a first stage', () => {
  const design = ((): Design => {
    const base = lowPass(1);
    const [trunk] = base.variants[0].ways;
    const branch = {
      ...createWay('branch', [createPlan('bp', 'highpass', 'butterworth', 2, 200)], makeId),
      from: { kind: 'stage' as const, way: trunk.id, stage: trunk.stages[0].id, output: 'out' },
      load: { kind: 'resistance' as const, ohm: 22e3 },
    };
    const longer = {
      ...trunk,
      stages: [
        ...trunk.stages,
        {
          ...createWay('x', [createPlan('xp', 'lowpass', 'butterworth', 2, 500)], makeId).stages[0],
          target: {
            kind: 'own' as const,
            of: null,
            response: 'lowpass' as const,
            order: 2 as const,
            freqHz: 500,
            q: 0.7,
            gainDb: 0,
          },
        },
      ],
    };
    return {
      ...base,
      brief: { ...base.brief, source: { name: 's', ohm: 0 } },
      variants: [{ ...base.variants[0], ways: [longer, branch], join: 'acoustic' }],
    };
  })();

  test('survives the file', () => expect(must(readDesignText(writeDesign(design)))).toEqual(design));

  test('compiles to one circuit in which both ways hear the shared stage', () => {
    const compiled = must(compile(design, design.variants[0], IDEAL));
    const [a, b] = must(
      new AcSolver().sweep(
        compiled.circuit,
        grid,
        compiled.ways.map((w) => w.output),
      ),
    ).map(levelsDb);
    grid.forEach((f, i) => {
      const shared = -10 * Math.log10(1 + (f / 1000) ** 2);
      const high = -10 * Math.log10(1 + (200 / f) ** 4);
      expect(b[i]).toBeCloseTo(shared + high, 6);
      const u = (f / 500) ** 2;
      expect(a[i]).toBeCloseTo(shared - 10 * Math.log10((1 - u) ** 2 + u / 0.49), 6);
    });
  });

  test('a way may not start from one after it, nor from a stage that is not there', () => {
    const [first, second] = design.variants[0].ways;
    const turned = { ...design, variants: [{ ...design.variants[0], ways: [second, first] }] };
    expect(readDesign(turned)).toMatchObject({ code: 'broken-design' });
    const lost = {
      ...design,
      variants: [
        {
          ...design.variants[0],
          ways: [first, { ...second, from: { kind: 'stage', way: first.id, stage: 'nowhere', output: 'out' } }],
        },
      ],
    };
    expect(readDesign(lost)).toMatchObject({
      code: 'broken-design',
      data: { issues: [expect.stringContaining('names no stage')] },
    });
  });
});

test('dragging a cutoff of an eighth order and a thousand draws make one elimination plan', () => {
  const solver = new AcSolver();
  let parts = null as null | ReturnType<
    typeof must<
      ReturnType<typeof compile> extends infer R ? (R extends { ok: true; value: infer V } ? V : never) : never
    >
  >;
  for (let f = 300; f < 9000; f *= 1.01) {
    const design = lowPass(8, { cutoffHz: f });
    const ids = design.variants[0].ways[0].stages.map((_, i) => `s${i}`);
    const way = {
      ...design.variants[0].ways[0],
      id: 'w',
      stages: design.variants[0].ways[0].stages.map((s, i) => ({ ...s, id: ids[i] })),
    };
    const compiled = must(compile(design, { ...design.variants[0], ways: [way] }, AS_BUILT));
    must(solver.sweep(compiled.circuit, grid, [compiled.ways[0].output]));
    parts = compiled;
  }
  if (!parts) throw new Error('nothing compiled');
  const draw = valueDraws(parts.circuit.values, parts.parts, 7);
  const values = new Float64Array(parts.circuit.values.length);
  for (let i = 0; i < 1000; i++)
    must(solver.sweep({ structure: parts.circuit.structure, values: draw(values) }, grid, [parts.ways[0].output]));
  expect(solver.plansMade).toBe(1);
});

test('every part of the circuit leads back to its stage', () => {
  const design = demoDesigns()[2];
  const compiled = must(compile(design, design.variants[0], AS_BUILT));
  for (const part of compiled.parts) {
    const stage = compiled.ways[0].stages.find((s) => s.stage.id === part.stageId);
    const expected = stage ? stage.parts.find((p) => p.spec.name === part.part)?.chosen : 1000;
    expect(compiled.circuit.values[part.slot]).toBe(expected);
  }
  expect(compiled.parts.some((p) => p.part === 'Rout')).toBe(true);
});

describe('gain', () => {
  test('is given to the earliest stage that can, and what cannot be had is reported', () => {
    const design = lowPass(5, { gainDb: 12 });
    const { targets, shortfall } = wayTargets(design.variants[0].ways[0]);
    expect(20 * Math.log10(targets[0]?.gain ?? NaN)).toBeCloseTo(12, 10);
    expect(shortfall).toBe(1);
    expect(20 * Math.log10(wayTargets(lowPass(4, { gainDb: 12 }).variants[0].ways[0]).shortfall)).toBeCloseTo(12, 10);
  });
  test('an even Chebyshev peaks at the gain asked for, so its DC lies a ripple below', () => {
    const design = lowPass(4, { alignment: 'chebyshev', rippleDb: 1, cutoffAt: 'own' });
    const product = wayTargets(design.variants[0].ways[0]).targets.reduce((g, t) => g * (t?.gain ?? NaN), 1);
    expect(20 * Math.log10(product)).toBeCloseTo(-1, 10);
    expect(idealTargets(design.variants[0].ways[0]).reduce((g, t) => g * t.gain, 1)).toBeCloseTo(product, 12);
  });
});

describe('stages follow the plan', () => {
  const way = lowPass(4).variants[0].ways[0];
  test('a higher order keeps the stages that stand', () => {
    const grown = arrangeStages({ ...way, plans: [{ ...way.plans[0], order: 6 }] }, makeId);
    expect(grown.stages).toHaveLength(3);
    expect(grown.stages.slice(0, 2).map((s) => s.id)).toEqual(way.stages.map((s) => s.id));
  });
  test('high Q first turns them round; a retuned stage keeps its place', () => {
    const retuned = {
      ...way.stages[1],
      target: {
        kind: 'own' as const,
        of: { plan: way.plans[0].id, section: 1 },
        response: 'lowpass' as const,
        order: 2 as const,
        freqHz: 900,
        q: 2,
        gainDb: 0,
      },
    };
    const turned = arrangeStages(
      {
        ...way,
        stages: [way.stages[0], retuned],
        plans: [{ ...way.plans[0], stageOrder: 'high-q-first' }],
      },
      makeId,
    );
    expect(turned.stages.map((s) => placeOf(s)?.section)).toEqual([1, 0]);
    expect(turned.stages[0].target).toMatchObject({ kind: 'own', freqHz: 900 });
  });
});

describe('design files', () => {
  test.each(demoDesigns().map((d) => [d.title, d] as const))('%s is valid and comes back the same', (_, design) => {
    expect(designSchema.safeParse(design).error).toBeUndefined();
    expect(must(readDesignText(writeDesign(design)))).toEqual(design);
  });
  test.each([
    ['{', 'not-json'],
    ['{}', 'not-a-design'],
    ['[1]', 'not-a-design'],
    ['{"format":"jaunty-reed-design","version":99}', 'newer-version'],
    ['{"format":"jaunty-reed-design","version":1}', 'broken-design'],
    ['{"format":"jaunty-reed-design"}', 'broken-design'],
  ])('%s is refused as %s', (text, code) => expect(readDesignText(text)).toMatchObject({ ok: false, code }));
  test('a broken one says where', () => {
    const design = JSON.parse(writeDesign(demoDesigns()[0]));
    design.variants[0].ways[0].plans[0].cutoffHz = -3;
    design.variants[0].ways[0].stages[0].topology = 'nonesuch';
    const read = readDesign(design);
    expect(read).toMatchObject({ code: 'broken-design' });
    expect(JSON.stringify(read)).toContain('variants.0.ways.0.plans.0.cutoffHz');
    expect(JSON.stringify(read)).toContain('no topology is called this');
  });
});

test('parts of one batch are drawn together: apart by no more than they are matched to', () => {
  const design = demoDesigns()[0];
  const [variant] = design.variants;
  const stage = variant.ways[0].stages[1];
  const [a, b] = ['C1', 'C2'];
  const batch = { id: 'bag', name: 'Bag', matchPct: 0.2, parts: [a, b].map((part) => ({ stage: stage.id, part })) };
  const built = must(compile(design, { ...variant, batches: [batch] }, AS_BUILT));
  const slots = [a, b].map((part) => built.parts.find((p) => p.stageId === stage.id && p.part === part)!);
  expect(slots.map((s) => s.batch)).toEqual([
    { id: 'bag', matchPct: 0.2 },
    { id: 'bag', matchPct: 0.2 },
  ]);
  const { values } = built.circuit;
  const draw = valueDraws(values, built.parts, 5);
  let [apart, off] = [0, 0];
  for (let run = 0; run < 200; run++) {
    const drawn = draw(new Float64Array(values.length));
    const [x, y] = slots.map(({ slot }) => 100 * (drawn[slot] / values[slot] - 1));
    apart = Math.max(apart, Math.abs(x - y));
    off = Math.max(off, Math.abs(x));
  }
  expect(apart).toBeGreaterThan(0.2);
  expect(apart).toBeLessThanOrEqual(0.4 + 1e-9);
  expect(off).toBeGreaterThan(4);
});
