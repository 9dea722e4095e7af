import {
  BODY,
  LEAD,
  labelsOf,
  MOST_NAMED,
  RAIL_LEAD,
  RAILS,
  SUPPLY_HALF,
  type Drawing,
  type PlacedDevice,
  type PlacedPart,
  type PlacedSupply,
  type Point,
} from '../topology/kit/drawing';
import { PART_UNITS } from '../topology/kit/part-units';
import { formatQuantity } from '../units/quantity';

/** What a schematic is made of once it is drawn: lines and texts, in drawing units. */
export type Shape =
  | { readonly kind: 'path'; readonly d: string; readonly part: string | null; readonly filled?: boolean }
  | { readonly kind: 'dot'; readonly at: Point }
  | {
      readonly kind: 'text';
      readonly at: Point;
      readonly text: string;
      readonly anchor: 'start' | 'middle' | 'end';
      readonly part: string | null;
      readonly strong: boolean;
      readonly rest?: boolean;
    };

/** A circuit as it is built, as direct current sees it, or as the signal does. */
export type Reading = 'built' | 'dc' | 'signal';

export interface SchematicOptions {
  readonly values: Readonly<Record<string, number>>;
  /** What parts, op-amps and devices are called where that is not their name in the circuit. */
  readonly names?: Readonly<Record<string, string>>;
  readonly resistorSymbol: 'box' | 'zigzag';
  /** Parts that are left out, and how the place is then filled. */
  readonly leftOut: Readonly<Record<string, 'open' | 'short'>>;
  /** Resistors that a pot or a switch stands in for. */
  readonly turned?: ReadonlySet<string>;
  readonly reading?: Reading;
  /** Capacitors so large that the signal sees wires. */
  readonly couplers?: ReadonlySet<string>;
  /** Resting volts by the drawing's nodes, amperes by its devices: written where they are. */
  readonly rest?: { readonly volts: Readonly<Record<string, number>>; readonly amps: Readonly<Record<string, number>> };
}

/**
 * What a reading makes of a part: an empty place, a wire, or itself. DC passes no capacitor and sees no coil; the
 * signal sees no large capacitor, and no fixed current.
 */
function asRead(
  { part, kind }: Pick<PlacedPart, 'part' | 'kind'>,
  { reading, couplers }: Pick<SchematicOptions, 'reading' | 'couplers'>,
): 'open' | 'short' | null {
  if (reading === 'dc') return kind === 'capacitor' ? 'open' : kind === 'inductor' ? 'short' : null;
  if (reading === 'signal') return kind === 'current' ? 'open' : couplers?.has(part) ? 'short' : null;
  return null;
}

const restText = (at: Point, text: string, anchor: 'start' | 'middle' | 'end'): Shape => ({
  kind: 'text',
  at,
  text,
  anchor,
  part: null,
  strong: false,
  rest: true,
});

/** A line from point to point, as SVG writes it. */
export const pathThrough = (points: readonly Point[]): string => `M${points.map((p) => p.join(' ')).join('L')}`;

const plainText = (at: Point, text: string, anchor: 'start' | 'middle' | 'end'): Shape => ({
  kind: 'text',
  at,
  text,
  anchor,
  part: null,
  strong: false,
});
const line = (d: string, part: string | null = null): Shape => ({ kind: 'path', d, part });

/** A drawing with its values as shapes; the screen and the SVG file draw the same ones. */
export const schematicShapes = (drawing: Drawing, options: SchematicOptions): Shape[] => [
  ...drawing.wires.map((wire) => line(pathThrough(wire))),
  ...drawing.parts.flatMap((placed) => partShapes(placed, options)),
  ...drawing.opAmps.flatMap((placed) => opAmpShapes(placed, options)),
  ...(drawing.devices ?? []).flatMap((placed) => deviceShapes(placed, options)),
  ...drawing.grounds.map(([x, y]) => line(`M${x - 1} ${y}h2M${x - 0.6} ${y + 0.5}h1.2M${x - 0.25} ${y + 1}h0.5`)),
  ...drawing.dots.map((at): Shape => ({ kind: 'dot', at })),
  ...drawing.ports.flatMap((port) => portShapes(port, options)),
  ...nodeShapes(drawing, options),
  ...(drawing.supply && options.reading !== 'signal' ? supplyShapes(drawing.supply, options) : []),
];

