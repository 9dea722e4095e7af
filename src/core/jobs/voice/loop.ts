import { z } from 'zod';
import { defineJob, requestOf, ofVariant, gridSchema } from '../define-job';
import { E, V } from '../../circuit/build';
import { GROUND } from '../../circuit/netlist';
import { assemble } from '../../circuit/structure';
import { linearise } from '../../analysis/rest/linearise';
import { operatingPoint } from '../../analysis/rest/operating-point';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { logGrid } from '../../math/grid';
import { failure, success, type Result } from '../../result';
import { builtVariant } from '../reading/built-variant';

/** Once round a stage's loop, cut where it is driven. */
const loopRequest = requestOf('loop', { ...ofVariant, stageId: z.string(), grid: gridSchema });
export type LoopRequest = z.infer<typeof loopRequest>;

/** From one node to the next at the frequency where the loop matters: how much, and whether it turns over. */
export interface LoopStep {
  readonly from: string;
  readonly to: string;
  readonly gainDb: number;
  readonly phaseDeg: number;
}

export interface Loop {
  /** The part through which the signal comes back. */
  readonly part: string;
  readonly freqHz: Float64Array;
  readonly gainDb: Float64Array;
  /** −180 to 180; 0: it comes back as it left. */
  readonly phaseDeg: Float64Array;
  readonly atHz: number;
  readonly steps: readonly LoopStep[];
  /**
   * There: what comes back helps (within 60° of in step), opposes (within 60° of half a turn), or stands across and
   * only moves the frequency.
   */
  readonly comesBack: 'helping' | 'opposing' | 'across';
  /** Where it comes back in step and strongest: at 0 dB it sings. Null where it never comes back in step. */
  readonly inStep: { readonly freqHz: number; readonly gainDb: number } | null;
}

/** Fails as the design does, or with `no-loop` where the circuit has none of its own. */
export function runLoop({ design, variantId, stageId, grid }: LoopRequest, solver: AcSolver): Result<Loop> {
  const built = builtVariant(design, variantId);
  if (!built.ok) return built;
  const way = built.value.ways.find((w) => w.stages.some((s) => s.stage.id === stageId));
  const at = way?.stages.findIndex((s) => s.stage.id === stageId) ?? -1;
  const designed = way?.stages[at];
  const loop =
    designed?.role === 'network' && !designed.stage.bypassed ? designed.topology.loop?.(designed.form) : null;
  if (!way || !designed || !loop) return failure('no-loop', { stage: stageId });
  const nodeOf = (name: string): string =>
    name === 'out' ? way.joints[at + 1] : name === 'in' ? way.joints[at] : `${stageId}.${name}`;
  const element = `${stageId}.${loop.part}`;
  const driver = nodeOf(loop.drivenBy);
  // The part's driven end hangs on a copy of the node that drives it: kept at rest, let go for the signal, which comes
  // from a source of its own instead.
  const [copy, test] = ['loop.copy', 'loop.test'];
  const elements = built.value.netlist.elements.map((e) =>
    e.name === element || e.name === `${element}.loss`
      ? { ...e, nodes: e.nodes.map((n) => (n === driver ? copy : n)) }
      : e,
  );
  if (elements.every((e) => e.name !== element)) return failure('no-loop', { stage: stageId });
  const cut = assemble({
    elements: [...elements, E('loop.copy', copy, test, driver, GROUND, 1), V('loop.source', test, GROUND, 0)],
    merged: built.value.netlist.merged,
  });
  const rest = built.value.live ? operatingPoint(cut) : null;
  if (rest && !rest.ok) return rest;
  const small = rest ? linearise(cut, rest.value) : cut;
  const values = small.values.slice();
  values[cut.structure.slotOf('loop.copy') as number] = 0;
  values[cut.structure.slotOf('loop.source') as number] = 1;
  values[cut.structure.slotOf('Vin') as number] = 0;
  const open = { ...small, values };
  const freqHz = logGrid(grid.fromHz, grid.toHz, grid.points);
  const swept = solver.sweep(open, freqHz, [driver]);
  if (!swept.ok) return swept;
  const [response] = swept.value;
  const gainDb = freqHz.map((_, i) => 10 * Math.log10(response[2 * i] ** 2 + response[2 * i + 1] ** 2));
  const phaseDeg = freqHz.map((_, i) => degrees(response[2 * i], response[2 * i + 1]));
  const inStep = strongestInStep(freqHz, gainDb, phaseDeg);
  // Where it never comes back in step, what matters is what it does where the closed circuit peaks.
  const closed = inStep ? null : solver.sweep(built.value.circuit, freqHz, [way.output]);
  if (closed && !closed.ok) return closed;
  const closedDb = closed ? levelsDb(closed.value[0]) : null;
  const atHz =
    inStep?.freqHz ?? freqHz[closedDb ? closedDb.reduce((best, g, i) => (g > closedDb[best] ? i : best), 0) : 0];
  const nodes = [copy, ...loop.path.map(nodeOf)];
  const names = [loop.drivenBy, ...loop.path];
  const there = solver.sweep(open, Float64Array.of(atHz), nodes);
  if (!there.ok) return there;
  const steps = loop.path.map((_, k): LoopStep => {
    const [a, b] = [there.value[k], there.value[k + 1]];
    const size = a[0] ** 2 + a[1] ** 2;
    const [re, im] = [(b[0] * a[0] + b[1] * a[1]) / size, (b[1] * a[0] - b[0] * a[1]) / size];
    return { from: names[k], to: names[k + 1], gainDb: 10 * Math.log10(re * re + im * im), phaseDeg: degrees(re, im) };
  });
  const whole = there.value[nodes.length - 1];
  return success({
    part: loop.part,
    freqHz,
    gainDb,
    phaseDeg,
    atHz,
    steps,
    comesBack: senseOf(degrees(whole[0], whole[1])),
    inStep,
  });
}

const senseOf = (phaseDeg: number): Loop['comesBack'] =>
  Math.abs(phaseDeg) < 60 ? 'helping' : Math.abs(phaseDeg) > 120 ? 'opposing' : 'across';

const degrees = (re: number, im: number): number => (Math.atan2(im, re) * 180) / Math.PI;

/** Crossings of 0° (not of ±180°), between grid points by straight line; the one with the most gain. */
function strongestInStep(freqHz: Float64Array, gainDb: Float64Array, phaseDeg: Float64Array): Loop['inStep'] {
  let best: Loop['inStep'] = null;
  for (let i = 1; i < freqHz.length; i++) {
    const [a, b] = [phaseDeg[i - 1], phaseDeg[i]];
    if (a * b > 0 || Math.abs(a - b) > 180) continue;
    const t = a === b ? 0 : a / (a - b);
    const found = {
      freqHz: freqHz[i - 1] * (freqHz[i] / freqHz[i - 1]) ** t,
      gainDb: gainDb[i - 1] + t * (gainDb[i] - gainDb[i - 1]),
    };
    if (!best || found.gainDb > best.gainDb) best = found;
  }
  return best;
}

export const loopJob = defineJob(loopRequest, (request, { solver }) => runLoop(request, solver));
