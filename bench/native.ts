import { spawn, spawnSync, type ChildProcessWithoutNullStreams } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { driveVector, entryValue, type Assembled } from '../src/core/circuit/structure';
import type { Plan } from '../src/core/analysis/elimination/plan';
import { FINISH, ITERATION, RUN, STEP, type TimeGraph } from '../src/core/analysis/time/time-graph';
import type { Node } from '../src/core/program/graph';

const HERE = import.meta.dirname;

/** A C compiler, if there is one. */
export function compiler(): string | null {
  return ['cc', 'gcc', 'clang'].find((name) => spawnSync(name, ['--version']).status === 0) ?? null;
}

/** A running comparison program that answers commands with nanoseconds. */
export class Native {
  private waiting: ((line: string) => void)[] = [];

  private constructor(private readonly child: ChildProcessWithoutNullStreams) {
    let rest = '';
    child.stdout.on('data', (chunk: Buffer) => {
      const lines = (rest + String(chunk)).split('\n');
      rest = lines.pop() ?? '';
      for (const line of lines) this.waiting.shift()?.(line);
    });
  }

  static build(cc: string, problem: Float64Array, ladderSource: string): Native {
    const folder = mkdtempSync(join(tmpdir(), 'bench-'));
    const [binary, data, ladder] = ['reference', 'problem', 'ladder.c'].map((name) => join(folder, name));
    writeFileSync(data, new Uint8Array(problem.buffer));
    writeFileSync(ladder, ladderSource);
    const built = spawnSync(cc, ['-O3', '-o', binary, join(HERE, 'native', 'reference.c'), ladder, '-lm'], {
      encoding: 'utf8',
    });
    if (built.status !== 0) throw new Error(built.stderr);
    return new Native(spawn(binary, [data]));
  }

  /** Nanoseconds for that many runs. */
  async time(command: 'replay' | 'dense' | 'ladder', runs: number): Promise<number> {
    const answer = new Promise<string>((resolve) => this.waiting.push(resolve));
    this.child.stdin.write(`${command} ${runs}\n`);
    return Number((await answer).split(' ')[0]);
  }

  stop(): void {
    this.child.stdin.end();
  }
}

/** What the C program reads: sizes, matrices by position, drive, frequencies, the plan. */
export function problemFile({ structure, values }: Assembled, plan: Plan, freqHz: Float64Array): Float64Array {
  const [g, c] = [new Float64Array(plan.positions), new Float64Array(plan.positions)];
  const [rows, columns] = [new Float64Array(plan.positions).fill(-1), new Float64Array(plan.positions).fill(-1)];
  structure.entries.forEach((entry, e) => {
    const at = plan.entryPosition[e];
    (entry.order === 0 ? g : c)[at] += entryValue(entry, values);
    rows[at] = entry.row;
    columns[at] = entry.column;
  });
  return Float64Array.of(
    structure.size,
    plan.positions,
    freqHz.length,
    plan.tape.length,
    plan.backTape.length,
    ...g,
    ...c,
    ...driveVector(structure, values).re,
    ...freqHz,
    ...plan.tape,
    ...plan.backTape,
    ...plan.pivotRow,
    ...plan.pivotColumn,
    ...plan.pivotPosition,
    ...rows,
    ...columns,
  );
}

/**
 * The time program of a circuit as C: the same blocks, the same order of operations, `exp` of the C library. `double
 * ladder(int samples)` runs a 220 Hz tone.
 */
