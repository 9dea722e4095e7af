import type { Assembled } from '../circuit/structure';
import { emitBlock, Locals } from '../program/emit';
import type { Node } from '../program/graph';
import { Tape } from '../program/tape';
import { Bytes, F64, I32, moduleOf, V128 } from '../program/wasm-bytes';
import { success, type Result } from '../result';
import type { Conditions } from './equations';
import { operatingPoint } from './operating-point';
import { FINISH, ITERATION, RUN, STEP, timeGraph, type TimeGraph } from './time-graph';

/** A circuit that runs sample by sample: sources in, unknowns out, its state kept between calls. */
export interface SampleRunner {
  readonly sources: readonly string[];
  /** Newton iterations of all steps so far. */
  readonly iterations: number;
  /** Steps that did not settle within the most iterations so far: their last values were used. */
  readonly unsettled: number;
  /** New part values from the next call on, state kept. False, and nothing changed, where a value that was zero no longer is: that takes a new runner. */
  setValues(values: Float64Array): boolean;
  /**
   * @param input one array per source, of `count` values each. @param output one array per wanted unknown.
   */
  process(input: readonly Float64Array[], output: readonly Float64Array[], count: number): void;
}

export interface RunnerRequest {
  readonly sampleRateHz: number;
  /** Unknowns to put out. */
  readonly wanted: readonly number[];
  readonly conditions?: Conditions;
}

/** Iterations stop when no control voltage moved by more, V. */
const SETTLED_VOLTS = 1e-6;
const MOST_ITERATIONS = 30;
/* Each step starts from the parabola through the last three, which for sound is most often within a microvolt. */
/** A junction's voltage rises by no more than this many N·Vt an iteration, so that its exponential stays in sight. */
const MOST_RISE = 4;

interface Prepared {
  readonly time: TimeGraph;
  readonly a: number;
  readonly controls: Float64Array;
  readonly history: Float64Array;
  readonly wantedAt: readonly number[];
}

function prepare(circuit: Assembled, request: RunnerRequest): Result<Prepared> {
  const rest = operatingPoint(circuit, request.conditions);
  if (!rest.ok) return rest;
  const stepS = 1 / request.sampleRateHz;
  const time = timeGraph(circuit, rest.value, stepS, request.wanted, request.conditions);
  if (!time.ok) return time;
  const a = 2 / stepS;
  const volts = (unknown: number) => (unknown < 0 ? 0 : rest.value[unknown]);
  return success({
    time: time.value,
    a,
    controls: Float64Array.from(time.value.controls, ({ ends }) => volts(ends[0]) - volts(ends[1])),
    history: time.value.startingHistory(a),
    wantedAt: request.wanted.map((unknown) => time.value.kept.indexOf(unknown)),
  });
}

/**
 * A circuit at a fixed sample rate as straight-line WebAssembly: what changes a run, a step and an iteration each in a block of its own, the junction
 * exponentials inlined. Starts at rest. Fails as the operating point does, or with `no-unique-solution`.
 */
export function compiledRunner(circuit: Assembled, request: RunnerRequest): Result<SampleRunner> {
  const prepared = prepare(circuit, request);
  return prepared.ok ? success(new CompiledRunner(circuit.values, prepared.value)) : prepared;
}

/** The same by interpretation: the oracle of the compiled one, and its stand-in. */
export function interpretedRunner(circuit: Assembled, request: RunnerRequest): Result<SampleRunner> {
  const prepared = prepare(circuit, request);
  return prepared.ok ? success(new InterpretedRunner(circuit.values, prepared.value)) : prepared;
}

/** Whether no value has come alive that the program was built without. */
function sameZeros(before: Float64Array, after: Float64Array): boolean {
  return after.every((value, i) => value === 0 || before[i] !== 0);
}

class InterpretedRunner implements SampleRunner {
  readonly sources: readonly string[];
  iterations = 0;
  unsettled = 0;
  private readonly iteration: Tape;
  private readonly finish: Tape;
  private run: Float64Array;
  private readonly step: Float64Array;
  private readonly controls: Float64Array;
  /** Control voltages of the last two steps. */
  private readonly before: Float64Array;
  private readonly earlier: Float64Array;
  private readonly kept: Float64Array;
  private readonly result: Float64Array;

