import type { PartKind } from './part';

/** A place on the drawing grid; one unit is a tenth of a symbol row. x to the right, y down. */
export type Point = readonly [x: number, y: number];

/** A two-lead part: its centre; leads end two units either side along its axis. */
export interface PlacedPart {
  readonly part: string;
  readonly kind: PartKind;
  readonly at: Point;
  readonly vertical: boolean;
  /** Where the name and value of a vertical part stand. Horizontal ones carry the name above and the value below. */
  readonly label: 'left' | 'right' | 'above-below';
  /** Of a vertical pot: the side its wiper comes from; the wiper's lead ends two units beside the track. */
  readonly wiper?: 'left' | 'right';
}

/** An op-amp, by the middle of its triangle: inputs 3 units left and 1.5 above or below, output 3 units right. */
export interface PlacedOpAmp {
  readonly name: string;
  readonly at: Point;
  readonly plusOnTop: boolean;
}

/**
 * A transistor (base 2 units left, collector and emitter 1.5 right and 2 above and below), a diode (2 units either
 * side), a lamp facing a photocell.
 */
export interface PlacedDevice {
  readonly name: string;
  readonly symbol: 'npn' | 'pnp' | 'n-jfet' | 'diode' | 'optocoupler';
  readonly at: Point;
  /** Of a diode: it points down. */
  readonly down?: boolean;
  /** Of a transistor: its base to the right. */
  readonly mirrored?: boolean;
}

/** Where the resting volts of a node are written: by the name its circuit has for it. */
export interface PlacedNode {
  readonly node: string;
  readonly at: Point;
  readonly side: 'left' | 'right';
}

export interface Drawing {
  readonly width: number;
  readonly height: number;
  readonly parts: readonly PlacedPart[];
  readonly opAmps: readonly PlacedOpAmp[];
  readonly devices?: readonly PlacedDevice[];
  readonly wires: readonly (readonly Point[])[];
  readonly dots: readonly Point[];
  readonly grounds: readonly Point[];
  /** `net`: the node that it leads to, where its volts are to be written. */
  readonly ports: readonly {
    readonly label: string;
    readonly at: Point;
    readonly side: 'left' | 'right';
    readonly net?: string;
  }[];
  readonly nodes?: readonly PlacedNode[];
  readonly supply?: PlacedSupply;
}

/** The supply pins of all op-amps as one unit between the rails. */
export interface PlacedSupply {
  /** Op-amps, by their names in the circuit. */
  readonly units: readonly string[];
  /** Left end of the plus rail's name, and the row's middle. */
  readonly at: Point;
  /** Width of the unit. */
  readonly width: number;
}

export const across = (part: string, kind: PartKind, x: number, y: number): PlacedPart => ({
  part,
  kind,
  at: [x, y],
  vertical: false,
  label: 'above-below',
});
/** A supply rail's name at the end of its line. */
export const RAILS = ['+V', '−V'] as const;

export const down = (
  part: string,
  kind: PartKind,
  x: number,
  y: number,
  label: 'left' | 'right' = 'left',
): PlacedPart => ({ part, kind, at: [x, y], vertical: true, label });

/** Half the length of a part with its leads, in units. */
export const LEAD = 2;
/** Half the width of a part's body. */
export const BODY = 0.8;
/** Text size and mean advance of a letter, in units: the type the drawing is set in. */
export const TEXT = 1.15;
export const ADVANCE = 0.66;

export interface Box {
  readonly x0: number;
  readonly y0: number;
  readonly x1: number;
  readonly y1: number;
  readonly what: string;
}

export interface PlacedLabel {
  readonly part: string;
  readonly line: 'name' | 'value';
  /** Where the text's baseline begins, is centred or ends. */
  readonly at: Point;
  readonly anchor: 'start' | 'middle' | 'end';
}

/** Where the name and the value of a part are written. */
export function labelsOf(placed: PlacedPart): PlacedLabel[] {
  const [x, y] = placed.at;
  const { part } = placed;
  if (placed.label === 'above-below')
    return [
      { part, line: 'name', at: [x, y - BODY - 0.55], anchor: 'middle' },
      { part, line: 'value', at: [x, y + BODY + 0.55 + TEXT * 0.75], anchor: 'middle' },
    ];
  const side = placed.label === 'left' ? -1 : 1;
  const anchor = placed.label === 'left' ? 'end' : 'start';
  const edge = x + side * (BODY + 0.6);
  return [
    { part, line: 'name', at: [edge, y - 0.25], anchor },
    { part, line: 'value', at: [edge, y + 0.25 + TEXT * 0.85], anchor },
  ];
}

/** The room a label takes with a text of so many characters. */
export function labelBox(label: PlacedLabel, characters: number): Box {
  const width = characters * ADVANCE;
  const [x, y] = label.at;
  const x0 = label.anchor === 'start' ? x : label.anchor === 'end' ? x - width : x - width / 2;
  return { x0, x1: x0 + width, y0: y - TEXT * 0.75, y1: y + TEXT * 0.1, what: `${label.part} ${label.line}` };
}

