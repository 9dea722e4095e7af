import type { Arm } from './arm';
import type { BuildContext } from './define-topology';
import { across, down, type Drawing, type PlacedOpAmp, type PlacedPart, type Point } from './drawing';
import type { PartKind } from './part';

/** Several parts in line are side by side. */
export const inLine = (...parts: string[]): Arm => ({ to: 'line', parts });
export const toGround = (part: string): Arm => ({ to: 'ground', parts: [part] });
export const stacked = (...parts: string[]): Arm => ({ to: 'ground', parts, joined: 'stack' });
export const paired = (...parts: string[]): Arm => ({ to: 'ground', parts, joined: 'pair' });
export const follower = (name: string): Arm => ({ to: 'follower', name });

const KINDS: Readonly<Record<string, PartKind>> = { R: 'resistor', C: 'capacitor', L: 'inductor' };
export const kindOf = (part: string): PartKind => KINDS[part[0]];

export function buildLadder(context: BuildContext, arms: readonly Arm[]): void {
  let [node, count] = [context.input, 0];
  const moves = arms.map((arm) => arm.to !== 'ground');
  const last = moves.lastIndexOf(true);
  if (last < 0) context.wire(context.input, context.output);
  arms.forEach((arm, i) => {
    if (arm.to === 'ground') {
      if (arm.joined === 'stack') {
        let upper = node;
        arm.parts.forEach((part, k) => {
          const lower = k === arm.parts.length - 1 ? context.reference : context.node(`m${count++}`);
          context.part(part, upper, lower);
          upper = lower;
        });
      } else for (const part of arm.parts) context.part(part, node, context.reference);
      return;
    }
    const next = i === last ? context.output : context.node(`n${count++}`);
    if (arm.to === 'line') for (const part of arm.parts) context.part(part, node, next);
    else context.opAmp(arm.name, node, next, next);
    node = next;
  });
}

/** Width of a part in line with its wires, of a part to ground with its label. */
const STEP = 8;
const PAIR_RISE = 5;

export function drawLadder(arms: readonly Arm[]): Drawing {
  const parts: PlacedPart[] = [];
  const opAmps: PlacedOpAmp[] = [];
  const wires: Point[][] = [];
  const dots: Point[] = [];
  const grounds: Point[] = [];
  const most = Math.max(1, ...arms.map((arm) => (arm.to === 'line' ? arm.parts.length : 1)));
  const y = most > 1 ? 3 + PAIR_RISE * (most - 1) : 4;
  let x = 0;
  let bottom = y + 3;
  const line = (to: number) => {
    if (to > x)
      wires.push([
        [x, y],
        [to, y],
      ]);
    x = to;
  };
  const ground = (part: string, at: number, upper: number) => {
    parts.push(down(part, kindOf(part), at, upper + 2));
    bottom = Math.max(bottom, upper + 6);
  };
  arms.forEach((arm, i) => {
    const first = i === 0;
    if (arm.to === 'line') {
      if (arm.parts.length > 1) {
        if (first) line(3);
        arm.parts.slice(1).forEach((part, k) => {
          const row = y - PAIR_RISE * (k + 1);
          wires.push(
            [
              [x, row + PAIR_RISE],
              [x, row],
              [x + 2, row],
            ],
            [
              [x + 6, row],
              [x + STEP, row],
              [x + STEP, row + PAIR_RISE],
            ],
          );
          parts.push(across(part, kindOf(part), x + 4, row));
          if (k > 0) dots.push([x, row + PAIR_RISE], [x + STEP, row + PAIR_RISE]);
        });
        dots.push([x, y], [x + STEP, y]);
      }
      wires.push(
        [
          [x, y],
          [x + 2, y],
        ],
        [
          [x + 6, y],
          [x + STEP, y],
        ],
      );
      parts.push(across(arm.parts[0], kindOf(arm.parts[0]), x + 4, y));
      x += STEP;
    } else if (arm.to === 'ground') {
      if (first || arms[i - 1].to === 'ground') line(x + STEP);
      const lower = y + 2.5;
      arm.parts.forEach((part, k) => {
        if (k > 0 && arm.joined === 'stack') return ground(part, x, lower + 4 * k);
        if (k > 0) line(x + STEP);
        dots.push([x, y]);
        wires.push([
          [x, y],
          [x, lower],
        ]);
        ground(part, x, lower);
        if (arm.joined !== 'stack') grounds.push([x, lower + 4]);
      });
      if (arm.joined === 'stack') grounds.push([x, lower + 4 * arm.parts.length]);
    } else {
      const plus = x + 2;
      wires.push(
        [
          [x, y],
          [plus, y],
        ],
        [
          [plus, y + 3],
          [plus - 1, y + 3],
          [plus - 1, y + 5.5],
          [plus + 8, y + 5.5],
          [plus + 8, y + 1.5],
        ],
        [
          [plus + 6, y + 1.5],
          [plus + 8, y + 1.5],
          [plus + 8, y],
          [plus + 9, y],
        ],
      );
      dots.push([plus + 8, y + 1.5]);
      opAmps.push({ name: arm.name, at: [plus + 3, y + 1.5], plusOnTop: true });
      x = plus + 9;
      bottom = Math.max(bottom, y + 6.5);
    }
  });
  line(x + 4);
  return {
    width: x + 2,
    height: bottom + 2,
    parts,
    opAmps,
    wires,
    dots,
    grounds,
    ports: [
      { label: 'in', at: [0, y], side: 'left' },
      { label: 'out', at: [x, y], side: 'right' },
    ],
  };
}

/**
 * A ladder of n sections, part a in line and part b to ground, seen from its open end: V(in)/V(out) as a polynomial in
 * the product of an in-line impedance and a shunt admittance's frequency. With resistors in line and capacitors to
 * ground it is a polynomial in s; the other way round in 1/s. Chain relations from the end: I += Y V, V += Z I (M. E.
 * Van Valkenburg, Network Analysis, 3rd ed., 11.6).
 *
 * @param inLineSize R of each section (or 1/C), @param shuntSize C of each (or 1/R); from the input on.
 */
export function openLadder(inLineSize: readonly number[], shuntSize: readonly number[]): number[] {
  let volts: number[] = [1];
  let amps: number[] = [];
  const add = (a: readonly number[], b: readonly number[]) =>
    Array.from({ length: Math.max(a.length, b.length) }, (_, i) => (a[i] ?? 0) + (b[i] ?? 0));
  for (let k = inLineSize.length - 1; k >= 0; k--) {
    // Current carries the frequency once more than voltage: shifting by one power is multiplying by it.
    amps = add(
      amps,
      volts.map((v) => v * shuntSize[k]),
    );
    volts = add(volts, [0, ...amps.map((a) => a * inLineSize[k])]);
  }
  return volts;
}
