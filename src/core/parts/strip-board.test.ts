import fc from 'fast-check';
import { demoDesigns } from '../design/demo/demo';
import { buildSheet } from '../design/building/build-sheet';
import { stripParts } from '../design/building/strip-parts';
import { must } from '../result';
import { countingIds } from '../design/making/create';
import type { Design } from '../design/document/schema';
import { singlePath } from '../design/making/single-path';
import { TOPOLOGIES } from '../topology/index';
import { checkStrips, stripPlan, type StripPart, type StripPlan } from './strip-board';

const two = (reference: string, a: string, b: string, kind: StripPart['kind'] = 'resistor'): StripPart => ({
  reference,
  kind,
  pins: [
    { name: 'a', net: a },
    { name: 'b', net: b },
  ],
});
const DIVIDER: StripPart[] = [two('R1', 'in', 'n'), two('R2', 'n', 'ground'), two('C1', 'n', 'out', 'capacitor')];

/** The whole catalogue, one path each, and the demo designs: what is laid on strips must be right for all of them. */
const CATALOGUE: [string, Design, string][] = [
  ...TOPOLOGIES.filter((t) => t.family !== 'loudspeaker').flatMap((t) =>
    (t.role === 'section' ? [t.responses[0]] : t.modes.slice(0, 2)).map((form): [string, Design, string] => {
      const design = must(singlePath({ topology: t.id, form }, countingIds('s')));
      return [`${t.id}, ${form}`, design, design.variants[0].id];
    }),
  ),
  ...demoDesigns()
    .filter((d) => d.family !== 'loudspeaker')
    .flatMap((d) =>
      d.variants
        .filter((v) => v.ways.length === 1)
        .map((v): [string, Design, string] => [`${d.title}, ${v.name}`, d, v.id]),
    ),
];

/**
 * Nets of a plan from its geometry alone: every hole joined to its neighbours along its strip, but over cuts, and
 * through wires. Flooded hole by hole: nothing of the planner's is used.
 */
function flooded(plan: StripPlan): (column: number, row: number) => number {
  const cut = new Set(plan.cuts.map((c) => `${c.row} ${c.column}`));
  const colour = new Map<string, number>();
  const wires = new Map<string, string[]>();
  for (const { column, fromRow, toRow } of plan.links)
    for (const [a, b] of [
      [fromRow, toRow],
      [toRow, fromRow],
    ])
      wires.set(`${a} ${column}`, [...(wires.get(`${a} ${column}`) ?? []), `${b} ${column}`]);
  let next = 0;
  for (let row = 0; row < plan.rows.length; row++)
    for (let column = 0; column < plan.columns; column++) {
      if (colour.has(`${row} ${column}`) || cut.has(`${row} ${column}`)) continue;
      next++;
      const open = [`${row} ${column}`];
      while (open.length > 0) {
        const hole = open.pop()!;
        if (colour.has(hole) || cut.has(hole)) continue;
        colour.set(hole, next);
        const [r, c] = hole.split(' ').map(Number);
        open.push(
          ...[c - 1, c + 1].filter((k) => k >= 0 && k < plan.columns).map((k) => `${r} ${k}`),
          ...(wires.get(hole) ?? []),
        );
      }
    }
  return (column, row) => colour.get(`${row} ${column}`) ?? -1;
}

