import { emitBlock, Locals } from '../../program/emit';
import type { Node } from '../../program/graph';
import { Assembly } from '../../program/assembly';
import { Bytes, F64, I32, moduleOf, V128 } from '../../program/wasm-bytes';
import { FINISH, ITERATION, RUN, STEP, type TimeGraph } from '../time/time-graph';

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

/** Memory of a module: places in bytes, and cells for what its blocks hand one another. */
class Memory {
  bytes = 64;
  readonly constants = new Map<number, number>();
  private readonly cells = Array.from({ length: 5 }, () => new Map<Node, number>());

  constructor(private readonly stages: ArrayLike<number>) {}

  take(count: number): number {
    const start = this.bytes;
    this.bytes += 8 * Math.max(1, count);
    return start;
  }
  readonly cell = (node: Node): number => {
    const known = this.cells[this.stages[node]];
    let at = known.get(node);
    if (at === undefined) known.set(node, (at = this.take(1)));
    return at;
  };
  /** In both lanes. */
  readonly constant = (value: number): number => {
    let at = this.constants.get(value);
    if (at === undefined) this.constants.set(value, (at = this.take(2)));
    return at;
  };
  /** What later blocks want of one. */
  wantedOf(stage: number): { node: Node; at: { offset: number } }[] {
    return [...this.cells[stage]].map(([node, at]) => ({ node, at: { offset: at } }));
  }
}

type Places = Omit<SoundLayout, 'bytes'> & { readonly limits: number; readonly history: number };

function placesOf(memory: Memory, time: TimeGraph, slots: number, wanted: number): Places {
  const rows = time.chargeRows.length;
  // An even number, so that the last control has a neighbour, which stays at 0.
  const controls = time.controls.length + (time.controls.length % 2);
  return {
    limits: memory.take(controls),
    run: memory.take(slots + 1),
    step: memory.take(rows + time.sources.length),
    controls: memory.take(controls),
    before: memory.take(controls),
    earlier: memory.take(controls),
    next: memory.take(controls),
    kept: memory.take(time.kept.length),
    counters: memory.take(2),
    input: memory.take(CHUNK * time.sources.length),
    output: memory.take(CHUNK * wanted),
    history: memory.take(rows),
  };
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
  const memory = new Memory(graph.stages);
  const places = placesOf(memory, time, slots, wantedAt.length);
  const { cell, constant } = memory;
  const inputs = { [RUN]: places.run, [STEP]: places.step, [ITERATION]: places.controls, [FINISH]: places.kept };
  const input = (stage: number) => (index: number) => ({ offset: inputs[stage as keyof typeof inputs] + 8 * index });
  const emit = (stage: number, stores: { node: Node; at: { offset: number } }[], locals: Locals) => {
    const code = new Bytes();
    emitBlock({ graph, lanes: 1, stage, stores, input: input(stage), cell, constant }, code, locals);
    return code;
  };
  const store = (nodes: readonly Node[], start: number) =>
    nodes.map((node, i) => ({ node, at: { offset: start + 8 * i } }));
  const locals = new Locals(1);
  // From the innermost block outwards, since each says what it needs of those around it.
  const iteration = emit(
    ITERATION,
    [...store(time.nextControls, places.next), ...store(time.keptNodes, places.kept)],
    locals,
  );
  const finish = emit(FINISH, store(time.nextHistory, places.history), locals);
  const step = emit(STEP, memory.wantedOf(STEP), locals);
  const body = samples({ step, iteration, finish }, time, wantedAt, places, memory, locals);
  const runLocals = new Locals(0);
  const run = emit(RUN, memory.wantedOf(RUN), runLocals);
  const code = moduleOf([
    { name: 'run', parameters: [], locals: runLocals.types, body: run },
    { name: 'process', parameters: [I32], locals: locals.types, body },
  ]);
  return { code, constants: memory.constants, limits: places.limits, layout: { ...places, bytes: memory.bytes } };
}

