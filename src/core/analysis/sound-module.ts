import { emitBlock, Locals } from '../program/emit';
import type { Node } from '../program/graph';
import { Bytes, F64, I32, moduleOf, V128 } from '../program/wasm-bytes';
import { FINISH, ITERATION, RUN, STEP, type TimeGraph } from './time-graph';

/** Iterations stop when no control voltage moved by more, V. */
export const SETTLED_VOLTS = 1e-6;
export const MOST_ITERATIONS = 60;
/**
 * After so many iterations junctions are no longer held back, since a step that is bounded in one control and not in
 * another may jump to and fro; and after more a step goes only half the way: what jumps between an op-amp's limits
 * comes to rest between them.
 */
export const BOUNDED_STEPS = 12;
export const WHOLE_STEPS = 24;
export const HALF_STEP = 0.5;
/** A junction's voltage rises by no more than this many N·Vt an iteration, so that its exponential stays in sight. */
export const MOST_RISE = 4;
/** Samples in one call of the compiled loop. */
export const CHUNK = 1024;
/** Operations on two numbers side by side (f64x2). */
const [ABSOLUTE, ADD, SUBTRACT, MULTIPLY, MINIMUM, MAXIMUM] = [0xec, 0xf0, 0xf1, 0xf2, 0xf4, 0xf5];

export interface SoundLayout {
  readonly run: number;
  readonly step: number;
  readonly controls: number;
  readonly before: number;
  readonly earlier: number;
  readonly next: number;
  readonly kept: number;
  readonly counters: number;
  readonly input: number;
  readonly output: number;
  readonly bytes: number;
}

/**
 * The module of a time program: `run()` for what changes with the part values, `process(count)` for that many samples
 * (CHUNK at most). Each sample starts from the parabola through the last three, which for sound is most often within a
 * microvolt.
 */
