import { AS_BUILT, compile } from '../../design/compiled/compile';
import { demoDesigns } from '../../design/demo/demo';
import { countingIds } from '../../design/making/create';
import { designatorsOf } from '../../design/stages/designators';
import { singlePath } from '../../design/making/single-path';
import type { Design } from '../../design/document/schema';
import { sheetSvg } from '../../format/svg';
import type { VariantSheet } from '../../format/variant-sheet';
import { must } from '../../result';
import { TOPOLOGIES } from '../../topology/index';
import { formatQuantity } from '../../units/quantity';
import { overlap, TEXT, type Box, type Point } from '../../topology/kit/drawing';
import { runSheet } from './sheet';

const sheetOf = (design: Design, variantId = design.currentVariant): VariantSheet =>
  must(runSheet({ kind: 'sheet', design, variantId }));
const demos = demoDesigns();
const named = (title: string) => demos.find((d) => d.title.startsWith(title))!;
const variants = demos.flatMap((design) =>
  design.variants.map((v) => [`${design.title}, ${v.name}`, design, v] as const),
);

/** The room that a text takes, by a rule of its own: letters are 0.6 of their size wide at least. */
const boxOf = ({ at: [x, y], text, anchor }: VariantSheet['texts'][number]): Box => {
  const width = 0.6 * TEXT * text.length;
  const x0 = anchor === 'start' ? x : anchor === 'end' ? x - width : x - width / 2;
  return { x0, x1: x0 + width, y0: y - 0.7 * TEXT, y1: y + 0.2, what: text };
};
const pieces = (sheet: VariantSheet): [Point, Point][] =>
  sheet.wires.flatMap((wire) => wire.slice(1).map((to, i) => [wire[i], to] as [Point, Point]));
const boxOfPiece = ([[ax, ay], [bx, by]]: [Point, Point]): Box => ({
  x0: Math.min(ax, bx) - 0.05,
  x1: Math.max(ax, bx) + 0.05,
  y0: Math.min(ay, by) - 0.05,
  y1: Math.max(ay, by) + 0.05,
  what: `wire ${ax},${ay} to ${bx},${by}`,
});

/** What lies on what, or off the paper. */
function faultsOf(sheet: VariantSheet): string[] {
  const faults: string[] = [];
  const paper = { x0: 0, y0: 0, x1: sheet.width, y1: sheet.height, what: 'paper' };
  const inside = ({ x0, y0, x1, y1 }: Box) => x0 >= 0 && y0 >= 0 && x1 <= paper.x1 && y1 <= paper.y1;
  const frames = sheet.stages.map((s) => s.frame);
  const texts = sheet.texts.filter(({ text }) => text !== 'in' && text !== 'out').map(boxOf);
  const both = [...frames, ...texts];
  for (const box of both) if (!inside(box)) faults.push(`${box.what} is off the paper`);
  both.forEach((a, i) => {
    for (const b of both.slice(i + 1)) if (overlap(a, b)) faults.push(`${a.what} lies on ${b.what}`);
  });
  for (const piece of pieces(sheet)) {
    const box = boxOfPiece(piece);
    if (!inside(box)) faults.push(`${box.what} is off the paper`);
    for (const text of texts) if (overlap(box, text)) faults.push(`${box.what} goes through ${text.what}`);
    // Into a frame it comes by one side and ends there.
    for (const { frame, name } of sheet.stages) {
      const within = { ...frame, x0: frame.x0 + 0.1, x1: frame.x1 - 0.1 };
      const passes = overlap(box, within) && piece.every(([x]) => x <= frame.x0 || x >= frame.x1);
      if (passes) faults.push(`${box.what} goes through ${name}`);
    }
  }
  return faults;
}