/** `process`: its one parameter is how many samples; `i` counts them in bytes. */
function samples(
  blocks: { readonly step: Bytes; readonly iteration: Bytes; readonly finish: Bytes },
  time: TimeGraph,
  wantedAt: readonly number[],
  places: Places,
  memory: Memory,
  locals: Locals,
): Bytes {
  const [i, count] = [locals.take(I32), locals.take(I32)];
  const two = { moved: 0, change: 0, reach: 0, free: 0 };
  for (const name of ['moved', 'change', 'reach', 'free'] as const) two[name] = locals.take(V128);
  const worst = locals.take(F64);
  const code = new Assembly(new Bytes());
  const rows = time.chargeRows.length;
  code.do('loop');
  time.sources.forEach((_, s) =>
    code.save(places.step + 8 * (rows + s), () => code.get(i).loadAt(places.input + 8 * CHUNK * s)),
  );
  code.body.append(blocks.step);
  code.integer(0).set(count).do('loop');
  code.body.append(blocks.iteration);
  move(code, time, places, { ...two, count });
  code.get(two.moved).lane(0).get(two.moved).lane(1).do('greater').set(worst);
  code.count(places.counters);
  code.get(count).integer(1).do('plus').set(count);
  // Again while something moved by more than is settled, up to the most iterations. Not-a-number counts as moved.
  code.get(worst).number(SETTLED_VOLTS).do('atMost', 'not');
  code.get(count).integer(MOST_ITERATIONS).do('less', 'both', 'again', 'end');
  code.get(worst).number(SETTLED_VOLTS).do('atMost', 'not', 'if');
  code.count(places.counters + 8).do('end');
  code.body.append(blocks.finish);
  for (let r = 0; r < rows; r++) code.save(places.step + 8 * r, () => code.load(places.history + 8 * r));
  wantedAt.forEach((at, w) => {
    code.get(i);
    if (at < 0) code.number(0);
    else code.load(places.kept + 8 * at);
    code.saveAt(places.output + 8 * CHUNK * w);
  });
  foretell(code, time, places, memory.constant(3), two.change);
  code.get(i).integer(8).do('plus').set(i);
  code.get(i).get(0).integer(3).do('shiftLeft', 'lessUnsigned', 'again', 'end');
  return code.body;
}

/** Moves the controls, two at a time, to where the iteration asks, with bounded rises, and keeps how far they moved. */
function move(
  code: Assembly,
  time: TimeGraph,
  { controls, next, limits }: Places,
  { moved, change, reach, free, count }: Readonly<Record<'moved' | 'change' | 'reach' | 'free' | 'count', number>>,
): void {
  code.number(1).number(HALF_STEP);
  code.get(count).integer(WHOLE_STEPS).do('less', 'select', 'twice').set(reach);
  // Added to the bounds: nothing, or so much that they bound nothing.
  code.number(0).number(1e30);
  code.get(count).integer(BOUNDED_STEPS).do('less', 'select', 'twice').set(free);
  code.numbers(0).set(moved);
  for (let k = 0; k < time.controls.length; k += 2) {
    const at = controls + 8 * k;
    code
      .load2(next + 8 * k)
      .load2(at)
      .do('subtract2')
      .set(change);
    code.get(moved).get(change).do('absolute2', 'maximum2').set(moved);
    code.save2(at, () => {
      code.load2(at).get(change).get(reach).do('multiply2');
      code
        .load2(limits + 8 * k)
        .get(free)
        .do('add2', 'minimum2', 'add2');
    });
  }
}

/** Where the next step begins: the parabola through the last three, with bounded rises. */
function foretell(code: Assembly, time: TimeGraph, places: Places, three: number, now: number): void {
  for (let k = 0; k < time.controls.length; k += 2) {
    const [controls, before, earlier] = [places.controls, places.before, places.earlier].map((start) => start + 8 * k);
    code.load2(controls).set(now);
    code.save2(controls, () => {
      code.get(now).get(now).get(now).do('add2');
      code.load2(before).load2(three).do('multiply2', 'subtract2');
      code.load2(earlier).do('add2');
      code.load2(places.limits + 8 * k).do('minimum2', 'add2');
    });
    code.save2(earlier, () => code.load2(before));
    code.save2(before, () => code.get(now));
  }
}
