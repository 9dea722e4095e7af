import type { Compilation } from '../../design/compiled/compile';
import type { PartKind } from '../../topology/kit/part';

/**
 * What the wave makes a part do. Peak and RMS; charge moved in half a period and energy held at most, of what stores;
 * mean power of what does not.
 */
export interface PartAtWork {
  readonly part: string;
  readonly kind: PartKind;
  readonly peakV: number;
  readonly rmsV: number;
  readonly rmsA: number;
  readonly chargeC: number | null;
  readonly energyJ: number | null;
  readonly powerW: number | null;
}

/**
 * One step of a walk through a period in the steady state: its length (s), all unknowns before and after. Jumps lie
 * between steps.
 */
export interface SteadyStep {
  readonly h: number;
  readonly before: Float64Array;
  readonly after: Float64Array;
}

/** Every part of a stage that has any size, from the steps of one period. */
export function partsAtWork(built: Compilation, steps: readonly SteadyStep[], stageId: string): PartAtWork[] {
  const { structure } = built.circuit;
  const stage = built.ways[0].stages.find((s) => s.stage.id === stageId);
  return (stage?.parts ?? []).flatMap((designed): PartAtWork[] => {
    const element = built.netlist.elements.find((e) => e.name === `${stageId}.${designed.spec.name}`);
    if (!element || designed.choice.leftOut || !(designed.chosen > 0)) return [];
    const [a, b] = element.nodes.map((node) => structure.nodeOf(node) ?? -1);
    const volts = stepsOf(steps, (row) => (a < 0 ? 0 : row[a]) - (b < 0 ? 0 : row[b]));
    const size = designed.chosen;
    const common = { part: designed.spec.name, kind: designed.spec.kind, peakV: peakOf(volts), rmsV: rmsOf(volts) };
    if (designed.spec.kind === 'capacitor')
      return [
        {
          ...common,
          rmsA: rmsSlope(volts) * size,
          chargeC: size * swingOf(volts),
          energyJ: (size * common.peakV ** 2) / 2,
          powerW: null,
        },
      ];
    if (designed.spec.kind === 'inductor') {
      const branch = structure.branchOf(element.name);
      const amps = stepsOf(steps, (row) => (branch === undefined ? 0 : row[branch]));
      return [{ ...common, rmsA: rmsOf(amps), chargeC: null, energyJ: (size * peakOf(amps) ** 2) / 2, powerW: null }];
    }
    return [{ ...common, rmsA: common.rmsV / size, chargeC: null, energyJ: null, powerW: common.rmsV ** 2 / size }];
  });
}

/** One quantity over the steps. */
type Course = readonly { readonly h: number; readonly from: number; readonly to: number }[];

const stepsOf = (steps: readonly SteadyStep[], read: (row: Float64Array) => number): Course =>
  steps.map(({ h, before, after }) => ({ h, from: read(before), to: read(after) }));
const peakOf = (course: Course): number =>
  course.reduce((m, { from, to }) => Math.max(m, Math.abs(from), Math.abs(to)), 0);
const swingOf = (course: Course): number =>
  course.reduce((m, { from, to }) => Math.max(m, from, to), -Infinity) -
  course.reduce((m, { from, to }) => Math.min(m, from, to), Infinity);

/** A mean over the time of the course, of what each step gives per second. */
function meanOf(course: Course, each: (step: Course[number]) => number): number {
  let [sum, time] = [0, 0];
  for (const step of course) [sum, time] = [sum + step.h * each(step), time + step.h];
  return time > 0 ? sum / time : 0;
}
/** Straight between its ends a step's mean square is (a² + ab + b²)/3. */
const rmsOf = (course: Course): number =>
  Math.sqrt(meanOf(course, ({ from, to }) => (from * from + from * to + to * to) / 3));
const rmsSlope = (course: Course): number => Math.sqrt(meanOf(course, ({ h, from, to }) => ((to - from) / h) ** 2));
