import fc from 'fast-check';
import { demoDesigns } from '../design/demo';
import { buildSheet, stripParts } from '../design/build-sheet';
import { must } from '../result';
import { checkStrips, stripPlan, type StripPart } from './strip-board';

const two = (reference: string, a: string, b: string, kind: StripPart['kind'] = 'resistor'): StripPart => ({ reference, kind, pins: [{ name: 'a', net: a }, { name: 'b', net: b }] });
const DIVIDER: StripPart[] = [two('R1', 'in', 'n'), two('R2', 'n', 'ground'), two('C1', 'n', 'out', 'capacitor')];

const CASES: [string, string, number][] = [['Stopped flute', 'A', 3], ['Stopped flute', 'B', 3], ['Stopped flute', 'C', 4], ['Swell pedal wah', 'A', 2], ['Swell pedal wah', 'B', 2], ['Plucked stop', 'A', 2]];

test.each(CASES)('%s, variant %s: the plan, read back as copper, joins what the circuit joins and nothing else', (title, name) => {
  const design = demoDesigns().find((d) => d.title.startsWith(title))!;
  const { parts, leaving } = must(stripParts(design, design.variants.find((v) => v.name === name)!));
  const plan = must(stripPlan(parts, leaving));
  const { pins, faults } = checkStrips(plan, parts);
  expect(faults).toEqual([]);
  expect(pins).toBe(parts.reduce((sum, p) => sum + p.pins.length, 0));
  // Every part of the shopping list that is soldered in is on it.
  const bought = must(buildSheet(design, design.variants.find((v) => v.name === name)!)).parts.flatMap((l) => l.references);
  for (const reference of bought) expect(plan.parts.map((p) => p.reference)).toContain(reference);
});

test('a wrong hole, a missing lead, a cut too many and a wire too many are all found', () => {
  const plan = must(stripPlan(DIVIDER, [{ label: 'input', net: 'in' }]));
  const moved = { ...plan, parts: plan.parts.map((p) => (p.reference === 'R1' ? { ...p, pins: p.pins.map((pin, i) => (i === 0 ? { ...pin, row: (pin.row + 1) % plan.rows.length, column: plan.columns - 1 } : pin)) } : p)) };
  expect(checkStrips(moved, DIVIDER).faults.length).toBeGreaterThan(0);
  const missing = { ...plan, parts: plan.parts.filter((p) => p.reference !== 'C1') };
  expect(checkStrips(missing, DIVIDER).faults.map((f) => f.kind)).toContain('missing');
  const row = plan.rows.indexOf('n');
  const columns = plan.parts.flatMap((p) => p.pins).filter((pin) => pin.row === row).map((pin) => pin.column).sort((a, b) => a - b);
  // A cut beside a lead parts it from the rest of its strip.
  const wide = { ...plan, parts: plan.parts.map((p) => ({ ...p, pins: p.pins.map((pin) => ({ ...pin, column: pin.column * 2 })) })), columns: plan.columns * 2 };
  expect(checkStrips(wide, DIVIDER).faults).toEqual([]);
  expect(checkStrips({ ...wide, cuts: [{ column: 2 * columns[0] + 1, row }] }, DIVIDER).faults.map((f) => f.kind)).toContain('apart');
  expect(checkStrips({ ...wide, links: [{ column: wide.columns - 1, fromRow: plan.rows.indexOf('in'), toRow: plan.rows.indexOf('out') }] }, DIVIDER).faults.map((f) => f.kind)).toContain('joined');
  expect(checkStrips({ ...plan, parts: plan.parts.map((p) => (p.reference === 'R2' ? { ...p, pins: [plan.parts.find((x) => x.reference === 'C1')!.pins[0], p.pins[1]] } : p)) }, DIVIDER).faults.map((f) => f.kind)).toContain('same-hole');
});

