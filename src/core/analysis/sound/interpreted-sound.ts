import type { Assembled } from '../../circuit/structure';
import { Tape } from '../../program/tape';
import { success, type Result } from '../../result';
import { CarefulSteps, type Stepper } from './careful-steps';
import { BOUNDED_STEPS, HALF_STEP, MOST_ITERATIONS, MOST_RISE, SETTLED_VOLTS, WHOLE_STEPS } from './sound-module';
import { prepare, sameZeros, type Prepared, type RunnerRequest, type SampleRunner } from './sound-runner';

/** A circuit at a fixed sample rate by interpretation: the oracle of the compiled one, and its stand-in. */
export function interpretedRunner(circuit: Assembled, request: RunnerRequest): Result<SampleRunner> {
  const prepared = prepare(circuit, request);
  return prepared.ok ? success(new InterpretedRunner(circuit.values, prepared.value)) : prepared;
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

  restart(): void {
    this.careful.restart();
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
