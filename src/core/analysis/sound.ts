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
  /** Steps that did not settle so far, however finely they were cut: it stood still for them. */
  readonly unsettled: number;
  /** Steps that settled only in pieces: the circuit jumps. */
  readonly jumps: number;
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

/** Into how many a step is cut that does not settle: a circuit that jumps does so within its op-amps' microseconds. */
const CUTS = [8, 64, 512, 4096] as const;

/** What steps a circuit by one fixed step, and can be put back. */
interface Stepper {
  /** Runs samples from `start` on; histories of the last but one stay in `earlierHistory`. */
  step(input: readonly Float64Array[], output: readonly Float64Array[], start: number, count: number): void;
  /** Steps that did not settle so far. */
  lost: number;
  /** Everything it remembers between steps. */
  state(): Float64Array;
  restore(state: Float64Array): void;
  /** H of the last step, and of the one before it. */
  readonly history: Float64Array;
  readonly earlierHistory: Float64Array;
  /** Sources as they were at the last step. */
  readonly lastInput: Float64Array;
  /** 2/h from now on. */
  useRate(a: number): void;
  /** Begins the next step from where the last ended, and not from where three of them point. */
  hold(): void;
}

/**
 * Runs a stepper; a step that does not settle is taken again in ever more pieces, by the backward rule, which lets what
 * has hit an op-amp's limit rest there. With H = a Q + Q′ and the step before it, a Q = (H + H₋)/2 (J. Vlach and K.
 * Singhal, Computer Methods for Circuit Analysis and Design, 9.4).
 */
class CarefulSteps {
  jumps = 0;
  private readonly piece: Float64Array[];
  private readonly heard: Float64Array[];

  constructor(
    private readonly stepper: Stepper,
    private readonly a: number,
    sources: number,
    wanted: number,
  ) {
    this.piece = Array.from({ length: sources }, () => new Float64Array(1));
    this.heard = Array.from({ length: wanted }, () => new Float64Array(1));
  }

  process(input: readonly Float64Array[], output: readonly Float64Array[], count: number): void {
    const { stepper } = this;
    for (let start = 0; start < count; start += CHUNK) {
      const length = Math.min(CHUNK, count - start);
      const [state, earlier, lost] = [stepper.state(), stepper.earlierHistory.slice(), stepper.lost];
      stepper.step(input, output, start, length);
      if (stepper.lost === lost) continue;
      this.back(state, earlier, lost);
      for (let i = start; i < start + length; i++) this.one(input, output, i);
    }
  }

  private back(state: Float64Array, earlier: Float64Array, lost: number): void {
    this.stepper.restore(state);
    this.stepper.earlierHistory.set(earlier);
    this.stepper.lost = lost;
  }

  private one(input: readonly Float64Array[], output: readonly Float64Array[], at: number): void {
    const { stepper } = this;
    const [state, earlier, lost] = [stepper.state(), stepper.earlierHistory.slice(), stepper.lost];
    stepper.step(input, output, at, 1);
    if (stepper.lost === lost) return;
    this.jumps++;
    for (const cuts of CUTS) {
      this.back(state, earlier, lost);
      this.inPieces(input, output, at, cuts);
      if (stepper.lost === lost) return;
    }
    // It stands still for a step, and says so: what did not settle is no state to go on from.
    this.back(state, earlier, lost + 1);
    stepper.hold();
    output.forEach((wave) => (wave[at] = at > 0 ? wave[at - 1] : 0));
  }

  private inPieces(input: readonly Float64Array[], output: readonly Float64Array[], at: number, cuts: number): void {
    const { stepper, piece, heard, a } = this;
    const { history, earlierHistory } = stepper;
    const [from, lost] = [stepper.lastInput.slice(), stepper.lost];
    // Of the backward rule with h/cuts: a piece's H is its rate times the charge, with no Q′ to swing about.
    const rate = (a / 2) * cuts;
    let charge = history.map((h, r) => (h + earlierHistory[r]) / (2 * a));
    let before = charge;
    stepper.useRate(rate);
    stepper.hold();
    for (let k = 1; k <= cuts && stepper.lost === lost; k++) {
      piece.forEach((source, s) => (source[0] = from[s] + ((input[s][at] - from[s]) * k) / cuts));
      history.set(charge.map((q) => rate * q));
      stepper.step(piece, heard, 0, 1);
      [before, charge] = [charge, charge.map((q, r) => (history[r] + rate * q) / (2 * rate))];
    }
    stepper.useRate(a);
    charge.forEach((q, r) => {
      const change = rate * (q - before[r]);
      [history[r], earlierHistory[r]] = [a * q + change, a * q - change];
    });
    stepper.hold();
    output.forEach((wave, w) => (wave[at] = heard[w][0]));
  }
}