/** Which places are one net: ends of wires that meet, or lie on a wire where there is a dot. */
function netsOf(sheet: VariantSheet): (at: Point) => string {
  const key = ([x, y]: Point) => `${x.toFixed(3)} ${y.toFixed(3)}`;
  const over = new Map<string, string>();
  const find = (k: string): string => {
    const up = over.get(k) ?? k;
    return up === k ? k : find(up);
  };
  const join = (a: Point, b: Point) => over.set(find(key(a)), find(key(b)));
  for (const wire of sheet.wires) for (let i = 1; i < wire.length; i++) join(wire[i - 1], wire[i]);
  const all = pieces(sheet);
  for (const dot of sheet.dots)
    for (const [a, b] of all) {
      const box = boxOfPiece([a, b]);
      if (dot[0] >= box.x0 && dot[0] <= box.x1 && dot[1] >= box.y0 && dot[1] <= box.y1) join(dot, a);
    }
  return (at) => find(key(at));
}

/** Ends of wires that are within a frame, left and right. */
const endsIn = (sheet: VariantSheet, { frame }: VariantSheet['stages'][number]): { into: Point[]; out: Point[] } => {
  const ends = sheet.wires.flatMap((wire) => [wire[0], wire[wire.length - 1]]);
  const near = ends.filter(([x, y]) => x >= frame.x0 - 1e-6 && x <= frame.x1 + 1e-6 && y >= frame.y0 && y <= frame.y1);
  // A wire that comes from the left ends at what comes in.
  const comesFromLeft = (at: Point) =>
    sheet.wires.some((w) => w[w.length - 1] === at && w.length > 1 && w[w.length - 2][0] < at[0]);
  return { into: near.filter(comesFromLeft), out: near.filter((at) => !comesFromLeft(at)) };
};

test.each(variants)('%s: every stage once, nothing on anything else, and the signal comes through', (_, design, v) => {
  const sheet = sheetOf(design, v.id);
  expect(faultsOf(sheet)).toEqual([]);
  const built = v.ways.map((way) => way.stages.filter((s) => !s.bypassed));
  expect(sheet.stages.map((s) => s.stageId)).toEqual(built.flat().map((s) => s.id));
  const net = netsOf(sheet);
  const placed = new Map(sheet.stages.map((s) => [s.stageId, endsIn(sheet, s)]));
  const firstOfSource: string[] = [];
  v.ways.forEach((way, w) => {
    built[w].forEach((stage, i) => {
      const { into } = placed.get(stage.id)!;
      expect(into).toHaveLength(1);
      if (i === 0) {
        if (way.from.kind === 'source') firstOfSource.push(net(into[0]));
        return;
      }
      expect(placed.get(built[w][i - 1].id)!.out.map(net)).toContain(net(into[0]));
    });
  });
  // All ways from the source hang on one wire, and no other stage's input does.
  expect(new Set(firstOfSource).size).toBeLessThanOrEqual(1);
});

test.each(TOPOLOGIES.filter((t) => t.family !== 'loudspeaker').map((t) => [t.id, t] as const))(
  '%s is drawn in its frame, whatever its form',
  (_, topology) => {
    const forms = topology.role === 'section' ? topology.responses : topology.modes;
    for (const form of forms) {
      const design = singlePath({ topology: topology.id, form }, countingIds('s'), topology.name);
      if (design.ok) expect([form, faultsOf(sheetOf(design.value))]).toEqual([form, []]);
    }
  },
);

/** How often every text stands in a file. */
function textsOf(svg: string): Map<string, number> {
  const counts = new Map<string, number>();
  for (const [, text] of svg.matchAll(/<text[^>]*>([^<]*)<\/text>/g)) counts.set(text, (counts.get(text) ?? 0) + 1);
  return counts;
}

