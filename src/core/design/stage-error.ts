import { missOf } from '../topology/design-context';
import { parametersOf } from '../topology/define-topology';
import type { PartValues } from '../topology/part';
import { sectionResponse, type SectionTarget } from '../filter/section';
import { magnitude } from '../math/complex';
import { logGrid } from '../math/grid';
import { decibels } from '../units/quantity';
import { rationalAt } from '../filter/rational';
import { valuesOf, type DesignedNetwork, type DesignedSection, type DesignedStage } from './stage-design';

/** Points, and octaves to either side, that a stage's curve is compared over. */
const POINTS = 25;
const SPAN = 4;
/** Below this, dB under its own best, what a stage passes counts for nothing. */
const FLOOR_DB = -25;
/** dB for a relative miss of one, for what is not judged by a curve: that of a voltage. */
const DB_PER_NEPER = 20 / Math.LN10;

/** What a section comes to with given parts, by its textbook. */
export function reachedTarget({ topology, aim: target }: DesignedSection, parts: PartValues): SectionTarget {
  const got = topology.closedForm(target.response, parts);
  return { ...target, freqHz: got.freqHz ?? target.freqHz, q: got.q ?? target.q, gain: got.gain, ...(target.response === 'notch' ? { zeroHz: got.zeroHz ?? got.freqHz ?? target.freqHz } : {}) };
}

/** Largest difference of level (dB) that given parts make to a stage by itself, where it passes anything; of a circuit with parameters of its own, its largest miss in dB. */
export function stageErrorDb(designed: DesignedStage, parts: PartValues): number {
  if (designed.role === 'network') {
    const { topology, form, parameters } = designed;
    const specs = parametersOf(topology, form);
    if (specs.length === 0) return curveErrorDb(designed, parts);
    const got = topology.measures(form, parts, parameters);
    return parametersOf(topology, form).reduce((worst, spec) => Math.max(worst, DB_PER_NEPER * Math.abs(missOf(spec, got[spec.name], parameters[spec.name]))), 0);
  }
  const { aim: target, topology } = designed;
  const reached = reachedTarget(designed, parts);
  if (!(reached.freqHz > 0 && reached.q > 0)) return Infinity;
  const balance = topology.closedForm(target.response, parts).balance ?? 1;
  const unbalanced = DB_PER_NEPER * Math.abs(balance - 1);
  if (target.order === 0) return Math.abs(decibels(reached.gain / target.gain));
  return unbalanced + largestDifference([target], [reached], logGrid(target.freqHz / SPAN, target.freqHz * SPAN, POINTS));
}

/** Of a circuit that is asked for a curve and nothing else: largest difference of level (dB) from its exact parts', where that passes anything; 0 where there is no formula to tell. */
function curveErrorDb({ topology, form, parameters, cornersHz, ...designed }: DesignedNetwork, parts: PartValues): number {
  if (!topology.transfer || cornersHz.length === 0) return 0;
  const [wanted, got] = [valuesOf(designed, 'exact'), parts].map((values) => topology.transfer!(form, values, parameters));
  const freqHz = logGrid(Math.min(...cornersHz) / SPAN, Math.max(...cornersHz) * SPAN, POINTS);
  const [a, b] = [wanted, got].map((rational) => freqHz.map((f) => decibels(magnitude(rationalAt(rational, f)))));
  const best = a.reduce((m, v) => Math.max(m, v), -Infinity);
  return a.reduce((worst, level, i) => (level >= best + FLOOR_DB ? Math.max(worst, Math.abs(b[i] - level)) : worst), 0);
}

/** Largest difference of level (dB) between two cascades where the first passes anything. */
export function largestDifference(wanted: readonly SectionTarget[], reached: readonly SectionTarget[], freqHz: Float64Array, floorDb = FLOOR_DB): number {
  const levels = (sections: readonly SectionTarget[]) => freqHz.map((f) => decibels(sections.reduce((product, s) => product * magnitude(sectionResponse(s, f)), 1)));
  const [a, b] = [levels(wanted), levels(reached)];
  const best = a.reduce((m, v) => Math.max(m, v), -Infinity);
  let worst = 0;
  a.forEach((level, i) => {
    if (level >= best + floorDb) worst = Math.max(worst, Math.abs(b[i] - level));
  });
  return worst;
}
