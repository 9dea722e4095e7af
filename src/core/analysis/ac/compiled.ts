import type { Structure } from '../../circuit/structure';
import { emitBlock, Locals, loopFunction, type Store } from '../../program/emit';
import type { Node } from '../../program/graph';
import { Bytes, moduleOf } from '../../program/wasm-bytes';
import { AcGraph, DRAW, FREQUENCY, type DrivePattern } from './ac-graph';
import { BACKWARD_ERROR_LIMIT, GUARD_STRIDE, type AcKernel } from './kernel';
import type { Plan } from '../elimination/plan';

/** Bytes of two doubles. */
const PAIR = 16;
/** Below this the memory is left alone, so that address 0 stays unused. */
const FIRST_ADDRESS = 64;
/**
 * A set of unknowns is compiled for once this many points have been asked of it; before that, replay is quicker than
 * compiling.
 */
const POINTS_WORTH_COMPILING = 500;
/** Longer plans than this (thousands of nodes) make functions that take longer to compile than they ever save. */
const LONGEST_PLAN = 30_000;

/** One memory for all programs of a worker: each call writes all it needs, so nothing has to outlive it. */
let memory: WebAssembly.Memory | null = null;
let doubles = new Float64Array(0);

function reserve(bytes: number): WebAssembly.Memory {
  memory ??= new WebAssembly.Memory({ initial: 16 });
  const missing = bytes - memory.buffer.byteLength;
  if (missing > 0) memory.grow(Math.ceil(missing / 65536));
  if (doubles.buffer !== memory.buffer) doubles = new Float64Array(memory.buffer);
  return memory;
}

export const canCompile = (plan: Plan): boolean =>
  typeof WebAssembly !== 'undefined' && plan.tape.length <= LONGEST_PLAN;

interface Program {
  readonly unknowns: Int32Array;
  readonly pattern: DrivePattern;
  /** First address after what the program itself uses. */
  readonly bytes: number;
  draw(): void;
  /** Frequencies from one address up to another, two by two; results from a third on. */
  sweep(from: number, to: number, results: number): void;
  guard(from: number, to: number, results: number): void;
}

/**
 * Compiles the equations of a structure, eliminated by a plan, into straight-line WebAssembly: a block a draw, a block
 * a frequency that works on two frequencies side by side, and a guard that computes the backward error (ends and every
 * 16th point; see docs/engine.md). Nothing is allocated a sweep.
 *
 * @param replay solves what is not worth compiling yet, and sweeps whose guard trips, with its own repairs.
 * @param eager compiles at the first point.
 */
export const compiledKernel = (structure: Structure, plan: Plan, replay: AcKernel, eager = false): AcKernel =>
  new CompiledKernel(structure, plan, replay, eager);

/** Programs that are kept, and sets of unknowns whose points are counted. */
const MOST_PROGRAMS = 8;
const MOST_ASKED = 16;

const sameUnknowns = (a: Int32Array, b: Int32Array): boolean => {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
};

class CompiledKernel implements AcKernel {
  private readonly programs: Program[] = [];
  private readonly asked: { unknowns: Int32Array; points: number }[] = [];
  /** What every drive puts in, re and im by turns. */
  private readonly driveParts: Float64Array;
  private readonly result = { data: doubles, start: 0 };

  constructor(
    private readonly structure: Structure,
    private readonly plan: Plan,
    private readonly replay: AcKernel,
    private readonly eager: boolean,
  ) {
    this.driveParts = new Float64Array(2 * structure.drives.length);
  }

  solve(values: Float64Array, frequenciesHz: Float64Array, unknowns: Int32Array): ReturnType<AcKernel['solve']> {
    this.readDrives(values);
    const program = this.programFor(unknowns, frequenciesHz.length);
    if (!program) return this.replay.solve(values, frequenciesHz, unknowns);
    const m = frequenciesHz.length;
    const pairs = (m + 1) >> 1;
    const checks = 2 + Math.ceil(m / GUARD_STRIDE);
    const frequencies = program.bytes;
    const checked = frequencies + PAIR * pairs;
    const errors = checked + 8 * (checks + 2);
    const output = errors + 8 * (checks + 2);
    reserve(output + 2 * PAIR * pairs * unknowns.length);
    doubles.set(values, FIRST_ADDRESS / 8);
    doubles.set(this.driveParts, FIRST_ADDRESS / 8 + values.length);
    program.draw();
    doubles.set(frequenciesHz, frequencies / 8);
    if (m % 2 === 1) doubles[frequencies / 8 + m] = frequenciesHz[m - 1];
    program.sweep(frequencies, frequencies + PAIR * pairs, output);
    if (!guarded(program, frequenciesHz, checked, errors)) return this.replay.solve(values, frequenciesHz, unknowns);
    this.result.data = doubles;
    this.result.start = output / 8;
    return this.result;
  }

