import { groupDelaysS, levelsDb, phasesDeg } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { compile } from '../../design/compiled/compile';
import type { CompileOptions } from '../../design/compiled/writing';
import type { Design, Variant } from '../../design/document/schema';
import type { Trace } from '../desk/desk-types';

/** A response (interleaved re, im) as the quantities people look at. */
export function traceOf(freqHz: Float64Array, response: Float64Array): Trace {
  const phaseDeg = phasesDeg(response);
  return { levelDb: levelsDb(response), phaseDeg, delayS: groupDelaysS(freqHz, phaseDeg) };
}

/** A variant's response compiled one way or another; null when it cannot be designed or has no answer. */
export function sweptTrace(
  design: Design,
  variant: Variant,
  options: CompileOptions,
  freqHz: Float64Array,
  solver: AcSolver,
): Trace | null {
  const compiled = compile(design, variant, options);
  if (!compiled.ok) return null;
  const solved = solver.sweep(compiled.value.circuit, freqHz, [compiled.value.ways[0].output]);
  return solved.ok ? traceOf(freqHz, solved.value[0]) : null;
}