test.each(CATALOGUE)(
  '%s: flooded from its geometry the plan joins what the circuit joins, nothing lies over anything, ' +
    'and every part bought is on it',
  (_name, design, variantId) => {
    const variant = design.variants.find((v) => v.id === variantId)!;
    const { parts, leaving } = must(stripParts(design, variant));
    const planned = stripPlan(parts, leaving);
    if (!planned.ok) return expect(planned.code).toBe('too-large-for-strips');
    const plan = planned.value;
    expect(checkStrips(plan, parts).faults).toEqual([]);
    const colourAt = flooded(plan);
    const netOf = new Map(
      parts.flatMap((p) => p.pins.flatMap((pin) => (pin ? [[`${p.reference} ${pin.name}`, pin.net] as const] : []))),
    );
    const [byColour, byNet] = [new Map<number, string>(), new Map<string, number>()];
    for (const { reference, pins } of plan.parts)
      for (const { name, column, row } of pins) {
        const [colour, net] = [colourAt(column, row), netOf.get(`${reference} ${name}`)!];
        expect(colour).toBeGreaterThan(0);
        expect([reference, name, byColour.get(colour) ?? net]).toEqual([reference, name, net]);
        expect([reference, name, byNet.get(net) ?? colour]).toEqual([reference, name, colour]);
        byColour.set(colour, net);
        byNet.set(net, colour);
      }
    // Every hole is covered once: bodies, and wires between their ends.
    const covered = new Map<string, string>();
    const cover = (what: string, column: number, row: number) => {
      expect([what, covered.get(`${row} ${column}`) ?? what]).toEqual([what, what]);
      covered.set(`${row} ${column}`, what);
    };
    for (const { reference, body } of plan.parts)
      for (let c = body.column1; c <= body.column2; c++)
        for (let r = body.row1; r <= body.row2; r++) cover(reference, c, r);
    plan.links.forEach(({ column, fromRow, toRow }, i) => {
      for (let r = Math.min(fromRow, toRow); r <= Math.max(fromRow, toRow); r++) cover(`wire ${i}`, column, r);
    });
    // A transistor's leads stand side by side with its base between the others.
    for (const { pins } of plan.parts) {
      const names = pins.map((pin) => pin.name);
      if (names.includes('base'))
        expect(pins.map((p) => [p.name, p.column - pins[0].column])).toEqual([
          ['collector', 0],
          ['base', 1],
          ['emitter', 2],
        ]);
    }
    const bought = must(buildSheet(design, variant))
      .parts.filter((l) => l.kind !== 'op-amp')
      .flatMap((l) => l.references);
    for (const reference of bought)
      expect(plan.parts.map((p) => p.reference)).toContain(reference.replace(/ stop$|[ab]$| \d+$/, ''));
  },
);

test('a wrong hole, a missing lead, a cut too many and a wire too many are all found', () => {
  const plan = must(stripPlan(DIVIDER, [{ label: 'input', net: 'in' }]));
  const moved = {
    ...plan,
    parts: plan.parts.map((p) =>
      p.reference === 'R1'
        ? {
            ...p,
            pins: p.pins.map((pin, i) =>
              i === 0 ? { ...pin, row: (pin.row + 1) % plan.rows.length, column: plan.columns - 1 } : pin,
            ),
          }
        : p,
    ),
  };
  expect(checkStrips(moved, DIVIDER).faults.length).toBeGreaterThan(0);
  const missing = { ...plan, parts: plan.parts.filter((p) => p.reference !== 'C1') };
  expect(checkStrips(missing, DIVIDER).faults.map((f) => f.kind)).toContain('missing');
  const row = plan.rows.indexOf('n');
  const columns = plan.parts
    .flatMap((p) => p.pins)
    .filter((pin) => pin.row === row)
    .map((pin) => pin.column)
    .sort((a, b) => a - b);
  // A cut beside a lead parts it from the rest of its strip.
  const wide = {
    ...plan,
    parts: plan.parts.map((p) => ({ ...p, pins: p.pins.map((pin) => ({ ...pin, column: pin.column * 2 })) })),
    columns: plan.columns * 2,
  };
  expect(checkStrips(wide, DIVIDER).faults).toEqual([]);
  expect(
    checkStrips({ ...wide, cuts: [{ column: 2 * columns[0] + 1, row }] }, DIVIDER).faults.map((f) => f.kind),
  ).toContain('apart');
  expect(
    checkStrips(
      {
        ...wide,
        links: [{ column: wide.columns - 1, fromRow: plan.rows.indexOf('in'), toRow: plan.rows.indexOf('out') }],
      },
      DIVIDER,
    ).faults.map((f) => f.kind),
  ).toContain('joined');
  expect(
    checkStrips(
      {
        ...plan,
        parts: plan.parts.map((p) =>
          p.reference === 'R2' ? { ...p, pins: [plan.parts.find((x) => x.reference === 'C1')!.pins[0], p.pins[1]] } : p,
        ),
      },
      DIVIDER,
    ).faults.map((f) => f.kind),
  ).toContain('same-hole');
});