const calledBy = (name: string, { names }: SchematicOptions): string => names?.[name] ?? name;
/** Volts at rest, where they are shown. */
const restVolts = ({ reading, rest }: SchematicOptions) => (reading === 'signal' ? undefined : rest?.volts);

function partShapes(placed: PlacedPart, options: SchematicOptions): Shape[] {
  const read = asRead(placed, options);
  const out = options.leftOut[placed.part] ?? read;
  const symbol = out
    ? leftOutPath(placed, out)
    : symbolPath(placed, options.resistorSymbol) + (options.turned?.has(placed.part) ? arrowPath(placed) : '');
  const value = () =>
    out ? (out === 'short' ? 'wire' : 'empty') : formatQuantity(options.values[placed.part], PART_UNITS[placed.kind]);
  return [
    line(symbol, placed.part),
    ...labelsOf(placed)
      .filter((label) => !(read && label.line === 'value'))
      .map((label): Shape => ({
        kind: 'text',
        at: label.at,
        text: label.line === 'name' ? calledBy(placed.part, options) : value(),
        anchor: label.anchor,
        part: placed.part,
        strong: label.line === 'value',
      })),
  ];
}

function opAmpShapes({ at: [x, y], plusOnTop, name }: Drawing['opAmps'][number], options: SchematicOptions): Shape[] {
  const [plus, minus] = plusOnTop ? [y - 1.5, y + 1.5] : [y + 1.5, y - 1.5];
  return [
    line(`M${x - 3} ${y - 3}L${x + 3} ${y}L${x - 3} ${y + 3}Z`),
    line(`M${x - 2.5} ${plus}h0.9M${x - 2.05} ${plus - 0.45}v0.9M${x - 2.5} ${minus}h0.9`),
    plainText([x - 0.9, y + 0.4], calledBy(name, options), 'middle'),
  ];
}

function deviceShapes(device: NonNullable<Drawing['devices']>[number], options: SchematicOptions): Shape[] {
  const {
    name,
    symbol,
    at: [x, y],
  } = device;
  // Beside the symbol, away from its leads.
  const [at, side]: [Point, 'start' | 'end'] =
    device.down || !device.mirrored ? [[x + 2, y - 0.1], 'start'] : [[x - 2, y - 0.1], 'end'];
  const beside = symbol === 'npn' || symbol === 'pnp' || symbol === 'n-jfet' || device.down;
  const anchor = beside ? side : 'middle';
  const shapes = [
    line(devicePath(device, x, y)),
    plainText(beside ? at : [x - 2.4, y - 2.4], calledBy(name, options), anchor),
  ];
  const amps = options.rest?.amps[name];
  if (amps === undefined || options.reading === 'signal') return shapes;
  const below: Point = beside ? [at[0], at[1] + 1.35] : [x, y + 3.6];
  return [...shapes, restText(below, formatQuantity(amps, 'current', { digits: 3 }), anchor)];
}

function portShapes({ label, at: [x, y], side, net }: Drawing['ports'][number], options: SchematicOptions): Shape[] {
  const anchor = side === 'left' ? 'start' : 'end';
  const rail = (RAILS as readonly string[]).includes(label);
  const volts = net === undefined || rail ? undefined : restVolts(options)?.[net];
  const name = plainText([x, y + 1.6], rail && options.reading === 'signal' ? 'ground' : label, anchor);
  // Over its wire: below it stand the port's name and whatever the wire leads to.
  return volts === undefined ? [name] : [name, restText([x, y - 0.5], voltsText(volts), anchor)];
}