export function timeProgramInC(
  time: TimeGraph,
  values: Float64Array,
  a: number,
  history: Float64Array,
  controls: Float64Array,
  levels: readonly number[],
  sampleRateHz: number,
): string {
  const { graph } = time;
  const rows = time.chargeRows.length;
  const named = new Set<Node>();
  const array: Record<number, string> = { [RUN]: 'values', [STEP]: 'step', [ITERATION]: 'control', [FINISH]: 'kept' };
  const lines = (stage: number, wanted: readonly Node[]): string[] => {
    const out: string[] = [];
    const visit = (node: Node) => {
      if (named.has(node) || graph.isConstant(node) || graph.op(node) === 'input' || graph.stages[node] > stage) return;
      named.add(node);
      graph.argumentsOf(node).forEach(visit);
      const [x, y, z] = graph.argumentsOf(node).map(name);
      const text = {
        constant: '',
        input: '',
        add: `${x} + ${y}`,
        subtract: `${x} - ${y}`,
        multiply: `${x} * ${y}`,
        divide: `${x} / ${y}`,
        negate: `-${x}`,
        absolute: `fabs(${x})`,
        minimum: `fmin(${x}, ${y})`,
        maximum: `fmax(${x}, ${y})`,
        squareRoot: `sqrt(${x})`,
        exponential: `exp(${x} < 200 ? ${x} : 200)`,
        logarithm: `log(${x})`,
        select: `${x} > 0 ? ${y} : ${z}`,
      }[graph.op(node)];
      out.push(`double n${node} = ${text};`);
    };
    wanted.forEach(visit);
    return out;
  };
  const name = (node: Node): string => {
    if (graph.isConstant(node)) return `(${graph.numbers[node]})`;
    return graph.op(node) === 'input' ? `${array[graph.stages[node]]}[${graph.third[node]}]` : `n${node}`;
  };
  const results = [...time.nextControls, ...time.keptNodes];
  const below = (limit: number) => {
    const found: Node[] = [];
    const seen = new Set<Node>();
    const visit = (node: Node) => {
      if (seen.has(node)) return;
      seen.add(node);
      if (graph.stages[node] <= limit) found.push(node);
      else graph.argumentsOf(node).forEach(visit);
    };
    [...results, ...time.nextHistory].forEach(visit);
    return found;
  };
  const list = (numbers: ArrayLike<number>) => Array.from(numbers).join(', ') || '0';
  return `#include <math.h>
static const double values[] = { ${list([...values, a])} };
double ladder(int samples) {
  double step[${rows + levels.length}] = { ${list([...history, ...levels])} };
  double control[] = { ${list(controls)} }, before[] = { ${list(controls)} }, earlier[] = { ${list(controls)} };
  double kept[${time.kept.length + 1}], thermal[] = { ${list(time.controls.map((c) => c.thermal))} }, sum = 0;
  ${lines(RUN, below(RUN)).join('\n  ')}
  for (int i = 0; i < samples; i++) {
    step[${rows + levels.length - 1}] = sin(2 * M_PI * 220 * i / ${sampleRateHz});
    ${lines(STEP, below(STEP)).join('\n    ')}
    for (int count = 0; count < 30; count++) {
      double moved = 0;
      {
        ${lines(ITERATION, results).join('\n        ')}
        double next[] = { ${time.nextControls.map(name).join(', ')} };
        ${time.keptNodes.map((node, k) => `kept[${k}] = ${name(node)};`).join(' ')}
        for (int k = 0; k < ${time.controls.length}; k++) {
          double change = next[k] - control[k], size = fabs(change);
          if (size > moved) moved = size;
          control[k] += thermal[k] > 0 && change > 4 * thermal[k] ? 4 * thermal[k] : change;
        }
      }
      if (moved <= 1e-6) break;
    }
    ${lines(FINISH, time.nextHistory).join('\n    ')}
    ${time.nextHistory.map((node, r) => `double h${r} = ${name(node)};`).join(' ')}
    ${time.nextHistory.map((_, r) => `step[${r}] = h${r};`).join(' ')}
    for (int k = 0; k < ${time.controls.length}; k++) {
      double now = control[k], change = 2 * now - 3 * before[k] + earlier[k];
      control[k] += thermal[k] > 0 && change > 4 * thermal[k] ? 4 * thermal[k] : change;
      earlier[k] = before[k];
      before[k] = now;
    }
    sum += kept[0];
  }
  return sum;
}
`;
}
