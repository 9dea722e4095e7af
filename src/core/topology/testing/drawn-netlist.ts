import { USUAL_PHOTOCELL } from '../../device/photocell';
import type { BuildContext, NetworkTopology, Topology } from '../kit/define-topology';
import { CURRENT } from '../voice/control/controlled';
import { THERMAL_VOLTS } from '../voice/control-current';
import { LEAD, RAILS, type Drawing, type PlacedDevice, type Point } from '../kit/drawing';
import type { PartValues } from '../kit/part';

/**
 * A netlist as what meets at each of its nets: part names (once for each lead there), pins of devices, ports, rails.
 * Two of them are one circuit where the lists are equal; nets between the same parts are told apart by their number.
 */
export type Nets = readonly string[];

/** Nets that are joined, by name. */
class Joined {
  private readonly parents = new Map<string, string>();
  find(a: string): string {
    const parent = this.parents.get(a);
    if (parent === undefined || parent === a) return a;
    const root = this.find(parent);
    this.parents.set(a, root);
    return root;
  }
  join(a: string, b: string): void {
    this.parents.set(this.find(a), this.find(b));
  }
}

function netsOf(pins: readonly (readonly [net: string, what: string])[], joined: Joined): Nets {
  const met = new Map<string, string[]>();
  for (const [net, what] of pins) {
    const root = joined.find(net);
    met.set(root, [...(met.get(root) ?? []), what]);
  }
  return [...met.values()].map((list) => list.sort().join(' ')).sort();
}

/** Pins of a device by the order in which its element has its nodes; those that can be exchanged have one name. */
const DEVICE_PINS: Readonly<Record<PlacedDevice['symbol'], readonly string[]>> = {
  npn: ['c', 'b', 'e'],
  pnp: ['c', 'b', 'e'],
  'n-jfet': ['channel', 'gate', 'channel'],
  diode: ['a', 'k'],
  optocoupler: ['lamp+', 'lamp−', 'cell', 'cell'],
};

function devicePoints({ symbol, down, mirrored, at: [x, y] }: PlacedDevice): Point[] {
  const side = mirrored ? -1 : 1;
  const [top, bottom]: Point[] = [
    [x + side * 1.5, y - 2],
    [x + side * 1.5, y + 2],
  ];
  const base: Point = [x - side * 2, y];
  if (symbol === 'npn' || symbol === 'n-jfet') return [top, base, bottom];
  if (symbol === 'pnp') return [bottom, base, top];
  if (symbol === 'diode')
    return down
      ? [
          [x, y - 2],
          [x, y + 2],
        ]
      : [
          [x - 2, y],
          [x + 2, y],
        ];
  return [
    [x - 2.5, y - 1.6],
    [x + 2.5, y - 1.6],
    [x - 2.5, y + 1.6],
    [x + 2.5, y + 1.6],
  ];
}

const keyOf = ([x, y]: Point): string => `${Math.round(x * 20)},${Math.round(y * 20)}`;
const between = (v: number, a: number, b: number): boolean => v >= Math.min(a, b) - 1e-6 && v <= Math.max(a, b) + 1e-6;

function onSegment([x, y]: Point, [ax, ay]: Point, [bx, by]: Point): boolean {
  const off = (x - ax) * (by - ay) - (y - ay) * (bx - ax);
  return Math.abs(off) < 1e-6 && between(x, ax, bx) && between(y, ay, by);
}

/** Walks a drawing's wires, dots and symbols. A wire that ends on another joins it; wires that cross do so at a dot. */
export function drawnNets(drawing: Drawing): Nets {
  const joined = new Joined();
  const pins: [Point, string][] = [];
  for (const { part, at, vertical, wiper } of drawing.parts) {
    const [x, y] = at;
    const [dx, dy] = vertical ? [0, LEAD] : [LEAD, 0];
    pins.push([[x - dx, y - dy], part], [[x + dx, y + dy], part]);
    if (wiper) pins.push([[x + (wiper === 'left' ? -LEAD : LEAD), y], `${part}.wiper`]);
  }
  for (const { name, at, plusOnTop } of drawing.opAmps) {
    const [x, y] = at;
    const up = plusOnTop ? -1.5 : 1.5;
    pins.push([[x - 3, y + up], `${name}.+`], [[x - 3, y - up], `${name}.−`], [[x + 3, y], `${name}.out`]);
  }
  for (const device of drawing.devices ?? [])
    devicePoints(device).forEach((at, i) => pins.push([at, `${device.name}.${DEVICE_PINS[device.symbol][i]}`]));
  for (const at of drawing.grounds) pins.push([at, 'ground']);
  for (const { label, at, net } of drawing.ports) if (isNamed(label, net)) pins.push([at, net ?? label]);
  const ends = drawing.wires.flatMap((wire) => [wire[0], wire[wire.length - 1]]);
  for (const wire of drawing.wires)
    for (let i = 1; i < wire.length; i++) {
      joined.join(keyOf(wire[i - 1]), keyOf(wire[i]));
      for (const point of [...ends, ...drawing.dots, ...pins.map(([at]) => at)])
        if (onSegment(point, wire[i - 1], wire[i])) joined.join(keyOf(point), keyOf(wire[i]));
    }
  // Every ground is one net, and so are ports of one name.
  for (const at of drawing.grounds) joined.join(keyOf(at), 'ground');
  for (const { label, at } of drawing.ports) joined.join(keyOf(at), `port ${label}`);
  return netsOf(
    pins.map(([at, what]) => [keyOf(at), what]),
    joined,
  );
}

