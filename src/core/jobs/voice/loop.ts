import * as z from 'zod';
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
import { naturalOf, stabilityOf } from '../reading/read-way';
import { beginsBetween } from '../../math/search';

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
  /** Where it comes back in step and strongest: at 0 dB it oscillates. Null where it never comes back in step. */
  readonly inStep: { readonly freqHz: number; readonly gainDb: number } | null;
  /** Where the whole circuit, by all its loops, oscillates as it stands, Hz; null where every mode dies away. */
  readonly oscillatesHz: number | null;
}

/** Fails as the design does, or with `no-loop` where the circuit has none of its own, or nothing comes back by it. */
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
  if (!gainDb.some(Number.isFinite)) return failure('no-loop', { stage: stageId });
  const inStep = strongestInStep(freqHz, phaseDeg, (hz) => {
    const there = solver.sweep(open, Float64Array.of(hz), [driver]);
    return there.ok
      ? { gainDb: levelsDb(there.value[0])[0], phaseDeg: degrees(there.value[0][0], there.value[0][1]) }
      : null;
  });
  // Where it never comes back in step, what matters is what it does where the closed circuit peaks.
  const closed = inStep ? null : solver.sweep(built.value.circuit, freqHz, [way.output]);
  if (closed && !closed.ok) return closed;
  const closedDb = closed ? levelsDb(closed.value[0]) : null;
  const atHz =
    inStep?.freqHz ?? freqHz[closedDb ? closedDb.reduce((best, g, i) => (g > closedDb[best] ? i : best), 0) : 0];
  const nodes = [copy, ...loop.path.map(nodeOf)];
  const there = solver.sweep(open, Float64Array.of(atHz), nodes);
  if (!there.ok) return there;
  const steps = stepsThrough([loop.drivenBy, ...loop.path], there.value);
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
    oscillatesHz: stabilityOf(naturalOf(built.value)).singsHz,
  });
}

/** From each node to the next, by their responses (real and imaginary parts of one frequency). */
const stepsThrough = (names: readonly string[], responses: readonly Float64Array[]): LoopStep[] =>
  names.slice(1).map((to, k) => {
    const [a, b] = [responses[k], responses[k + 1]];
    const size = a[0] ** 2 + a[1] ** 2;
    const [re, im] = [(b[0] * a[0] + b[1] * a[1]) / size, (b[1] * a[0] - b[0] * a[1]) / size];
    return { from: names[k], to, gainDb: 10 * Math.log10(re * re + im * im), phaseDeg: degrees(re, im) };
  });

const senseOf = (phaseDeg: number): Loop['comesBack'] =>
  Math.abs(phaseDeg) < 60 ? 'helping' : Math.abs(phaseDeg) > 120 ? 'opposing' : 'across';

const degrees = (re: number, im: number): number => (Math.atan2(im, re) * 180) / Math.PI;

/** How near a frequency at which it comes back in step is found, as a share. */
const NEAR = 1e-9;

/** Crossings of 0° (not of ±180°), each found on the circuit between its grid points; the one with the most gain. */
function strongestInStep(
  freqHz: Float64Array,
  phaseDeg: Float64Array,
  roundAt: (hz: number) => { readonly gainDb: number; readonly phaseDeg: number } | null,
): Loop['inStep'] {
  let best: Loop['inStep'] = null;
  for (let i = 1; i < freqHz.length; i++) {
    const [a, b] = [phaseDeg[i - 1], phaseDeg[i]];
    if (a * b > 0 || Math.abs(a - b) > 180) continue;
    const at = beginsBetween((hz) => (roundAt(hz)?.phaseDeg ?? b) * b > 0, freqHz[i - 1], freqHz[i], NEAR);
    const gainDb = roundAt(at)?.gainDb;
    if (gainDb !== undefined && (!best || gainDb > best.gainDb)) best = { freqHz: at, gainDb };
  }
  return best;
}

export const loopJob = defineJob(loopRequest, (request, { solver }) => runLoop(request, solver));
