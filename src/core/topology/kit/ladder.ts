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
  const most = Math.max(1, ...arms.map((arm) => (arm.to === 'line' ? arm.parts.length : 1)));
  const drawn = new LadderDrawing(most > 1 ? 3 + PAIR_RISE * (most - 1) : 4);
  arms.forEach((arm, i) => {
    if (arm.to === 'line') drawn.inLine(arm.parts, i === 0);
    else if (arm.to === 'ground') drawn.toGround(arm, i === 0 || arms[i - 1].to === 'ground');
    else drawn.follower(arm.name);
  });
  return drawn.done();
}

type ToGround = Extract<Arm, { to: 'ground' }>;

/** A ladder as it is drawn from left to right, its line at one height. */
class LadderDrawing {
  private readonly parts: PlacedPart[] = [];
  private readonly opAmps: PlacedOpAmp[] = [];
  private readonly wires: Point[][] = [];
  private readonly dots: Point[] = [];
  private readonly grounds: Point[] = [];
  private x = 0;
  private bottom: number;

  constructor(private readonly y: number) {
    this.bottom = y + 3;
  }

  /** Parts beside one another in the line, the first of them in it. */
  inLine([first, ...others]: readonly string[], atStart: boolean): void {
    const { y } = this;
    if (others.length > 0) {
      if (atStart) this.lineTo(3);
      others.forEach((part, k) => this.above(part, y - PAIR_RISE * (k + 1), k > 0));
      this.dots.push([this.x, y], [this.x + STEP, y]);
    }
    const { x } = this;
    this.wires.push(horizontal(x, x + 2, y), horizontal(x + 6, x + STEP, y));
    this.parts.push(across(first, kindOf(first), x + 4, y));
    this.x += STEP;
  }

  /** Parts from the line to ground: side by side, or one on another. */
  toGround({ parts, joined }: ToGround, withRoom: boolean): void {
    if (withRoom) this.lineTo(this.x + STEP);
    const { y } = this;
    const lower = y + 2.5;
    parts.forEach((part, k) => {
      if (k > 0 && joined === 'stack') return this.down(part, lower + 4 * k);
      if (k > 0) this.lineTo(this.x + STEP);
      this.dots.push([this.x, y]);
      this.wires.push([
        [this.x, y],
        [this.x, lower],
      ]);
      this.down(part, lower);
      if (joined !== 'stack') this.grounds.push([this.x, lower + 4]);
    });
    if (joined === 'stack') this.grounds.push([this.x, lower + 4 * parts.length]);
  }

  follower(name: string): void {
    const { y } = this;
    const plus = this.x + 2;
    this.wires.push(
      horizontal(this.x, plus, y),
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
    this.dots.push([plus + 8, y + 1.5]);
    this.opAmps.push({ name, at: [plus + 3, y + 1.5], plusOnTop: true });
    this.x = plus + 9;
    this.bottom = Math.max(this.bottom, y + 6.5);
  }

  done(): Drawing {
    this.lineTo(this.x + 4);
    const { x, y, bottom, parts, opAmps, wires, dots, grounds } = this;
    const ports: Drawing['ports'] = [
      { label: 'in', at: [0, y], side: 'left' },
      { label: 'out', at: [x, y], side: 'right' },
    ];
    return { width: x + 2, height: bottom + 2, parts, opAmps, wires, dots, grounds, ports };
  }

  private lineTo(to: number): void {
    if (to > this.x) this.wires.push(horizontal(this.x, to, this.y));
    this.x = to;
  }

  /** A part beside those under it, joined to the line at both ends. */
  private above(part: string, row: number, onAnother: boolean): void {
    const { x } = this;
    this.wires.push(
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
    this.parts.push(across(part, kindOf(part), x + 4, row));
    if (onAnother) this.dots.push([x, row + PAIR_RISE], [x + STEP, row + PAIR_RISE]);
  }

  private down(part: string, upper: number): void {
    this.parts.push(down(part, kindOf(part), this.x, upper + 2));
    this.bottom = Math.max(this.bottom, upper + 6);
  }
}

const horizontal = (from: number, to: number, y: number): Point[] => [
  [from, y],
  [to, y],
];

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
