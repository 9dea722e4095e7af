import {
  across,
  LEAD,
  type Drawing,
  type PlacedDevice,
  type PlacedOpAmp,
  type PlacedPart,
  type Point,
} from './drawing';
import type { PartKind } from './part';

/** A circuit as a list: each part by itself with the names of the nets it lies between. */
export interface NetList {
  readonly parts: readonly {
    readonly name: string;
    readonly kind: PartKind;
    readonly nets: readonly [string, string];
  }[];
  readonly opAmps: readonly {
    readonly name: string;
    readonly plus: string;
    readonly minus: string;
    readonly out: string;
  }[];
  readonly devices: readonly {
    readonly name: string;
    readonly symbol: PlacedDevice['symbol'];
    readonly nets: readonly string[];
  }[];
}

const CELL = { width: 20, height: 7 };
const TALL = CELL.height + 2;
const COLUMNS = 2;
const LONGEST_NET = 9;
const REACH = CELL.width / 2 - 1;

/**
 * Plain and readable, whatever the circuit: parts in their order, then amplifiers, then devices, joined by the names of
 * nets.
 */
export function namedNets({ parts, opAmps, devices }: NetList): Drawing {
  const placed: PlacedPart[] = [];
  const amplifiers: PlacedOpAmp[] = [];
  const drawnDevices: PlacedDevice[] = [];
  const wires: Point[][] = [];
  const ports: { label: string; at: Point; side: 'left' | 'right'; net: string }[] = [];
  const label = (net: string): string => (net.length > LONGEST_NET ? `${net.slice(0, LONGEST_NET - 1)}…` : net);
  const cell = (i: number, top: number, height: number): Point => [
    CELL.width * (i % COLUMNS) + CELL.width / 2,
    top + height * Math.floor(i / COLUMNS) + height / 2,
  ];
  const lead = (net: string, from: Point, side: 'left' | 'right', to: number) => {
    const end: Point = [side === 'left' ? to - REACH : to + REACH, from[1]];
    wires.push([end, from]);
    ports.push({ label: label(net), at: end, side, net });
  };
  parts.forEach(({ name, kind, nets }, i) => {
    const [x, y] = cell(i, 0, CELL.height);
    placed.push(across(name, kind, x, y));
    lead(nets[0], [x - LEAD, y], 'left', x);
    lead(nets[1], [x + LEAD, y], 'right', x);
  });
  let top = CELL.height * Math.ceil(parts.length / COLUMNS);
  opAmps.forEach(({ name, plus, minus, out }, i) => {
    const [x, y] = cell(i, top, TALL);
    amplifiers.push({ name, at: [x, y], plusOnTop: true });
    lead(plus, [x - 3, y - 1.5], 'left', x);
    lead(minus, [x - 3, y + 1.5], 'left', x);
    lead(out, [x + 3, y], 'right', x);
  });
  top += TALL * Math.ceil(opAmps.length / COLUMNS);
  devices.forEach(({ name, symbol, nets }, i) => {
    const [x, y] = cell(i, top, TALL);
    drawnDevices.push({ name, symbol, at: [x, y] });
    // Transistor: collector and emitter (drain and source) to the right, base (gate) to the left. What has two ends
    // lies across; a lamp and its cell, one over the other.
    if (symbol === 'npn' || symbol === 'pnp' || symbol === 'n-jfet') {
      const [collector, base, emitter] = nets;
      lead(base, [x - 2, y], 'left', x);
      lead(collector, [x + 1.5, y - 2], 'right', x);
      lead(emitter, [x + 1.5, y + 2], 'right', x);
    } else if (symbol === 'optocoupler') {
      lead(nets[0], [x - 2.5, y - 1.6], 'left', x);
      lead(nets[1], [x + 2.5, y - 1.6], 'right', x);
      lead(nets[2], [x - 2.5, y + 1.6], 'left', x);
      lead(nets[3], [x + 2.5, y + 1.6], 'right', x);
    } else {
      lead(nets[0], [x - LEAD, y], 'left', x);
      lead(nets[1], [x + LEAD, y], 'right', x);
    }
  });
  top += TALL * Math.ceil(devices.length / COLUMNS);
  return {
    width: CELL.width * COLUMNS,
    height: top + 1,
    parts: placed,
    opAmps: amplifiers,
    devices: drawnDevices,
    wires,
    dots: [],
    grounds: [],
    ports,
  };
}
