import type { Assembled } from '../../circuit/structure';
import { success, type Result } from '../../result';
import { CarefulSteps, type Stepper } from './careful-steps';
import { CHUNK, MOST_RISE, soundModule, type SoundLayout } from './sound-module';
import { prepare, sameZeros, type Prepared, type RunnerRequest, type SampleRunner } from './sound-runner';

/**
 * A circuit at a fixed sample rate as straight-line WebAssembly: what changes a run, a step and an iteration each in a
 * block of its own, the junction exponentials inlined. Starts at rest. Fails as the operating point does, or with
 * `no-unique-solution`.
 */
export function compiledRunner(circuit: Assembled, request: RunnerRequest): Result<SampleRunner> {
  const prepared = prepare(circuit, request);
  return prepared.ok ? success(new CompiledRunner(circuit.values, prepared.value)) : prepared;
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

  restart(): void {
    this.careful.restart();
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
