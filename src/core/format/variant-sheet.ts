import {
  ADVANCE,
  across,
  drawingBounds,
  inkBoxes,
  labelBox,
  labelsOf,
  LEAD,
  TEXT,
  VALUE_LETTERS,
  type Box,
  type Drawing,
  type Point,
} from '../topology/kit/drawing';
import type { SchematicOptions } from './schematic-shapes';

/** A stage to be drawn on a sheet: its circuit with the values and names that it has in the variant. */
export interface SheetStage {
  readonly wayId: string;
  readonly stageId: string;
  readonly name: string;
  readonly drawing: Drawing;
  readonly options: SchematicOptions;
}

/** A way of a variant: where it comes from (null: the source), its stages in order, and what it ends in, in lines. */
export interface SheetWay {
  readonly name: string | null;
  readonly from: string | null;
  readonly stages: readonly SheetStage[];
  /** In line behind the last stage. */
  readonly outputResistor: { readonly name: string; readonly ohm: number } | null;
  readonly to: readonly string[];
}

export interface SheetInput {
  readonly title: string;
  /** What it is drawn for: variant, supply, level. */
  readonly lines: readonly string[];
  readonly source: readonly string[];
  readonly resistorSymbol: SchematicOptions['resistorSymbol'];
  readonly ways: readonly SheetWay[];
}

export interface PlacedStage extends SheetStage {
  /** What is added to every point of its drawing. */
  readonly at: Point;
  /** Around it, on the sheet. */
  readonly frame: Box;
}

export interface SheetText {
  readonly at: Point;
  readonly text: string;
  readonly anchor: 'start' | 'middle' | 'end';
  readonly strong: boolean;
}

/** A resistor that is in no stage, as a drawing of its own. */
export interface LoneResistor {
  readonly drawing: Drawing;
  readonly options: SchematicOptions;
}

/** A whole variant as one drawing; all lengths in drawing units, from the upper left corner. */
export interface VariantSheet {
  readonly title: string;
  readonly width: number;
  readonly height: number;
  readonly stages: readonly PlacedStage[];
  readonly resistors: readonly LoneResistor[];
  readonly wires: readonly (readonly Point[])[];
  readonly dots: readonly Point[];
  readonly texts: readonly SheetText[];
}

/** Room about things, in units. */
const EDGE = 2;
const PAD = 1.2;
const HEADER = 2.2;
const GAP = 4;
const ROW_GAP = 5;
const WAY_GAP = 3;
const LINE = 1.6;
/** Paper is as much wider than it is high: A4 on its side. */
const PAPER = Math.SQRT2;
const NARROWEST = 40;

/** A stage with its frame, before it has a place: where the signal goes in and out, from the frame's upper left. */
interface Block {
  readonly stage: SheetStage;
  readonly bounds: Box;
  readonly width: number;
  readonly height: number;
  readonly into: Point;
  readonly out: Point;
  /** Ends that are joined to the frame by their names. */
  readonly named: readonly ('in' | 'out')[];
}

/** Where the signal comes in or leaves, and whether a wire reaches it from the edge without crossing anything. */
interface End {
  readonly at: Point;
  readonly clear: boolean;
  /** Its label stands nowhere else in the drawing, so that with a wire to it there is no need of one. */
  readonly once: boolean;
}

/** A wire keeps this far from what it does not touch. */
const CLEARANCE = 0.2;

function endOf(drawing: Drawing, label: 'in' | 'out'): End {
  const [side, out] = label === 'in' ? (['left', -1] as const) : (['right', 1] as const);
  const all = drawing.ports.filter((p) => p.label === label);
  const own = all.filter((p) => p.side === side);
  const [x, y] = (own.length > 0 ? own : all).map((p) => p.at).sort((a, b) => out * (b[0] - a[0]))[0] ?? [0, 0];
  const ink = [
    ...inkBoxes(drawing),
    ...drawing.parts.flatMap((p) => labelsOf(p).map((l) => labelBox(l, VALUE_LETTERS))),
  ];
  const inTheWay = ({ x0, y0, x1, y1 }: Box) =>
    y0 - CLEARANCE < y && y < y1 + CLEARANCE && (out > 0 ? x1 > x + CLEARANCE : x0 < x - CLEARANCE);
  return { at: [x, y], clear: !ink.some(inTheWay), once: all.length === 1 };
}

