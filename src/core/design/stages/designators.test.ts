import { must } from '../../result';
import { AS_BUILT, compile } from '../compiled/compile';
import { demoDesigns } from '../demo/demo';
import { calledThroughout, designatorsOf, stageNumbers } from './designators';

const built = demoDesigns().flatMap((design) =>
  design.variants.map((variant) => {
    const { ways, netlist } = must(compile(design, variant, { ...AS_BUILT, rest: 'left' }));
    return { title: `${design.title}, ${variant.name}`, variant, ways, elements: netlist.elements };
  }),
);

test.each(built)(
  '$title: no two parts are called the same, and each keeps its figure',
  ({ ways, elements, variant }) => {
    const names = designatorsOf(ways);
    expect(new Set(names.values()).size).toBe(names.size);
    // No part and no device of the netlist is without a name.
    for (const { name } of elements) {
      const [stage, local = ''] = name.split('.');
      if (/^[RCLPUQDXT]\d*$/.test(local)) expect([name, names.has(`${stage}.${local}`)]).toEqual([name, true]);
    }
    const numbers = stageNumbers(variant.ways);
    for (const { stage, parts } of ways.flatMap((w) => w.stages))
      for (const { spec } of parts) {
        const name = names.get(`${stage.id}.${spec.name}`) as string;
        const [, letter, figure] = /^([RCLPIJ])(\d+)$/.exec(name) as unknown as [string, string, string];
        expect(Math.floor(Number(figure) / 100)).toBe((numbers.get(stage.id) as number) - 1);
        if (/^[RCL]\d$/.test(spec.name) && spec.name[0] === letter)
          expect(`${letter}${Number(figure) % 100}`).toBe(spec.name);
      }
  },
);

test('a stage keeps its number when another comes before it; what has none takes the lowest that is free', () => {
  const way = (...stages: { id: string; number?: number }[]) => ({ stages });
  expect([...stageNumbers([way({ id: 'a' }, { id: 'b' }), way({ id: 'c' })])]).toEqual([
    ['a', 1],
    ['b', 2],
    ['c', 3],
  ]);
  const numbers = stageNumbers([way({ id: 'new' }, { id: 'a', number: 1 }, { id: 'b', number: 3 }, { id: 'newer' })]);
  expect(Object.fromEntries(numbers)).toEqual({ new: 2, a: 1, b: 3, newer: 4 });
  // Two tabs may each have added a stage: the one that comes first keeps the number.
  expect(Object.fromEntries(stageNumbers([way({ id: 'a', number: 2 }, { id: 'b', number: 2 })]))).toEqual({
    a: 2,
    b: 1,
  });
});

test('a stage put in front, a bypass and a part left out change the name of nothing', () => {
  const { variant, ways } = built.find((b) => b.ways[0].stages.length > 1) as (typeof built)[number];
  const before = designatorsOf(ways);
  const numbers = stageNumbers(variant.ways);
  const stages = ways[0].stages.map((s) => ({ ...s, stage: { ...s.stage, number: numbers.get(s.stage.id) } }));
  const added = { ...stages[0], stage: { ...stages[0].stage, id: 'added', number: undefined } };
  const after = designatorsOf([{ stages: [added, ...stages] }, ...ways.slice(1)]);
  for (const [element, name] of before) expect(after.get(element)).toBe(name);
  expect(new Set(after.values()).size).toBe(after.size);
});

test('a bypassed stage keeps the names of its op-amps and devices too', () => {
  for (const { ways } of built) {
    const bypassed = ways.map((way) => ({
      stages: way.stages.map((s) => ({ ...s, stage: { ...s.stage, bypassed: !s.stage.bypassed } })),
    }));
    expect(designatorsOf(bypassed)).toEqual(designatorsOf(ways));
  }
});

test('a stage with more than a block holds runs into no other', () => {
  const { ways } = built.find((b) => b.ways[0].stages.length > 1) as (typeof built)[number];
  const [first, second] = ways[0].stages;
  const [part] = first.parts.filter((p) => p.spec.kind === 'resistor');
  const many = Array.from({ length: 250 }, (_, i) => ({ ...part, spec: { ...part.spec, name: `R${i + 1}` } }));
  const names = designatorsOf([{ stages: [{ ...first, parts: many }, second] } as never]);
  const called = [...names].filter(([key]) => key.startsWith(`${first.stage.id}.R`)).map(([, name]) => name);
  expect(called).toHaveLength(250);
  expect(called[98]).toBe('R99');
  expect(called[99]).toBe('R99_1');
  expect(new Set(names.values()).size).toBe(names.size);
});

test('a text calls parts as the whole variant does, and leaves what is no part of it', () => {
  const stage = { designators: { R1b: 'R2203', C1: 'C2201' } };
  expect(calledThroughout(stage, 'R1b alone tunes it; trim C1, not R5. Gain is 2Q − 1.')).toBe(
    'R2203 alone tunes it; trim C2201, not R5. Gain is 2Q − 1.',
  );
  expect(calledThroughout(null, 'R1b alone tunes it')).toBe('R1b alone tunes it');
});