/** The rails, and between them one unit with the pins of all op-amps. The signal sees neither. */
function supplyShapes({ units, at: [x, y], width }: PlacedSupply, options: SchematicOptions): Shape[] {
  const names = units.map((name) => calledBy(name, options));
  const text = names.length > MOST_NAMED ? `${names[0]} … ${names[names.length - 1]}` : names.join(', ');
  const left = x + RAIL_LEAD.name + RAIL_LEAD.wire;
  const [right, base] = [left + width, y + 0.4];
  return [
    line(`M${left - RAIL_LEAD.wire} ${y}H${left}M${right} ${y}H${right + RAIL_LEAD.wire}`),
    line(`M${left} ${y - SUPPLY_HALF}H${right}V${y + SUPPLY_HALF}H${left}Z`),
    plainText([x, base], RAILS[0], 'start'),
    plainText([left + 0.4, base], 'V+', 'start'),
    plainText([(left + right) / 2, base], text, 'middle'),
    plainText([right - 0.4, base], 'V−', 'end'),
    plainText([right + RAIL_LEAD.wire + 0.4, base], RAILS[1], 'start'),
  ];
}

const nodeShapes = ({ nodes = [] }: Drawing, options: SchematicOptions): Shape[] =>
  nodes.flatMap(({ node, at, side }) => {
    const volts = restVolts(options)?.[node];
    return volts === undefined ? [] : [restText(at, `${node} ${voltsText(volts)}`, side === 'left' ? 'end' : 'start')];
  });

const voltsText = (volts: number): string => formatQuantity(volts, 'voltage', { digits: 3 });

/** A symbol along its own axis, from −LEAD to LEAD, turned into place. */
function symbolPath(placed: PlacedPart, resistorSymbol: 'box' | 'zigzag'): string {
  return bodyPath(placed, resistorSymbol) + (placed.wiper ? wiperPath(placed) : '');
}

/** The wiper's lead with its head on the track. */
function wiperPath({ at: [x, y], wiper }: PlacedPart): string {
  const side = wiper === 'left' ? -1 : 1;
  return (
    `M${x + side * LEAD} ${y}L${x + side * 0.6} ${y}M${x + side * 1.15} ${y - 0.4}L${x + side * 0.6} ` +
    `${y}L${x + side * 1.15} ${y + 0.4}`
  );
}

/** A slanted arrow through a part that can be turned. */
function arrowPath({ at: [x, y] }: PlacedPart): string {
  return (
    `M${x - 1.5} ${y + 1.2}L${x + 1.5} ${y - 1.2}M${x + 0.85} ${y - 1.15}L${x + 1.5} ` +
    `${y - 1.2}L${x + 1.3} ${y - 0.6}`
  );
}

/** Symbols of devices, by their middle. */
function devicePath({ symbol, down, mirrored }: PlacedDevice, x: number, y: number): string {
  if (symbol === 'diode' && down)
    return `M${x} ${y - 2}v1.2M${x} ${y + 0.8}v1.2M${x - 0.9} ${y - 0.8}h1.8l-0.9 1.6ZM${x - 0.9} ${y + 0.8}h1.8`;
  if (symbol === 'npn' && mirrored)
    return (
      `M${x + 2} ${y}h-2M${x} ${y - 1.4}v2.8M${x} ${y - 0.7}L${x - 1.5} ${y - 2}M${x} ` +
      `${y + 0.7}L${x - 1.5} ${y + 2}M${x - 0.4} ${y + 1.7}l-0.9 0.2l0.4 -0.8`
    );
  if (symbol === 'diode')
    return `M${x - 2} ${y}h1.2M${x + 0.8} ${y}h1.2M${x - 0.8} ${y - 0.9}v1.8l1.6 -0.9ZM${x + 0.8} ${y - 0.9}v1.8`;
  if (symbol === 'optocoupler') {
    return (
      `M${x - 2.5} ${y - 1.6}h1.8M${x + 0.7} ${y - 1.6}h1.8M${x - 0.7} ${y - 2.4}v1.6l1.4 -0.8ZM${x + 0.7} ` +
      `${y - 2.4}v1.6M${x - 0.3} ${y - 0.7}l0.4 1.1m0 0l-0.5 -0.2m0.5 0.2l0.15 -0.5M${x + 0.6} ` +
      `${y - 0.7}l0.4 1.1m0 0l-0.5 -0.2m0.5 0.2l0.15 -0.5M${x - 2.5} ` +
      `${y + 1.6}h1.2v-0.6h2.6v1.2h-2.6v-0.6M${x + 1.3} ${y + 1.6}h1.2`
    );
  }
  if (symbol === 'n-jfet')
    return (
      `M${x - 2} ${y}h2M${x - 0.8} ${y - 0.35}l0.6 0.35l-0.6 0.35M${x} ${y - 1.4}v2.8M${x} ` +
      `${y - 1}h1.5v-1M${x} ${y + 1}h1.5v1`
    );
  const arrow =
    symbol === 'npn' ? `M${x + 0.4} ${y + 1.7}l0.9 0.2l-0.4 -0.8` : `M${x + 0.2} ${y - 0.9}l-0.1 0.9l0.8 -0.4`;
  return (
    `M${x - 2} ${y}h2M${x} ${y - 1.4}v2.8M${x} ${y - 0.7}L${x + 1.5} ${y - 2}M${x} ${y + 0.7}L${x + 1.5} ` +
    `${y + 2}${arrow}`
  );
}