  constructor(values: Float64Array, private readonly prepared: Prepared) {
    const { time, a } = prepared;
    this.sources = time.sources;
    this.iteration = new Tape(time.graph, [...time.nextControls, ...time.keptNodes]);
    this.finish = new Tape(time.graph, time.nextHistory);
    this.run = Float64Array.of(...values, a);
    this.step = new Float64Array(time.chargeRows.length + time.sources.length);
    this.step.set(prepared.history);
    [this.controls, this.before, this.earlier] = [prepared.controls.slice(), prepared.controls.slice(), prepared.controls.slice()];
    this.kept = new Float64Array(time.kept.length);
    this.result = new Float64Array(time.controls.length + time.kept.length);
  }

  setValues(values: Float64Array): boolean {
    if (!sameZeros(this.run, values)) return false;
    this.run = Float64Array.of(...values, this.prepared.a);
    return true;
  }

  process(input: readonly Float64Array[], output: readonly Float64Array[], count: number): void {
    const { time, wantedAt } = this.prepared;
    const rows = time.chargeRows.length;
    const history = new Float64Array(rows);
    for (let i = 0; i < count; i++) {
      input.forEach((source, s) => (this.step[rows + s] = source[i]));
      this.settle();
      wantedAt.forEach((at, w) => (output[w][i] = at < 0 ? 0 : this.kept[at]));
      this.finish.run([this.run, this.step, this.controls, this.kept], history);
      this.step.set(history);
      this.predict();
    }
  }

  private predict(): void {
    const { controls, before, earlier } = this;
    this.prepared.time.controls.forEach(({ thermal }, k) => {
      const now = controls[k];
      const change = 2 * now - 3 * before[k] + earlier[k];
      controls[k] += thermal > 0 ? Math.min(change, MOST_RISE * thermal) : change;
      earlier[k] = before[k];
      before[k] = now;
    });
  }

  private settle(): void {
    const { controls, result } = this;
    const limits = this.prepared.time.controls;
    for (let count = 1; ; count++) {
      this.iterations++;
      this.iteration.run([this.run, this.step, controls], result);
      let moved = 0;
      limits.forEach(({ thermal }, k) => {
        const change = result[k] - controls[k];
        moved = Math.max(moved, Math.abs(change));
        controls[k] += thermal > 0 ? Math.min(change, MOST_RISE * thermal) : change;
      });
      this.kept.set(result.subarray(limits.length));
      if (moved <= SETTLED_VOLTS) return;
      if (count >= MOST_ITERATIONS) {
        this.unsettled++;
        return;
      }
    }
  }
}

/** Operations on two numbers side by side (f64x2). */
const [ABSOLUTE, ADD, SUBTRACT, MULTIPLY, MINIMUM, MAXIMUM] = [0xec, 0xf0, 0xf1, 0xf2, 0xf4, 0xf5];
/** Samples in one call of the compiled loop. */
const CHUNK = 1024;

class CompiledRunner implements SampleRunner {
  readonly sources: readonly string[];
  private readonly memory: WebAssembly.Memory;
  private readonly doubles: Float64Array;
  private readonly layout: Layout;
  private readonly a: number;
  private readonly exports: { readonly run: () => void; readonly process: (count: number) => void };

  constructor(values: Float64Array, { time, a, controls, history, wantedAt }: Prepared) {
    this.sources = time.sources;
    this.a = a;
    const { code, constants, limits, layout } = assembleModule(time, values.length, wantedAt);
    this.layout = layout;
    this.memory = new WebAssembly.Memory({ initial: Math.ceil(layout.bytes / 65536) });
    this.doubles = new Float64Array(this.memory.buffer);
    this.exports = new WebAssembly.Instance(new WebAssembly.Module(code), { host: { memory: this.memory } }).exports as CompiledRunner['exports'];
    for (const at of [layout.controls, layout.before, layout.earlier]) this.doubles.set(controls, at / 8);
    this.doubles.set(history, layout.step / 8);
    time.controls.forEach(({ thermal }, k) => (this.doubles[limits / 8 + k] = thermal > 0 ? MOST_RISE * thermal : Infinity));
    for (const [value, at] of constants) this.doubles.fill(value, at / 8, at / 8 + 2);
    this.writeValues(values);
  }

