import type { AcSolver } from '../../analysis/ac/solver';
import { compileStage } from '../../design/compiled/compile';
import type { Design, Way } from '../../design/document/schema';
import type { DesignedNetwork, DesignedStage } from '../../design/stages/stage-design';
import { atControls, valuesOf } from '../../design/stages/stage-design';
import { idealTargets } from '../../design/stages/targets';
import { rationalResponse } from '../../filter/rational';
import { cascadeResponse } from '../../filter/section';
import { plansStanding } from '../../design/stages/targets';

/**
 * What a way was asked for, over a grid (interleaved re, im): its sections, times its circuits with parameters of their
 * own in exact parts, ideal op-amps, each by itself.
 */
export function idealResponse(
  design: Design,
  way: Way,
  stages: readonly DesignedStage[],
  freqHz: Float64Array,
  solver: AcSolver,
): Float64Array {
  const product = cascadeResponse(idealTargets(way), freqHz);
  for (const designed of stages) {
    if (designed.role !== 'network' || designed.stage.bypassed) continue;
    const own = networkResponse(design, designed, freqHz, solver);
    for (let i = 0; i < freqHz.length; i++) {
      const [re, im] = [product[2 * i], product[2 * i + 1]];
      product[2 * i] = re * own[2 * i] - im * own[2 * i + 1];
      product[2 * i + 1] = re * own[2 * i + 1] + im * own[2 * i];
    }
  }
  return product;
}

function networkResponse(
  design: Design,
  asDesigned: DesignedNetwork,
  freqHz: Float64Array,
  solver: AcSolver,
): Float64Array {
  const designed = atControls(asDesigned);
  const { topology, form, parameters } = designed;
  if (topology.transfer)
    return rationalResponse(topology.transfer(form, valuesOf(designed, 'exact'), parameters), freqHz);
  const solved = solver.sweep(compileStage(design, designed, { values: 'exact', devices: 'ideal' }), freqHz, ['out']);
  // An ideal that has no answer is not drawn; the circuit as built says why.
  return solved.ok ? solved.value[0] : new Float64Array(2 * freqHz.length).fill(NaN);
}

/** Whether any stage that counts has parameters of its own, so that no plan says where the pass band lies. */
const hasNetworks = (way: Way): boolean =>
  way.stages.some((s) => s.target.kind !== 'section' && s.target.kind !== 'own' && !s.bypassed);

/**
 * The level (dB) that the pass band was asked to have: what plans and retuned stages ask for; with other circuits on
 * the path, the highest the ideal reaches.
 */
export function askedLevelDb(way: Way, idealDb: Float64Array): number {
  if (hasNetworks(way)) return idealDb.reduce((m, v) => (v > m ? v : m), -300);
  const own = way.stages.reduce(
    (sum, { target, bypassed }) => sum + (target.kind === 'own' && !bypassed ? target.gainDb : 0),
    0,
  );
  return plansStanding(way).reduce((sum, plan) => sum + plan.gainDb, own);
}