test('an op-amp stands across its cuts, wired to its nets and its rails', () => {
  const parts: StripPart[] = [two('R1', 'in', 'm'), two('R2', 'm', 'out'), { reference: 'U1', kind: 'op-amp', pins: [{ name: '+', net: 'ground' }, { name: '−', net: 'm' }, { name: 'out', net: 'out' }, { name: 'V+', net: '+V' }, { name: 'V−', net: '−V' }] }];
  const plan = must(stripPlan(parts, [{ label: '+V', net: '+V' }, { label: '−V', net: '−V' }]));
  expect(checkStrips(plan, parts).faults).toEqual([]);
  expect(plan.cuts).toHaveLength(4);
  expect(plan.links).toHaveLength(5);
});

test('what is too large, or has a package that is no op-amp, is refused by name', () => {
  const many = Array.from({ length: 30 }, (_, i) => two(`R${i}`, `n${i}`, `n${i + 1}`));
  expect(stripPlan(many, [])).toMatchObject({ ok: false, code: 'too-large-for-strips' });
  expect(stripPlan([{ reference: 'X1', kind: 'device', pins: [1, 2, 3, 4, 5].map((n) => ({ name: `${n}`, net: `n${n}` })) }], [])).toMatchObject({ ok: false, code: 'not-for-strips', data: { part: 'X1' } });
});

test('a transistor’s nets lie near one another where nothing forbids it', () => {
  const parts: StripPart[] = [...Array.from({ length: 8 }, (_, i) => two(`R${i}`, `n${i}`, `n${i + 1}`)), { reference: 'Q1', kind: 'device', pins: [{ name: 'collector', net: 'n0' }, { name: 'base', net: 'n8' }, { name: 'emitter', net: 'n4' }] }];
  const plan = must(stripPlan(parts, []));
  const rows = plan.parts.find((p) => p.reference === 'Q1')!.pins.map((p) => p.row);
  expect(Math.max(...rows) - Math.min(...rows)).toBeLessThanOrEqual(4);
});

test('the shopping list of a voice names its devices, and the connections name their leads', () => {
  const flute = demoDesigns().find((d) => d.title.startsWith('Stopped flute'))!;
  const sheet = must(buildSheet(flute, flute.variants[0]));
  expect(sheet.parts.filter((l) => l.kind === 'device').map((l) => [l.name, l.references])).toEqual([['small NPN transistor', ['Q1.2']], ['small silicon diode', ['D1.1', 'D2.1']]]);
  const pins = sheet.connections.flatMap((c) => c.pins);
  for (const pin of ['Q1.2 collector', 'Q1.2 base', 'Q1.2 emitter', 'D1.1 anode', 'I1.1 into']) expect(pins).toContain(pin);
  expect(sheet.connections.map((c) => c.net)).toEqual(expect.arrayContaining(['+V', 'battery −', 'input', 'output']));
  const voice = demoDesigns().find((d) => d.title.startsWith('Reed voice'))!;
  const cascade = must(buildSheet(voice, voice.variants[1]));
  expect(cascade.parts.find((l) => l.name === 'OTA')?.perBoard).toBe(4);
  expect(cascade.opAmpUnits).toBe(4);
});

test('any small circuit that is planned at all is planned right', () => {
  const net = fc.integer({ min: 0, max: 9 }).map((n) => `n${n}`);
  const part = fc.oneof(
    fc.tuple(net, net).map(([a, b]) => ({ kind: 'resistor' as const, nets: [a, b], pins: ['a', 'b'] })),
    fc.tuple(net, net, net).map((nets) => ({ kind: 'device' as const, nets, pins: ['collector', 'base', 'emitter'] })),
    fc.tuple(net, net, net).map((nets) => ({ kind: 'op-amp' as const, nets: [...nets, '+V', '−V'], pins: ['+', '−', 'out', 'V+', 'V−'] })),
  );
  fc.assert(
    fc.property(fc.array(part, { minLength: 1, maxLength: 16 }), (list) => {
      const parts: StripPart[] = list.map(({ kind, nets, pins }, i) => ({ reference: `X${i}`, kind, pins: pins.map((name, p) => ({ name, net: nets[p] })) }));
      const plan = must(stripPlan(parts, [{ label: 'first', net: parts[0].pins[0].net }]));
      expect(checkStrips(plan, parts).faults).toEqual([]);
    }),
    { numRuns: 60, seed: 5 },
  );
});