test(
  'a package stands across its cuts, wired to its nets and its rails; wires over bodies and over one ' +
    'another are found',
  () => {
    const dual = ['A out', 'A −', 'A +', 'V−', 'B +', 'B −', 'B out', 'V+'];
    const nets = ['out', 'm', 'ground', '−V', 'ground', 's', 's', '+V'];
    const parts: StripPart[] = [
      two('R1', 'in', 'm'),
      two('R2', 'm', 'out'),
      { reference: 'IC1', kind: 'package', pins: dual.map((name, i) => ({ name, net: nets[i] })) },
    ];
    const plan = must(
      stripPlan(parts, [
        { label: '+V', net: '+V' },
        { label: '−V', net: '−V' },
      ]),
    );
    expect(checkStrips(plan, parts).faults).toEqual([]);
    expect(plan.cuts).toHaveLength(4);
    expect(plan.links).toHaveLength(8);
    const [first, second, ...rest] = plan.links;
    expect(
      checkStrips(
        {
          ...plan,
          links: [first, { ...second, column: first.column, fromRow: first.fromRow, toRow: first.toRow }, ...rest],
        },
        parts,
      ).faults.map((f) => f.kind),
    ).toContain('over');
    const body = plan.parts.find((p) => p.reference === 'R1')!.body;
    expect(
      checkStrips(
        { ...plan, links: [{ column: body.column1, fromRow: body.row1, toRow: body.row2 }, second, ...rest] },
        parts,
      ).faults.map((f) => f.kind),
    ).toContain('over');
    expect(
      checkStrips(
        { ...plan, cuts: [...plan.cuts, { column: plan.parts[0].pins[0].column, row: plan.parts[0].pins[0].row }] },
        parts,
      ).faults.map((f) => f.kind),
    ).toContain('in-cut');
  },
);

test('what is too large is refused by name', () => {
  const many = Array.from({ length: 30 }, (_, i) => two(`R${i}`, `n${i}`, `n${i + 1}`));
  expect(stripPlan(many, [])).toMatchObject({ ok: false, code: 'too-large-for-strips' });
});

test('a transistor’s nets lie near one another where nothing forbids it', () => {
  const parts: StripPart[] = [
    ...Array.from({ length: 8 }, (_, i) => two(`R${i}`, `n${i}`, `n${i + 1}`)),
    {
      reference: 'Q1',
      kind: 'device',
      pins: [
        { name: 'collector', net: 'n0' },
        { name: 'base', net: 'n8' },
        { name: 'emitter', net: 'n4' },
      ],
    },
  ];
  const plan = must(stripPlan(parts, []));
  const rows = plan.parts.find((p) => p.reference === 'Q1')!.pins.map((p) => p.row);
  expect(Math.max(...rows) - Math.min(...rows)).toBeLessThanOrEqual(4);
});

test('the shopping list of a voice names its devices, and the connections name their leads', () => {
  const flute = demoDesigns().find((d) => d.title.startsWith('Stopped flute'))!;
  const sheet = must(buildSheet(flute, flute.variants[0]));
  expect(sheet.parts.filter((l) => l.kind === 'device').map((l) => [l.name, l.references])).toEqual([
    ['small NPN transistor', ['Q101']],
    ['small silicon diode', ['D1', 'D2']],
  ]);
  const pins = sheet.connections.flatMap((c) => c.pins);
  for (const pin of ['Q101 collector', 'Q101 base', 'Q101 emitter', 'D1 anode', 'I1 into']) expect(pins).toContain(pin);
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
    fc.tuple(net, net, net).map((nets) => ({
      kind: 'package' as const,
      nets: [nets[0], nets[1], nets[2], '−V', 'n1', 'n2', 'n3', '+V'],
      pins: ['1', '2', '3', '4', '5', '6', '7', '8'],
    })),
  );
  fc.assert(
    fc.property(fc.array(part, { minLength: 1, maxLength: 16 }), (list) => {
      const parts: StripPart[] = list.map(({ kind, nets, pins }, i) => ({
        reference: `X${i}`,
        kind,
        pins: pins.map((name, p) => ({ name, net: nets[p] })),
      }));
      const plan = must(stripPlan(parts, [{ label: 'first', net: parts[0].pins[0]!.net }]));
      expect(checkStrips(plan, parts).faults).toEqual([]);
    }),
    { numRuns: 60, seed: 5 },
  );
});