function bodyPath(placed: PlacedPart, resistorSymbol: 'box' | 'zigzag'): string {
  const at = (along: number, across: number): string => {
    const [x, y] = placed.at;
    return placed.vertical ? `${x - across} ${y + along}` : `${x + along} ${y + across}`;
  };
  switch (placed.kind) {
    case 'potentiometer':
    case 'resistor': {
      if (resistorSymbol === 'zigzag') {
        const teeth = Array.from({ length: 6 }, (_, i) => at(-1.2 + (i + 0.5) * 0.4, i % 2 === 0 ? -0.62 : 0.62));
        return `M${at(-LEAD, 0)}L${at(-1.2, 0)}L${teeth.join('L')}L${at(1.2, 0)}L${at(LEAD, 0)}`;
      }
      const leads = `M${at(-LEAD, 0)}L${at(-1.3, 0)}M${at(1.3, 0)}L${at(LEAD, 0)}`;
      return `${leads}M${at(-1.3, -0.5)}L${at(1.3, -0.5)}L${at(1.3, 0.5)}L${at(-1.3, 0.5)}Z`;
    }
    case 'capacitor': {
      const plate = (along: number) => `M${at(along, -BODY)}L${at(along, BODY)}`;
      return `M${at(-LEAD, 0)}L${at(-0.28, 0)}M${at(0.28, 0)}L${at(LEAD, 0)}${plate(-0.28)}${plate(0.28)}`;
    }
    case 'current':
      return (
        `M${at(-LEAD, 0)}L${at(-0.9, 0)}M${at(0.9, 0)}L${at(LEAD, 0)}M${at(-0.9, 0)}C${at(-0.9, -1.2)} ` +
        `${at(0.9, -1.2)} ${at(0.9, 0)}C${at(0.9, 1.2)} ${at(-0.9, 1.2)} ` +
        `${at(-0.9, 0)}M${at(-0.5, 0)}L${at(0.5, 0)}M${at(0.15, -0.3)}L${at(0.5, 0)}L${at(0.15, 0.3)}`
      );
    case 'voltage':
      return (
        `M${at(-LEAD, 0)}L${at(-0.9, 0)}M${at(0.9, 0)}L${at(LEAD, 0)}M${at(-0.9, -0.9)}L${at(0.9, -0.9)}` +
        `L${at(0.9, 0.9)}L${at(-0.9, 0.9)}ZM${at(-0.5, 0.5)}L${at(0, 0)}L${at(-0.5, -0.5)}`
      );
    case 'inductor': {
      const humps = Array.from({ length: 4 }, (_, i) => {
        const start = -1.2 + i * 0.6;
        return `C${at(start, -0.9)} ${at(start + 0.6, -0.9)} ${at(start + 0.6, 0)}`;
      });
      return `M${at(-LEAD, 0)}L${at(-1.2, 0)}${humps.join('')}L${at(LEAD, 0)}`;
    }
  }
}

function leftOutPath(placed: PlacedPart, how: 'open' | 'short'): string {
  const [x, y] = placed.at;
  const line = (from: number, to: number) =>
    placed.vertical ? `M${x} ${y + from}L${x} ${y + to}` : `M${x + from} ${y}L${x + to} ${y}`;
  return how === 'short' ? line(-LEAD, LEAD) : line(-LEAD, -1) + line(1, LEAD);
}