test.each(variants)('%s: every part of the netlist stands in the file by its designator and value', (_, design, v) => {
  const texts = textsOf(sheetSvg(sheetOf(design, v.id)));
  const { circuit, parts } = must(compile(design, v, AS_BUILT));
  const wanted = new Map<string, number>();
  const names = designatorsOf(must(compile(design, v, AS_BUILT)).ways);
  const one = (text: string) => wanted.set(text, (wanted.get(text) ?? 0) + 1);
  // A pot is two resistors in the netlist and one part in the drawing; what a pot stands in for is written by its turn.
  const plain = parts.filter(({ stageId, part }) => {
    const chosen = v.ways.flatMap((w) => w.stages).find((s) => s.id === stageId)?.parts[part];
    return stageId !== null && !chosen?.control && names.get(`${stageId}.${part}`)?.[0].match(/[RCL]/);
  });
  for (const { stageId, part, slot } of plain) {
    one(names.get(`${stageId}.${part}`)!);
    const value = circuit.values[slot];
    const kind = { R: 'resistance', C: 'capacitance', L: 'inductance' } as const;
    one(formatQuantity(value, kind[names.get(`${stageId}.${part}`)![0] as 'R' | 'C' | 'L']));
  }
  const missing = [...wanted].filter(([text, count]) => (texts.get(text) ?? 0) < count);
  expect(missing).toEqual([]);
  // What was passed over is the output resistor, on a control, or a pot: nothing else.
  const passedOver = parts
    .filter((p) => !plain.includes(p))
    .map(({ stageId, part }) => ({
      part,
      turned: v.ways.flatMap((w) => w.stages).find((s) => s.id === stageId)?.parts[part]?.control !== undefined,
      letter: names.get(`${stageId}.${part}`)?.[0],
    }));
  expect(passedOver.filter((p) => p.part !== 'Rout' && !p.turned && p.letter !== 'P')).toEqual([]);
});

test('drivers and the amplifier are named in the file, and every group of it is closed', () => {
  const svg = sheetSvg(sheetOf(named('Tone cabinet, two-way')));
  const texts = textsOf(svg);
  for (const text of ['Woofer', 'Tweeter', 'Amplifier']) expect(texts.get(text)).toBe(1);
  expect(svg.match(/<g/g)?.length).toBe(svg.match(/<\/g>/g)?.length);
});

test('what a way ends in is said: load, driver, amplifier, and the resistor in line', () => {
  const words = (title: string) => sheetOf(named(title)).texts.map((t) => t.text);
  expect(words('Swell-box')).toEqual(expect.arrayContaining(['Reed pickup', '600 Ω', 'Mixer', '2.2 kΩ']));
  expect(sheetOf(named('Swell-box')).resistors.map((r) => r.options.values)).toEqual([{ Rout: 1000 }]);
  expect(words('Chapel cabinet')).toEqual(expect.arrayContaining(['Bass', 'Middle', 'Top', 'Elm 260 bass']));
  expect(words('Chapel cabinet').filter((t) => t.startsWith('amplifier'))).toHaveLength(3);
  expect(words('Reed pickup rumble')).toContain('Supply ± 12 V, signal 500 mV RMS');
});

test('a bypassed stage is not drawn, and its neighbours are joined', () => {
  const design = named('Swell-box');
  const [variant] = design.variants;
  const [way] = variant.ways;
  const without: Design = {
    ...design,
    variants: [{ ...variant, ways: [{ ...way, stages: way.stages.map((s, i) => ({ ...s, bypassed: i === 1 })) }] }],
  };
  const sheet = sheetOf(without);
  expect(sheet.stages.map((s) => s.stageId)).toEqual([0, 2, 3].map((i) => way.stages[i].id));
  expect(faultsOf(sheet)).toEqual([]);
});

test('rows are as long as makes the drawing largest on paper that lies on its side', () => {
  const side = ({ width, height }: VariantSheet) => Math.max(width, Math.SQRT2 * height);
  const design = named('Swell-box');
  const sheet = sheetOf(design);
  // Four stages of some 34 units: two rows of two are larger on the paper than one row or four.
  const rows = new Set(sheet.stages.map((s) => Math.round(s.frame.y0)));
  expect(rows.size).toBe(2);
  const [a, b] = sheet.stages;
  const pitch = b.frame.x0 - a.frame.x0;
  expect(side(sheet)).toBeLessThan(sheet.width + 2 * pitch);
  expect(side(sheet)).toBeLessThan(Math.SQRT2 * (sheet.height + 2 * (a.frame.y1 - a.frame.y0)));
});

test('a variant that is not there has no drawing', () => {
  expect(runSheet({ kind: 'sheet', design: demos[0], variantId: 'none' })).toMatchObject({ code: 'no-such-variant' });
});