class InterpretedRunner implements SampleRunner, Stepper {
  readonly sources: readonly string[];
  iterations = 0;
  lost = 0;
  readonly earlierHistory: Float64Array;
  private readonly iteration: Tape;
  private readonly finish: Tape;
  private readonly run: Float64Array;
  /** Histories and sources, then control voltages: of now, of the last two steps. */
  private readonly all: Float64Array;
  private readonly stepped: Float64Array;
  private readonly controls: Float64Array;
  private readonly before: Float64Array;
  private readonly earlier: Float64Array;
  private readonly kept: Float64Array;
  private readonly result: Float64Array;
  private readonly careful: CarefulSteps;

  constructor(
    values: Float64Array,
    private readonly prepared: Prepared,
  ) {
    const { time, a } = prepared;
    this.sources = time.sources;
    this.iteration = new Tape(time.graph, [...time.nextControls, ...time.keptNodes]);
    this.finish = new Tape(time.graph, time.nextHistory);
    this.run = Float64Array.of(...values, a);
    const [steps, n] = [time.chargeRows.length + time.sources.length, time.controls.length];
    this.all = new Float64Array(steps + 3 * n);
    this.stepped = this.all.subarray(0, steps);
    this.stepped.set(prepared.history);
    this.earlierHistory = prepared.history.slice();
    [this.controls, this.before, this.earlier] = [0, 1, 2].map((k) =>
      this.all.subarray(steps + k * n, steps + (k + 1) * n),
    );
    for (const at of [this.controls, this.before, this.earlier]) at.set(prepared.controls);
    this.kept = new Float64Array(time.kept.length);
    this.result = new Float64Array(n + time.kept.length);
    this.careful = new CarefulSteps(this, a, time.sources.length, prepared.wantedAt.length);
  }

  get unsettled(): number {
    return this.lost;
  }
  get jumps(): number {
    return this.careful.jumps;
  }
  get history(): Float64Array {
    return this.stepped.subarray(0, this.prepared.time.chargeRows.length);
  }
  get lastInput(): Float64Array {
    return this.stepped.subarray(this.prepared.time.chargeRows.length);
  }
  state(): Float64Array {
    return this.all.slice();
  }
  restore(state: Float64Array): void {
    this.all.set(state);
  }
  useRate(a: number): void {
    this.run[this.run.length - 1] = a;
  }
  hold(): void {
    this.controls.set(this.before);
    this.earlier.set(this.before);
  }

  setValues(values: Float64Array): boolean {
    if (!sameZeros(this.run, values)) return false;
    this.run.set(values);
    return true;
  }

  process(input: readonly Float64Array[], output: readonly Float64Array[], count: number): void {
    this.careful.process(input, output, count);
  }

  step(input: readonly Float64Array[], output: readonly Float64Array[], start: number, count: number): void {
    const { time, wantedAt } = this.prepared;
    const rows = time.chargeRows.length;
    const history = new Float64Array(rows);
    for (let i = start; i < start + count; i++) {
      input.forEach((source, s) => (this.stepped[rows + s] = source[i]));
      this.settle();
      wantedAt.forEach((at, w) => (output[w][i] = at < 0 ? 0 : this.kept[at]));
      this.finish.run([this.run, this.stepped, this.controls, this.kept], history);
      this.earlierHistory.set(this.history);
      this.stepped.set(history);
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
      this.iteration.run([this.run, this.stepped, controls], result);
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
        this.lost++;
        return;
      }
    }
  }
}