function blockOf(given: SheetStage): Block {
  const [into, out] = [endOf(given.drawing, 'in'), endOf(given.drawing, 'out')];
  const unlabelled = (label: string) =>
    (label === 'in' && into.once && into.clear) || (label === 'out' && out.once && out.clear);
  const drawing = { ...given.drawing, ports: given.drawing.ports.filter(({ label }) => !unlabelled(label)) };
  const box = drawingBounds(drawing);
  const bounds = { ...box, x0: box.x0 - PAD, y0: box.y0 - PAD, x1: box.x1 + PAD, y1: box.y1 + PAD };
  const width = Math.max(bounds.x1 - bounds.x0, given.name.length * ADVANCE + 2);
  return {
    stage: { ...given, drawing },
    bounds,
    width,
    height: bounds.y1 - bounds.y0,
    // A port that no wire reaches is joined to the edge by its label.
    into: [into.clear ? into.at[0] - bounds.x0 : 0, into.at[1] - bounds.y0],
    out: [out.clear ? out.at[0] - bounds.x0 : width, out.at[1] - bounds.y0],
    named: [...(into.clear ? [] : (['in'] as const)), ...(out.clear ? [] : (['out'] as const))],
  };
}

/** Blocks in rows no wider than there is room for; one that is wider has a row to itself. */
function inRows(blocks: readonly Block[], room: number): Block[][] {
  const rows: Block[][] = [[]];
  let used = 0;
  for (const block of blocks) {
    const row = rows[rows.length - 1];
    if (row.length > 0 && used + GAP + block.width > room) {
      rows.push([block]);
      used = block.width;
    } else {
      row.push(block);
      used += block.width + (row.length > 1 ? GAP : 0);
    }
  }
  return rows;
}

/** What is drawn so far, and how far the paper is used. */
class Pen {
  readonly stages: PlacedStage[] = [];
  readonly resistors: LoneResistor[] = [];
  readonly wires: Point[][] = [];
  readonly dots: Point[] = [];
  readonly texts: SheetText[] = [];
  y = EDGE;
  right = 0;
  /** The line that all ways from the source hang on: where it stands, and how far down it has come. */
  private readonly bus: number;
  private busTo: number | null = null;

  constructor(
    private readonly source: readonly string[],
    private readonly resistorSymbol: SchematicOptions['resistorSymbol'],
  ) {
    this.bus = EDGE + Math.max(0, ...source.map((l) => l.length)) * ADVANCE + 1.5;
  }

  /** Where rows begin. */
  get left(): number {
    return this.bus + 3;
  }

  write(at: Point, text: string, anchor: SheetText['anchor'] = 'start', strong = false): void {
    this.texts.push({ at, text, anchor, strong });
    this.right = Math.max(this.right, anchor === 'start' ? at[0] + text.length * ADVANCE : at[0]);
  }

  /** Lines from the paper's edge on, the first stronger. */
  head(x: number, lines: readonly string[]): void {
    lines.forEach((line, i) => this.write([x, this.y + TEXT + i * LINE], line, 'start', i === 0));
    this.y += lines.length * LINE;
  }

  /** Lines beside a place on a wire, the first on its height. */
  writeBeside([x, y]: Point, lines: readonly string[], anchor: 'start' | 'end'): void {
    lines.forEach((line, i) => this.write([x, y + TEXT * 0.35 + i * LINE], line, anchor, i === 0));
  }

  wire(...points: Point[]): void {
    const apart = points.filter((point, i) => i === 0 || !same(points[i - 1], point));
    if (apart.length > 1) this.wires.push(apart);
    this.right = Math.max(this.right, ...points.map(([x]) => x));
  }

  /** Takes the source's line down to a height. Gives where a way begins there. */
  fromSource(line: number): Point {
    if (this.busTo === null) this.writeBeside([this.bus - 0.6, line], this.source, 'end');
    else {
      this.wire([this.bus, this.busTo], [this.bus, line]);
      this.dots.push([this.bus, this.busTo]);
    }
    this.busTo = line;
    return [this.bus, line];
  }

  /** Says where a way comes from that is not the source's. Gives where it begins. */
  fromWords(line: number, words: string): Point {
    this.write([this.bus + 1, line - 0.5], words);
    return [this.bus + 1, line];
  }

  /** Back from the end of a row to the beginning of the next, between the two. */
  backFrom(last: Point, line: number): Point {
    const [edge, between] = [this.right + 1.5, this.y - ROW_GAP / 2];
    const begins: Point = [this.bus + 1.5, line];
    this.wire(last, [edge, last[1]], [edge, between], [begins[0], between], begins);
    return begins;
  }

  /** A stage with its wire from what lies before it. Gives where the signal leaves. */
  stage(block: Block, x: number, line: number, last: Point): Point {
    const top = line - block.into[1];
    const at: Point = [x - block.bounds.x0, top - block.bounds.y0];
    const frame = { x0: x, y0: top, x1: x + block.width, y1: top + block.height, what: block.stage.name };
    const out: Point = [x + block.out[0], top + block.out[1]];
    const bend = Math.max(last[0], x - GAP / 2);
    this.stages.push({ ...block.stage, at, frame });
    this.right = Math.max(this.right, frame.x1);
    this.write([x + 0.4, top - 0.5], block.stage.name, 'start', true);
    if (last[1] === line) this.wire(last, [x + block.into[0], line]);
    else this.wire(last, [bend, last[1]], [bend, line], [x + block.into[0], line]);
    if (block.named.includes('in')) this.write([frame.x0 + 0.3, line - 0.3], 'in');
    if (block.named.includes('out')) this.write([frame.x1 - 0.3, out[1] - 0.3], 'out', 'end');
    return out;
  }

