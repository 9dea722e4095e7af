import { AS_DESIGNED } from '../../design/compiled/board';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import { demoDesigns } from '../../design/demo/demo';
import { designatorsOf } from '../../design/stages/designators';
import { must } from '../../result';
import { builtVariant } from '../reading/built-variant';
import { drawBoard, withFault } from './draw-board';

const [design] = demoDesigns();
const { variant, ways, parts, circuit } = must(builtVariant(design, design.currentVariant));
const names = designatorsOf(ways);
const elementOf = (designator: string) => [...names].find(([, name]) => name === designator)?.[0] ?? '';
const called = (kind: string) =>
  ways
    .flatMap((w) => w.stages)
    .flatMap(({ stage, parts: own }) => own.map((p) => ({ element: `${stage.id}.${p.spec.name}`, part: p })))
    .filter(({ part }) => part.spec.kind === kind)
    .map(({ element }) => names.get(element) ?? '');
const resistors = called('resistor');
const [capacitor] = called('capacitor');

test('a board’s parts lie within their tolerances, the same for the same seed, others for another', () => {
  const board = must(drawBoard(design, variant, 5));
  expect(must(drawBoard(design, variant, 5))).toEqual(board);
  expect(must(drawBoard(design, variant, 6))).not.toEqual(board);
  for (const { stageId, part, tolerancePct } of parts) {
    const share = board.factors.get(`${stageId}.${part}`) ?? NaN;
    expect(Math.abs(share - 1)).toBeLessThanOrEqual(tolerancePct / 100);
  }
  const built = must(compile(design, variant, { ...AS_BUILT, board }));
  built.parts.forEach(({ stageId, part, slot }, i) =>
    expect(built.circuit.values[slot] / circuit.values[parts[i].slot]).toBeCloseTo(
      board.factors.get(`${stageId}.${part}`) ?? NaN,
      12,
    ),
  );
});

test('faults as they are written: a factor, two swapped, open, short, a dead op-amp', () => {
  const [first] = resistors;
  const factor = must(withFault(design, variant, AS_DESIGNED, `${first}=x10`));
  expect(factor.factors.get(elementOf(first))).toBe(10);
  expect(must(withFault(design, variant, factor, `${first.toLowerCase()}=x0.5`)).factors.get(elementOf(first))).toBe(5);
  expect(must(withFault(design, variant, AS_DESIGNED, `${first}=open`)).failed.get(elementOf(first))).toBe('open');
  expect(must(withFault(design, variant, AS_DESIGNED, `${capacitor}=SHORT`)).failed.get(elementOf(capacitor))).toBe(
    'short',
  );
  const [opAmp] = [...names.values()].filter((n) => n.startsWith('U'));
  expect([...must(withFault(design, variant, AS_DESIGNED, `${opAmp}=dead`)).dead]).toEqual([elementOf(opAmp)]);
  const valueOf = (designator: string) => {
    const built = must(builtVariant(design, design.currentVariant));
    const own = built.parts.find((p) => `${p.stageId}.${p.part}` === elementOf(designator));
    return built.circuit.values[own?.slot ?? -1];
  };
  const other = resistors.find((r) => valueOf(r) !== valueOf(first)) ?? '';
  const swapped = must(withFault(design, variant, AS_DESIGNED, `${first}~${other}`));
  expect(swapped.factors.get(elementOf(first))).toBeCloseTo(valueOf(other) / valueOf(first), 12);
  expect(swapped.factors.get(elementOf(other))).toBeCloseTo(valueOf(first) / valueOf(other), 12);
});

test.each([
  ['', 'bad-fault'],
  ['R1', 'bad-fault'],
  ['R1=x0', 'bad-fault'],
  ['R1=loose', 'bad-fault'],
  ['U1=open', 'bad-fault'],
  ['R1=dead', 'bad-fault'],
  ['R999=open', 'no-part-there'],
  ['R1~R999', 'no-part-there'],
  [`R1~${capacitor}`, 'swap-of-kinds'],
])('%p is refused: %s', (fault, code) => {
  expect(withFault(design, variant, AS_DESIGNED, fault)).toMatchObject({ ok: false, code });
});

test('an open part leaves a leak, a short one no part, a dead op-amp its output at rest', () => {
  const [first] = resistors;
  const elements = (fault: string) => {
    const board = must(withFault(design, variant, AS_DESIGNED, fault));
    return must(compile(design, variant, { ...AS_BUILT, board })).netlist.elements;
  };
  expect(elements(`${first}=open`).find((e) => e.name === elementOf(first))?.values[0]).toBe(1e10);
  expect(elements(`${first}=short`).some((e) => e.name === elementOf(first))).toBe(false);
  const [opAmp] = [...names.values()].filter((n) => n.startsWith('U'));
  const dead = elements(`${opAmp}=dead`);
  expect(dead.some((e) => e.name === elementOf(opAmp))).toBe(false);
  expect(dead.some((e) => e.name === `${elementOf(opAmp)}.output`)).toBe(true);
});