const OUTSIDE: readonly string[] = [...RAILS, 'in', 'out'];

/** An end of a driver that hangs between two nodes. */
const DRIVER_END = /^(.*) ([+−])$/;
/** Whether a port says which net it leads to; what it says else joins places on the sheet, no more. */
const isNamed = (label: string, net: string | undefined): boolean =>
  net !== undefined || OUTSIDE.includes(label) || DRIVER_END.test(label);

/** The net a port leads to: an outside one, the end of a driver that hangs between two, or one of the stage's own. */
function portNet(
  label: string,
  net: string | undefined,
  hanging: ReturnType<NonNullable<NetworkTopology['hanging']>> = {},
) {
  const local = (node: string) => (OUTSIDE.includes(node) ? node : `.${node}`);
  const driver = DRIVER_END.exec(label);
  if (driver && hanging[driver[1]]) return local(hanging[driver[1]][driver[2] === '+' ? 'plus' : 'minus']);
  return local(net ?? label);
}

/** What `build` makes of a topology's parts, as far as it is drawn. */
export function builtNets(topology: Topology, form: string, values: PartValues, drawing: Drawing): Nets {
  const joined = new Joined();
  const pins: [string, string][] = [];
  const devices = new Map((drawing.devices ?? []).map((d) => [d.name, DEVICE_PINS[d.symbol]]));
  const amplifiers = new Set(drawing.opAmps.map((o) => o.name));
  const place = (nodes: readonly string[], names: readonly string[]) =>
    names.forEach((what, i) => pins.push([nodes[i], what]));
  const context: BuildContext = {
    form,
    input: 'in',
    output: 'out',
    ground: 'ground',
    reference: 'ground',
    plus: '+V',
    minus: '−V',
    ideal: false,
    thermalVolts: THERMAL_VOLTS,
    common: '.common',
    cell: USUAL_PHOTOCELL,
    node: (local) => `.${local}`,
    has: (name) => values[name] !== undefined,
    value: (name) => values[name],
    wire: (a, b) => joined.join(a, b),
    part: (name, a, b) => place([a, b], [name, name]),
    pot: (name, low, wiper, high) => place([low, wiper, high], [name, `${name}.wiper`, name]),
    ota: (name, plus, minus, out) => {
      place([plus, minus, out], [`${name}.+`, `${name}.−`, `${name}.out`]);
      // One source for all of them.
      if (!pins.some(([, what]) => what === CURRENT)) place(['ground', '.bias'], [CURRENT, CURRENT]);
    },
    jack: (name, tip, sleeve) => place([tip, sleeve], [name, name]),
    current: (name, from, to, copy) => copy ?? place([from, to], [name, name]),
    opAmp: (name, plus, minus, out) => place([plus, minus, out], [`${name}.+`, `${name}.−`, `${name}.out`]),
    element(name, _definition, nodes) {
      const device = devices.get(name);
      if (device)
        place(
          nodes,
          device.map((pin) => `${name}.${pin}`),
        );
      else if (amplifiers.has(name)) place(nodes, [`${name}.+`, `${name}.−`, `${name}.out`]);
    },
  };
  topology.build(context as never);
  const hanging = topology.role === 'network' ? topology.hanging?.(form) : undefined;
  for (const { label, net } of drawing.ports)
    if (isNamed(label, net)) pins.push([portNet(label, net, hanging), net ?? label]);
  for (let i = 0; i < drawing.grounds.length; i++) pins.push(['ground', 'ground']);
  return netsOf(pins, joined);
}