  get iterations(): number {
    return this.doubles[this.layout.counters / 8];
  }

  get unsettled(): number {
    return this.doubles[this.layout.counters / 8 + 1];
  }

  setValues(values: Float64Array): boolean {
    if (!sameZeros(this.doubles.subarray(this.layout.run / 8), values)) return false;
    this.writeValues(values);
    return true;
  }

  private writeValues(values: Float64Array): void {
    this.doubles.set(values, this.layout.run / 8);
    this.doubles[this.layout.run / 8 + values.length] = this.a;
    this.exports.run();
  }

  process(input: readonly Float64Array[], output: readonly Float64Array[], count: number): void {
    const { doubles, layout } = this;
    for (let start = 0; start < count; start += CHUNK) {
      const length = Math.min(CHUNK, count - start);
      for (let s = 0; s < input.length; s++) {
        const at = layout.input / 8 + s * CHUNK;
        for (let i = 0; i < length; i++) doubles[at + i] = input[s][start + i];
      }
      this.exports.process(length);
      for (let w = 0; w < output.length; w++) {
        const at = layout.output / 8 + w * CHUNK;
        for (let i = 0; i < length; i++) output[w][start + i] = doubles[at + i];
      }
    }
  }
}

interface Layout {
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

function assembleModule(time: TimeGraph, slots: number, wantedAt: readonly number[]): { code: Uint8Array<ArrayBuffer>; constants: ReadonlyMap<number, number>; limits: number; layout: Layout } {
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
    run: take(slots + 1), step: take(rows + time.sources.length), controls: take(controls), before: take(controls), earlier: take(controls), next: take(controls), kept: take(time.kept.length),
    counters: take(2), input: take(CHUNK * time.sources.length), output: take(CHUNK * wantedAt.length), history: take(rows),
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
  const inputAt = (stage: number) => (index: number) => ({ offset: { [RUN]: places.run, [STEP]: places.step, [ITERATION]: places.controls, [FINISH]: places.kept }[stage as 1 | 2 | 3 | 4] + 8 * index });
  const body = new Bytes();
  const locals = new Locals(1);
  const emit = (stage: number, stores: { node: Node; at: { offset: number } }[]) => {
    const code = new Bytes();
    emitBlock({ graph, lanes: 1, stage, stores, input: inputAt(stage), cell, constant }, code, locals);
    return code;
  };
  const store = (nodes: readonly Node[], start: number) => nodes.map((node, i) => ({ node, at: { offset: start + 8 * i } }));
  // From the innermost block outwards, since each says what it needs of those around it.
  const iteration = emit(ITERATION, [...store(time.nextControls, places.next), ...store(time.keptNodes, places.kept)]);
  const finish = emit(FINISH, store(time.nextHistory, places.history));
  const step = emit(STEP, [...cells[STEP]].map(([node, at]) => ({ node, at: { offset: at } })));
  const [i, count] = [locals.take(I32), locals.take(I32)];
  const [moved, change] = [locals.take(V128), locals.take(V128)];
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
  const bump = (offset: number) => save(offset, () => { load(offset); number(1).byte(0xa0); });
  // Per sample.
  body.byte(0x03, 0x40);
  time.sources.forEach((_, s) => save(places.step + 8 * (rows + s), () => get(i).byte(0x2b, 0x03).unsigned(places.input + 8 * CHUNK * s)));
  body.append(step);
  body.byte(0x41, 0x00);
  set(count);
  // Per iteration: solve, move the controls with bounded rises, and see how far they moved.
  body.byte(0x03, 0x40).append(iteration);
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
      load2(limits + 8 * k);
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
  emitBlock({ graph, lanes: 1, stage: RUN, stores: [...cells[RUN]].map(([node, at]) => ({ node, at: { offset: at } })), input: inputAt(RUN), cell }, runBody, runLocals);
  const code = moduleOf([
    { name: 'run', parameters: [], locals: runLocals.types, body: runBody },
    { name: 'process', parameters: [I32], locals: locals.types, body },
  ]);
  return { code, constants, limits, layout: { ...places, bytes: address } };
}