class CompiledRunner implements SampleRunner, Stepper {
  readonly sources: readonly string[];
  readonly earlierHistory: Float64Array;
  readonly history: Float64Array;
  readonly lastInput: Float64Array;
  private readonly memory: WebAssembly.Memory;
  private readonly doubles: Float64Array;
  /** What is kept between steps: histories, sources, controls of now and of the last two. */
  private readonly all: Float64Array;
  private readonly controls: readonly Float64Array[];
  private readonly layout: SoundLayout;
  private readonly a: number;
  private readonly slots: number;
  private readonly careful: CarefulSteps;
  private readonly exports: { readonly run: () => void; readonly process: (count: number) => void };

  constructor(values: Float64Array, { time, a, controls, history, wantedAt }: Prepared) {
    this.sources = time.sources;
    this.a = a;
    this.slots = values.length;
    const { code, constants, limits, layout } = soundModule(time, values.length, wantedAt);
    this.layout = layout;
    this.memory = new WebAssembly.Memory({ initial: Math.ceil(layout.bytes / 65536) });
    this.doubles = new Float64Array(this.memory.buffer);
    this.exports = new WebAssembly.Instance(new WebAssembly.Module(code), { host: { memory: this.memory } })
      .exports as CompiledRunner['exports'];
    const view = (from: number, to: number) => this.doubles.subarray(from / 8, to / 8);
    const rows = 8 * history.length;
    this.all = view(layout.step, layout.next);
    this.history = view(layout.step, layout.step + rows);
    this.lastInput = view(layout.step + rows, layout.step + rows + 8 * time.sources.length);
    this.controls = [
      view(layout.controls, layout.before),
      view(layout.before, layout.earlier),
      view(layout.earlier, layout.next),
    ];
    for (const at of this.controls) at.set(controls);
    this.history.set(history);
    this.earlierHistory = history.slice();
    time.controls.forEach(
      ({ thermal }, k) => (this.doubles[limits / 8 + k] = thermal > 0 ? MOST_RISE * thermal : Infinity),
    );
    for (const [value, at] of constants) this.doubles.fill(value, at / 8, at / 8 + 2);
    this.careful = new CarefulSteps(this, a, time.sources.length, wantedAt.length);
    this.writeValues(values);
  }

  get iterations(): number {
    return this.doubles[this.layout.counters / 8];
  }
  get unsettled(): number {
    return this.lost;
  }
  get jumps(): number {
    return this.careful.jumps;
  }
  get lost(): number {
    return this.doubles[this.layout.counters / 8 + 1];
  }
  set lost(count: number) {
    this.doubles[this.layout.counters / 8 + 1] = count;
  }
  state(): Float64Array {
    return this.all.slice();
  }
  restore(state: Float64Array): void {
    this.all.set(state);
  }
  hold(): void {
    const [now, before, earlier] = this.controls;
    now.set(before);
    earlier.set(before);
  }
  useRate(a: number): void {
    this.doubles[this.layout.run / 8 + this.slots] = a;
    this.exports.run();
  }

  setValues(values: Float64Array): boolean {
    if (!sameZeros(this.doubles.subarray(this.layout.run / 8), values)) return false;
    this.writeValues(values);
    return true;
  }

  private writeValues(values: Float64Array): void {
    this.doubles.set(values, this.layout.run / 8);
    this.useRate(this.a);
  }

  process(input: readonly Float64Array[], output: readonly Float64Array[], count: number): void {
    this.careful.process(input, output, count);
  }

  /** At most `CHUNK` samples; the last by itself, so that the history before it is known. */
  step(input: readonly Float64Array[], output: readonly Float64Array[], start: number, count: number): void {
    if (count > 1) this.stretch(input, output, start, count - 1);
    this.earlierHistory.set(this.history);
    this.stretch(input, output, start + count - 1, 1);
  }

  private stretch(input: readonly Float64Array[], output: readonly Float64Array[], start: number, count: number): void {
    const { doubles, layout } = this;
    for (let s = 0; s < input.length; s++) {
      const at = layout.input / 8 + s * CHUNK;
      for (let i = 0; i < count; i++) doubles[at + i] = input[s][start + i];
    }
    this.exports.process(count);
    for (let w = 0; w < output.length; w++) {
      const at = layout.output / 8 + w * CHUNK;
      for (let i = 0; i < count; i++) output[w][start + i] = doubles[at + i];
    }
  }
}
