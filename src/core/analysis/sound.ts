import type { Assembled } from '../circuit/structure';
import { Tape } from '../program/tape';
import { success, type Result } from '../result';
import type { Conditions } from './equations';
import { operatingPoint } from './operating-point';
import {
  BOUNDED_STEPS,
  CHUNK,
  HALF_STEP,
  MOST_ITERATIONS,
  MOST_RISE,
  SETTLED_VOLTS,
  soundModule,
  WHOLE_STEPS,
  type SoundLayout,
} from './sound-module';
import { timeGraph, type TimeGraph } from './time-graph';

/** A circuit that runs sample by sample: sources in, unknowns out, its state kept between calls. */
export interface SampleRunner {
  readonly sources: readonly string[];
  /** Newton iterations of all steps so far. */
  readonly iterations: number;
  /** Steps that did not settle within the most iterations so far: their last values were used. */
  readonly unsettled: number;
  /**
   * New part values from the next call on, state kept. False, and nothing changed, where a value that was zero no
   * longer is: that takes a new runner.
   */
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
 * A circuit at a fixed sample rate as straight-line WebAssembly: what changes a run, a step and an iteration each in a
 * block of its own, the junction exponentials inlined. Starts at rest. Fails as the operating point does, or with
 * `no-unique-solution`.
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

  constructor(
    values: Float64Array,
    private readonly prepared: Prepared,
  ) {
    const { time, a } = prepared;
    this.sources = time.sources;
    this.iteration = new Tape(time.graph, [...time.nextControls, ...time.keptNodes]);
    this.finish = new Tape(time.graph, time.nextHistory);
    this.run = Float64Array.of(...values, a);
    this.step = new Float64Array(time.chargeRows.length + time.sources.length);
    this.step.set(prepared.history);
    [this.controls, this.before, this.earlier] = [
      prepared.controls.slice(),
      prepared.controls.slice(),
      prepared.controls.slice(),
    ];
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
        const gone = (count > WHOLE_STEPS ? HALF_STEP : 1) * change;
        controls[k] += thermal > 0 && count <= BOUNDED_STEPS ? Math.min(gone, MOST_RISE * thermal) : gone;
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

class CompiledRunner implements SampleRunner {
  readonly sources: readonly string[];
  private readonly memory: WebAssembly.Memory;
  private readonly doubles: Float64Array;
  private readonly layout: SoundLayout;
  private readonly a: number;
  private readonly exports: { readonly run: () => void; readonly process: (count: number) => void };

  constructor(values: Float64Array, { time, a, controls, history, wantedAt }: Prepared) {
    this.sources = time.sources;
    this.a = a;
    const { code, constants, limits, layout } = soundModule(time, values.length, wantedAt);
    this.layout = layout;
    this.memory = new WebAssembly.Memory({ initial: Math.ceil(layout.bytes / 65536) });
    this.doubles = new Float64Array(this.memory.buffer);
    this.exports = new WebAssembly.Instance(new WebAssembly.Module(code), { host: { memory: this.memory } })
      .exports as CompiledRunner['exports'];
    for (const at of [layout.controls, layout.before, layout.earlier]) this.doubles.set(controls, at / 8);
    this.doubles.set(history, layout.step / 8);
    time.controls.forEach(
      ({ thermal }, k) => (this.doubles[limits / 8 + k] = thermal > 0 ? MOST_RISE * thermal : Infinity),
    );
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