  private readDrives(values: Float64Array): void {
    this.structure.drives.forEach(({ magnitudeSlot, phaseSlot }, d) => {
      const phase = values[phaseSlot];
      const angle = (phase * Math.PI) / 180;
      this.driveParts[2 * d] = values[magnitudeSlot] * Math.cos(angle);
      this.driveParts[2 * d + 1] = phase === 0 ? 0 : values[magnitudeSlot] * Math.sin(angle);
    });
  }

  /** The last program that does for these unknowns and drives, or a new one; null while none is worth it. */
  private programFor(unknowns: Int32Array, points: number): Program | null {
    const { programs, structure, driveParts } = this;
    for (let k = programs.length - 1; k >= 0; k--) if (this.fits(programs[k], unknowns)) return programs[k];
    if (!this.eager && !this.worthCompiling(unknowns, points)) return null;
    const pattern = structure.drives.map((_, d) => ({ re: driveParts[2 * d] !== 0, im: driveParts[2 * d + 1] !== 0 }));
    const program = compileProgram(structure, this.plan, pattern, unknowns.slice());
    if (programs.length >= MOST_PROGRAMS) programs.shift();
    programs.push(program);
    return program;
  }

  private fits({ unknowns, pattern }: Program, wanted: Int32Array): boolean {
    if (!sameUnknowns(unknowns, wanted)) return false;
    const { driveParts } = this;
    for (let d = 0; d < pattern.length; d++)
      if ((driveParts[2 * d] !== 0 && !pattern[d].re) || (driveParts[2 * d + 1] !== 0 && !pattern[d].im)) return false;
    return true;
  }

  /** Counts the points asked of a set of unknowns. */
  private worthCompiling(unknowns: Int32Array, points: number): boolean {
    let found = this.asked.find((a) => sameUnknowns(a.unknowns, unknowns));
    if (!found) {
      if (this.asked.length >= MOST_ASKED) this.asked.shift();
      this.asked.push((found = { unknowns: unknowns.slice(), points: 0 }));
    }
    found.points += points;
    return found.points > POINTS_WORTH_COMPILING;
  }
}

/** Whether the backward error is small at the ends and every 16th point. */
function guarded(program: Program, frequenciesHz: Float64Array, checked: number, errors: number): boolean {
  const m = frequenciesHz.length;
  let count = 0;
  for (let f = 0; f < m; f += GUARD_STRIDE) doubles[checked / 8 + count++] = frequenciesHz[f];
  doubles[checked / 8 + count++] = frequenciesHz[m - 1];
  if (count % 2 === 1) doubles[checked / 8 + count++] = frequenciesHz[m - 1];
  program.guard(checked, checked + 8 * count, errors);
  for (let i = 0; i < count; i++) if (!(doubles[errors / 8 + i] <= BACKWARD_ERROR_LIMIT)) return false;
  return true;
}

function compileProgram(structure: Structure, plan: Plan, pattern: DrivePattern, unknowns: Int32Array): Program {
  const equations = new AcGraph(structure, plan, pattern);
  const { graph } = equations;
  let address = FIRST_ADDRESS + 8 * (structure.slotCount + 2 * structure.drives.length);
  const take = (bytes: number) => {
    address = Math.ceil(address / 16) * 16;
    const start = address;
    address += bytes;
    return start;
  };
  const cells = new Map<Node, number>();
  const cell = (node: Node): number => {
    let at = cells.get(node);
    if (at === undefined) cells.set(node, (at = take(8)));
    return at;
  };
  const loop = (name: string, stride: number, stores: (pointer: number) => Store[]) => {
    const body = new Bytes();
    return loopFunction(name, [PAIR, stride], body, (locals, [frequency, result]) =>
      emitBlock(
        {
          graph,
          lanes: 2,
          stage: FREQUENCY,
          stores: stores(result),
          input: () => ({ offset: 0, pointer: frequency }),
          cell,
        },
        body,
        locals,
      ),
    );
  };
  const sweep = loop('sweep', 2 * PAIR * unknowns.length, (pointer) =>
    Array.from(unknowns, (unknown, k) => {
      const { re, im } = equations.unknown(unknown);
      return { pair: [re, im] as const, at: { offset: 2 * PAIR * k, pointer } };
    }),
  );
  const guard = loop('guard', PAIR, (pointer) => [{ node: equations.backwardError(), at: { offset: 0, pointer } }]);
  const body = new Bytes();
  const locals = new Locals(0);
  emitBlock(
    {
      graph,
      lanes: 1,
      stage: DRAW,
      stores: [...cells].map(([node, at]) => ({ node, at: { offset: at } })),
      input: (index) => ({ offset: FIRST_ADDRESS + 8 * index }),
      cell,
    },
    body,
    locals,
  );
  const bytes = moduleOf([{ name: 'draw', parameters: [], locals: locals.types, body }, sweep, guard]);
  const { exports } = new WebAssembly.Instance(new WebAssembly.Module(bytes), { host: { memory: reserve(address) } });
  return {
    unknowns,
    pattern,
    bytes: Math.ceil(address / 64) * 64,
    ...(exports as unknown as Pick<Program, 'draw' | 'sweep' | 'guard'>),
  };
}
