import { findTopology } from '../topology/index';
import { drawingBounds, overlap, supplyBox, withSupply, type Drawing } from '../topology/kit/drawing';
import { schematicShapes, type Reading } from './schematic-shapes';

const drawn = (id: string, form = ''): Drawing => {
  const topology = findTopology(id)!;
  return (topology as { drawing(form: string, parts: object): Drawing }).drawing(form || topology.modes[0], {});
};
const texts = (drawing: Drawing, reading: Reading = 'built', names: Record<string, string> = {}): string[] =>
  schematicShapes(drawing, { values: {}, resistorSymbol: 'box', leftOut: {}, reading, names }).flatMap((s) =>
    s.kind === 'text' ? [s.text] : [],
  );

test('op-amps have their supply pins between the rails at the foot of their drawing, clear of all else', () => {
  for (const id of ['sallen-key-chosen-gain', 'state-variable', 'ota-cascade', 'leapfrog-ladder']) {
    const bare = drawn(id);
    const drawing = withSupply(bare);
    expect(drawing.supply?.units).toEqual(bare.opAmps.map((o) => o.name));
    expect(overlap(supplyBox(drawing.supply!), drawingBounds(bare))).toBe(false);
    const [own, all] = [supplyBox(drawing.supply!), drawingBounds(drawing)];
    expect([all.x0 <= own.x0, all.x1 >= own.x1, all.y1 >= own.y1, drawing.height >= own.y1]).toEqual(
      Array(4).fill(true),
    );
  }
});

test('they are called as the variant calls them; of many the first and the last', () => {
  const few = withSupply(drawn('state-variable'));
  expect(few.opAmps).toHaveLength(3);
  const names = Object.fromEntries(few.opAmps.map(({ name }, i) => [name, `U20${i + 1}`]));
  expect(texts(few, 'built', names)).toEqual(expect.arrayContaining(['+V', 'V+', 'U201, U202, U203', 'V−', '−V']));
  const many = withSupply(drawn('ota-cascade'));
  expect(many.opAmps.length).toBeGreaterThan(3);
  expect(texts(many)).toContain(`${many.opAmps[0].name} … ${many.opAmps[many.opAmps.length - 1].name}`);
});

test('the signal sees no supply, and what has no op-amp has no such pins', () => {
  const drawing = withSupply(drawn('sallen-key-unity-gain'));
  expect(texts(drawing, 'dc')).toContain('V+');
  expect(texts(drawing, 'signal')).not.toContain('V+');
  expect(withSupply(drawn('common-emitter')).supply).toBeUndefined();
});
