import type { Assembled } from '../../circuit/structure';
import { success, type Result } from '../../result';
import type { Conditions } from '../rest/equations';
import { operatingPoint } from '../rest/operating-point';
import { timeGraph, type TimeGraph } from '../time/time-graph';

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
  /** Back to the rest that it began from. */
  restart(): void;
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

/** What a runner starts from: the circuit at rest. */
export interface Prepared {
  readonly time: TimeGraph;
  readonly a: number;
  readonly controls: Float64Array;
  readonly history: Float64Array;
  readonly wantedAt: readonly number[];
}

/** Fails as the operating point does, or with `no-unique-solution`. */
export function prepare(circuit: Assembled, request: RunnerRequest): Result<Prepared> {
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

/** Whether no value has come alive that the program was built without. */
export function sameZeros(before: Float64Array, after: Float64Array): boolean {
  return after.every((value, i) => value === 0 || before[i] !== 0);
}