export function soundModule(
  time: TimeGraph,
  slots: number,
  wantedAt: readonly number[],
): { code: Uint8Array<ArrayBuffer>; constants: ReadonlyMap<number, number>; limits: number; layout: SoundLayout } {
  const { graph } = time;
  let address = 64;
  const take = (count: number) => {
    const start = address;
    address += 8 * Math.max(1, count);
    return start;
  };
  const rows = time.chargeRows.length;
  // An even number, so that the last control has a neighbour, which stays at 0.
  const controls = time.controls.length + (time.controls.length % 2);
  const limits = take(controls);
  const places = {
    run: take(slots + 1),
    step: take(rows + time.sources.length),
    controls: take(controls),
    before: take(controls),
    earlier: take(controls),
    next: take(controls),
    kept: take(time.kept.length),
    counters: take(2),
    input: take(CHUNK * time.sources.length),
    output: take(CHUNK * wantedAt.length),
    history: take(rows),
  };
  const cells = Array.from({ length: 5 }, () => new Map<Node, number>());
  const cell = (node: Node): number => {
    const known = cells[graph.stages[node]];
    let at = known.get(node);
    if (at === undefined) known.set(node, (at = take(1)));
    return at;
  };
  const constants = new Map<number, number>();
  const constant = (value: number): number => {
    let at = constants.get(value);
    if (at === undefined) constants.set(value, (at = take(2)));
    return at;
  };
  const inputAt = (stage: number) => (index: number) => ({
    offset:
      { [RUN]: places.run, [STEP]: places.step, [ITERATION]: places.controls, [FINISH]: places.kept }[
        stage as 1 | 2 | 3 | 4
      ] +
      8 * index,
  });
  const body = new Bytes();
  const locals = new Locals(1);
  const emit = (stage: number, stores: { node: Node; at: { offset: number } }[]) => {
    const code = new Bytes();
    emitBlock({ graph, lanes: 1, stage, stores, input: inputAt(stage), cell, constant }, code, locals);
    return code;
  };
  const store = (nodes: readonly Node[], start: number) =>
    nodes.map((node, i) => ({ node, at: { offset: start + 8 * i } }));
  // From the innermost block outwards, since each says what it needs of those around it.
  const iteration = emit(ITERATION, [...store(time.nextControls, places.next), ...store(time.keptNodes, places.kept)]);
  const finish = emit(FINISH, store(time.nextHistory, places.history));
  const step = emit(
    STEP,
    [...cells[STEP]].map(([node, at]) => ({ node, at: { offset: at } })),
  );
  const [i, count] = [locals.take(I32), locals.take(I32)];
  const [moved, change, reach, free] = [locals.take(V128), locals.take(V128), locals.take(V128), locals.take(V128)];
  const worst = locals.take(F64);
  const load = (offset: number) => body.byte(0x41, 0x00, 0x2b, 0x03).unsigned(offset);
  const save = (offset: number, value: () => void) => {
    body.byte(0x41, 0x00);
    value();
    body.byte(0x39, 0x03).unsigned(offset);
  };
  const number = (value: number) => body.byte(0x44).double(value);
  const get = (local: number) => body.byte(0x20).unsigned(local);
  const set = (local: number) => body.byte(0x21).unsigned(local);
  // Controls are handled two at a time.
  const load2 = (offset: number) => body.byte(0x41, 0x00, 0xfd, 0x00, 0x03).unsigned(offset);
  const save2 = (offset: number, value: () => void) => {
    body.byte(0x41, 0x00);
    value();
    body.byte(0xfd, 0x0b, 0x03).unsigned(offset);
  };
  const vector = (op: number) => body.byte(0xfd).unsigned(op);
  const zero = () => body.byte(0xfd, 0x0c).double(0).double(0);
  const bump = (offset: number) =>
    save(offset, () => {
      load(offset);
      number(1).byte(0xa0);
    });
  // Per sample.
  body.byte(0x03, 0x40);
  time.sources.forEach((_, s) =>
    save(places.step + 8 * (rows + s), () =>
      get(i)
        .byte(0x2b, 0x03)
        .unsigned(places.input + 8 * CHUNK * s),
    ),
  );
  body.append(step);
  body.byte(0x41, 0x00);
  set(count);
  // Per iteration: solve, move the controls with bounded rises, and see how far they moved.
  body.byte(0x03, 0x40).append(iteration);
  number(1);
  number(HALF_STEP);
  get(count).byte(0x41).signed(WHOLE_STEPS).byte(0x48, 0x1b, 0xfd, 0x14);
  set(reach);
  // Added to the bounds: nothing, or so much that they bound nothing.
  number(0);
  number(1e30);
  get(count).byte(0x41).signed(BOUNDED_STEPS).byte(0x48, 0x1b, 0xfd, 0x14);
  set(free);
  zero();
  set(moved);
  for (let k = 0; k < time.controls.length; k += 2) {
    load2(places.next + 8 * k);
    load2(places.controls + 8 * k);
    vector(SUBTRACT);
    set(change);
    get(moved);
    get(change);
    vector(ABSOLUTE);
    vector(MAXIMUM);
    set(moved);
    save2(places.controls + 8 * k, () => {
      load2(places.controls + 8 * k);
      get(change);
      get(reach);
      vector(MULTIPLY);
      load2(limits + 8 * k);
      get(free);
      vector(ADD);
      vector(MINIMUM);
      vector(ADD);
    });
  }
  for (const lane of [0, 1]) {
    get(moved);
    body.byte(0xfd, 0x21, lane);
  }
  body.byte(0xa5);
  set(worst);
  bump(places.counters);
  get(count).byte(0x41, 0x01, 0x6a);
  set(count);
  // Again while something moved by more than is settled, up to the most iterations. Not-a-number counts as moved.
  get(worst);
  number(SETTLED_VOLTS).byte(0x65, 0x45);
  get(count).byte(0x41).signed(MOST_ITERATIONS).byte(0x48, 0x71, 0x0d, 0x00, 0x0b);
  get(worst);
  number(SETTLED_VOLTS).byte(0x65, 0x45, 0x04, 0x40);
  bump(places.counters + 8);
  body.byte(0x0b);
  body.append(finish);
  for (let r = 0; r < rows; r++) save(places.step + 8 * r, () => load(places.history + 8 * r));
  wantedAt.forEach((at, w) => {
    get(i);
    if (at < 0) number(0);
    else load(places.kept + 8 * at);
    body.byte(0x39, 0x03).unsigned(places.output + 8 * CHUNK * w);
  });
  // The parabola through the last three steps.
  for (let k = 0; k < time.controls.length; k += 2) {
    const [now, before, earlier] = [places.controls, places.before, places.earlier].map((start) => start + 8 * k);
    load2(now);
    set(change);
    save2(now, () => {
      get(change);
      get(change);
      get(change);
      vector(ADD);
      load2(before);
      load2(constant(3));
      vector(MULTIPLY);
      vector(SUBTRACT);
      load2(earlier);
      vector(ADD);
      load2(limits + 8 * k);
      vector(MINIMUM);
      vector(ADD);
    });
    save2(earlier, () => load2(before));
    save2(before, () => get(change));
  }
  get(i).byte(0x41, 0x08, 0x6a);
  set(i);
  get(i);
  get(0).byte(0x41, 0x03, 0x74, 0x49, 0x0d, 0x00, 0x0b);
  const runBody = new Bytes();
  const runLocals = new Locals(0);
  emitBlock(
    {
      graph,
      lanes: 1,
      stage: RUN,
      stores: [...cells[RUN]].map(([node, at]) => ({ node, at: { offset: at } })),
      input: inputAt(RUN),
      cell,
    },
    runBody,
    runLocals,
  );
  const code = moduleOf([
    { name: 'run', parameters: [], locals: runLocals.types, body: runBody },
    { name: 'process', parameters: [I32], locals: locals.types, body },
  ]);
  return { code, constants, limits, layout: { ...places, bytes: address } };
}