  /** A resistor in line. Gives where the wire goes on. */
  resistor({ name, ohm }: { readonly name: string; readonly ohm: number }, last: Point, x: number): Point {
    const y = last[1];
    const middle = x + LEAD + 1;
    this.resistors.push({
      drawing: { ...NO_DRAWING, parts: [across(name, 'resistor', middle, y)] },
      options: { values: { [name]: ohm }, resistorSymbol: this.resistorSymbol, leftOut: {} },
    });
    this.wire(last, [middle - LEAD, y]);
    return [middle + LEAD, y];
  }
}

const NO_DRAWING: Drawing = {
  width: 0,
  height: 0,
  parts: [],
  opAmps: [],
  wires: [],
  dots: [],
  grounds: [],
  ports: [],
};

const same = ([ax, ay]: Point, [bx, by]: Point): boolean => Math.abs(ax - bx) < 1e-9 && Math.abs(ay - by) < 1e-9;

/** Draws one way, in rows that are no wider than there is room for. */
function drawWay(pen: Pen, way: SheetWay, blocks: readonly Block[], room: number): void {
  if (way.name !== null) {
    pen.head(pen.left, [way.name]);
    pen.y += 0.6;
  }
  let last: Point | null = null;
  inRows(blocks, room).forEach((row, r) => {
    if (r > 0) pen.y += ROW_GAP;
    const above = Math.max(1, ...row.map((b) => b.into[1]));
    const below = Math.max(1, ...row.map((b) => b.height - b.into[1]));
    const line = pen.y + HEADER + above;
    if (last) last = pen.backFrom(last, line);
    else last = way.from === null ? pen.fromSource(line) : pen.fromWords(line, way.from);
    let x = pen.left + (r === 0 && way.from !== null ? way.from.length * ADVANCE : 0);
    for (const block of row) {
      last = pen.stage(block, x, line, last);
      x += block.width + GAP;
    }
    pen.y = line + below;
  });
  if (last) endWay(pen, way, last);
}

/** Behind the last stage: the resistor in line, and what the way ends in. */
function endWay(pen: Pen, { outputResistor, to, stages }: SheetWay, last: Point): void {
  const edge = stages.length > 0 ? (pen.stages.at(-1)?.frame.x1 ?? 0) : 0;
  const x = Math.max(last[0], edge) + 1.5;
  const from = outputResistor ? pen.resistor(outputResistor, last, x) : last;
  const end: Point = [outputResistor ? from[0] + 2 : x, last[1]];
  pen.wire(from, end);
  pen.writeBeside([end[0] + 0.6, end[1]], to, 'start');
  pen.y = Math.max(pen.y, end[1] + LINE * to.length);
}

function drawn(
  { title, lines, source, ways, resistorSymbol }: SheetInput,
  blocks: readonly (readonly Block[])[],
  room: number,
): VariantSheet {
  const pen = new Pen(source, resistorSymbol);
  pen.head(EDGE, [title, ...lines]);
  pen.y += 1;
  ways.forEach((way, w) => {
    drawWay(pen, way, blocks[w], room);
    pen.y += WAY_GAP;
  });
  const { stages, resistors, wires, dots, texts, right, y } = pen;
  return { title, width: right + EDGE, height: y + EDGE - WAY_GAP, stages, resistors, wires, dots, texts };
}

/** Widths of rows at which some row takes one stage more. */
function roomsFor(blocks: readonly (readonly Block[])[]): Set<number> {
  const widest = Math.max(NARROWEST, ...blocks.flat().map((b) => b.width));
  const rooms = new Set([widest]);
  for (const way of blocks)
    way.forEach((first, from) => {
      let width = first.width;
      for (const { width: next } of way.slice(from + 1)) {
        width += GAP + next;
        // As wide as it takes, and no narrower by a rounding.
        if (width >= widest) rooms.add(Math.ceil(width));
      }
    });
  return rooms;
}

/**
 * A whole variant as one drawing: every way in rows, its stages joined by their wires, from the source to what it ends
 * in. Rows are as long as makes it largest on paper that lies on its side.
 */
export function variantSheet(input: SheetInput): VariantSheet {
  const blocks = input.ways.map((way) => way.stages.map(blockOf));
  const side = ({ width, height }: VariantSheet) => Math.max(width, PAPER * height);
  return [...roomsFor(blocks)]
    .map((room) => drawn(input, blocks, room))
    .reduce((best, next) => (side(next) < side(best) ? next : best));
}