/** Boxes of everything that is ink but not a label: part bodies, op-amps, wires. */
export function inkBoxes(drawing: Drawing): Box[] {
  const boxes: Box[] = [];
  for (const {
    part,
    at: [x, y],
    vertical,
    wiper,
  } of drawing.parts) {
    const [w, h] = vertical ? [BODY, LEAD] : [LEAD, BODY];
    boxes.push({ x0: x - w, y0: y - h, x1: x + w, y1: y + h, what: part });
    if (wiper)
      boxes.push({
        x0: wiper === 'left' ? x - LEAD : x,
        y0: y - 0.3,
        x1: wiper === 'left' ? x : x + LEAD,
        y1: y + 0.3,
        what: `${part} wiper`,
      });
  }
  for (const {
    name,
    at: [x, y],
  } of drawing.opAmps)
    boxes.push({ x0: x - 3, y0: y - 3, x1: x + 3, y1: y + 3, what: name });
  for (const {
    name,
    at: [x, y],
  } of drawing.devices ?? [])
    boxes.push({ x0: x - 2.6, y0: y - 2.6, x1: x + 2.6, y1: y + 2.6, what: name });
  drawing.wires.forEach((wire) => {
    for (let i = 1; i < wire.length; i++) {
      const [[ax, ay], [bx, by]] = [wire[i - 1], wire[i]];
      boxes.push({
        x0: Math.min(ax, bx),
        y0: Math.min(ay, by),
        x1: Math.max(ax, bx),
        y1: Math.max(ay, by),
        what: `wire ${ax},${ay} to ${bx},${by}`,
      });
    }
  });
  for (const [x, y] of drawing.grounds) boxes.push({ x0: x - 1, y0: y, x1: x + 1, y1: y + 1.2, what: 'ground' });
  return boxes;
}

/** Units: a rail's name and its wire; half the height of the supply's unit, and what it keeps off the rest. */
export const RAIL_LEAD = { name: 1.9, wire: 1.5 } as const;
export const SUPPLY_HALF = 1;
const SUPPLY_OFF = 1.4;
/** Names that stand in it side by side; of more the first and the last. */
export const MOST_NAMED = 3;
/** Letters of a name and what parts it from the next, and of both pins with their room. */
const NAME_LETTERS = 6;
const PIN_LETTERS = 7;

/** A drawing with the supply pins of its op-amps, at its foot. */
export function withSupply(drawing: Drawing): Drawing {
  const units = drawing.opAmps.map((o) => o.name);
  if (units.length === 0) return drawing;
  const { x0, y1 } = drawingBounds(drawing);
  const letters = NAME_LETTERS * Math.min(units.length, MOST_NAMED) + PIN_LETTERS;
  const y = y1 + SUPPLY_OFF + SUPPLY_HALF;
  return {
    ...drawing,
    height: Math.max(drawing.height, y + SUPPLY_HALF + SUPPLY_OFF),
    supply: { units, at: [x0, y], width: letters * ADVANCE },
  };
}

/** The room that the supply's row takes. */
export function supplyBox({ at: [x, y], width }: PlacedSupply): Box {
  const ends = 2 * (RAIL_LEAD.name + RAIL_LEAD.wire);
  return { x0: x, x1: x + width + ends, y0: y - SUPPLY_HALF, y1: y + SUPPLY_HALF, what: 'supply' };
}

/** Letters that a value takes at most: `15.92 kΩ`. */
export const VALUE_LETTERS = 8;

/** The room that everything drawn takes, labels and ports included. */
export function drawingBounds(drawing: Drawing): Box {
  const boxes = [
    ...inkBoxes(drawing),
    ...drawing.parts.flatMap((p) =>
      labelsOf(p).map((l) => labelBox(l, l.line === 'name' ? p.part.length : VALUE_LETTERS)),
    ),
    ...(drawing.devices ?? [])
      .filter((d) => d.down || d.symbol !== 'diode')
      .map(({ name, at: [x, y], mirrored }) => ({
        x0: mirrored ? x - 2 - VALUE_LETTERS * ADVANCE : x,
        x1: mirrored ? x : x + 2 + VALUE_LETTERS * ADVANCE,
        y0: y - 1,
        y1: y + 1.5,
        what: name,
      })),
    ...(drawing.nodes ?? []).map(({ node, at: [x, y], side }) => ({
      x0: side === 'left' ? x - VALUE_LETTERS * ADVANCE : x,
      x1: side === 'left' ? x : x + VALUE_LETTERS * ADVANCE,
      y0: y - 1,
      y1: y,
      what: node,
    })),
    ...drawing.ports.map(({ at: [x, y], label, side }) => ({
      x0: side === 'left' ? x : x - label.length * ADVANCE,
      x1: side === 'left' ? x + label.length * ADVANCE : x,
      y0: y + 0.6,
      y1: y + 1.9,
      what: label,
    })),
    ...(drawing.supply ? [supplyBox(drawing.supply)] : []),
  ];
  const edge = (pick: (box: Box) => number, best: (...values: number[]) => number) => best(...boxes.map(pick));
  return {
    x0: edge((b) => b.x0, Math.min),
    y0: edge((b) => b.y0, Math.min),
    x1: edge((b) => b.x1, Math.max),
    y1: edge((b) => b.y1, Math.max),
    what: 'all',
  };
}

export const overlap = (a: Box, b: Box): boolean => a.x0 < b.x1 && b.x0 < a.x1 && a.y0 < b.y1 && b.y0 < a.y1;
