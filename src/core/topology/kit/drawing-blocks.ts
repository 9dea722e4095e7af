import { across, type Drawing, type PlacedDevice, type PlacedOpAmp, type PlacedPart, type Point } from './drawing';
import type { PartKind } from './part';

/** A drawing in the making. */
export interface Sketch {
  readonly parts: PlacedPart[];
  readonly opAmps: PlacedOpAmp[];
  readonly devices: PlacedDevice[];
  readonly wires: (readonly Point[])[];
  readonly dots: Point[];
  readonly grounds: Point[];
  readonly ports: Drawing['ports'][number][];
}
export const sketch = (): Sketch => ({
  parts: [],
  opAmps: [],
  devices: [],
  wires: [],
  dots: [],
  grounds: [],
  ports: [],
});

type Named = readonly [part: string, kind: PartKind];

/** From the start of one op-amp block to the start of the next. */
export const BLOCK = 15;
/** Between rows of feedback parts. */
const ROW = 4.8;
/** Where a block's inputs add, from its start. */
const SUM = 5.9;

/** What others connect to: where inputs add, the output, and the height of a row of feedback (0 lowest). */
export interface Block {
  readonly sum: Point;
  readonly out: Point;
  /** The op-amp's other input. */
  readonly plus: Point;
  row(index: number): number;
}

/**
 * An op-amp that adds into its inverting input: an input part in line at height y, feedback parts in rows above; the
 * other input on ground unless it is led elsewhere.
 */
export function invertingBlock(
  into: Sketch,
  x: number,
  y: number,
  name: string,
  input: Named | null,
  feedback: readonly Named[],
  plus: 'ground' | 'open' = 'ground',
): Block {
  const row = (index: number) => y - 5 - ROW * index;
  const out: Point = [x + BLOCK, y + 1.5];
  if (input) {
    into.parts.push(across(input[0], input[1], x + 2.5, y));
    into.wires.push(
      [
        [x, y],
        [x + 0.5, y],
      ],
      [
        [x + 4.5, y],
        [x + 8, y],
      ],
    );
  } else
    into.wires.push([
      [x + SUM, y],
      [x + 8, y],
    ]);
  into.opAmps.push({ name, at: [x + 11, y + 1.5], plusOnTop: false });
  into.wires.push([[x + 14, y + 1.5], [...out]]);
  if (plus === 'ground') {
    into.wires.push([
      [x + 8, y + 3],
      [x + 7.4, y + 3],
      [x + 7.4, y + 4.5],
    ]);
    into.grounds.push([x + 7.4, y + 4.5]);
  }
  feedback.forEach(([part, kind], i) => {
    into.parts.push(across(part, kind, x + 10.5, row(i)));
    into.wires.push(
      [
        [x + SUM, row(i)],
        [x + 8.5, row(i)],
      ],
      [
        [x + 12.5, row(i)],
        [x + BLOCK, row(i)],
      ],
    );
  });
  const top = row(feedback.length - 1);
  into.wires.push(
    [
      [x + SUM, y],
      [x + SUM, top],
    ],
    [
      [x + BLOCK, y + 1.5],
      [x + BLOCK, top],
    ],
  );
  into.dots.push([x + SUM, y], out);
  return { sum: [x + SUM, y], out, plus: [x + 8, y + 3], row };
}

/** A follower: an input part in line at height y to the op-amp's non-inverting input. */
export function followerBlock(into: Sketch, x: number, y: number, name: string, input: Named): Block {
  const out: Point = [x + BLOCK, y + 1.5];
  into.parts.push(across(input[0], input[1], x + 2.5, y));
  into.opAmps.push({ name, at: [x + 11, y + 1.5], plusOnTop: true });
  into.wires.push(
    [
      [x, y],
      [x + 0.5, y],
    ],
    [
      [x + 4.5, y],
      [x + 8, y],
    ],
    [[x + 14, y + 1.5], [...out]],
    [[x + 8, y + 3], [x + 7.4, y + 3], [x + 7.4, y + 6], [x + BLOCK, y + 6], [...out]],
  );
  into.dots.push(out);
  return { sum: [x + SUM, y], out, plus: [x + 8, y], row: (index) => y - 5 - ROW * index };
}

/** The finished drawing, with an input and an output marked. */
export function finished(drawn: Sketch, width: number, height: number, input: Point, output: Point): Drawing {
  const end: Point = [output[0] + 3, output[1]];
  return {
    width,
    height,
    ...drawn,
    wires: [...drawn.wires, [output, end]],
    ports: [{ label: 'in', at: input, side: 'left' }, { label: 'out', at: end, side: 'right' }, ...drawn.ports],
  };
}
