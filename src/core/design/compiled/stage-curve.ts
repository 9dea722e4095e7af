import type { AcSolver } from '../../analysis/ac/solver';
import type { Assembled } from '../../circuit/structure';
import type { PartValues } from '../../topology/kit/part';
import { stageWriter } from './compile';
import type { Bench, DesignedStage } from '../stages/stage-design';

/**
 * What a stage does with other values for its parts, from its own circuit with ideal op-amps: one structure, of which
 * only values are written. What is chosen for a stage is judged by this, not by its formulas, so that nothing a formula
 * leaves out is left out of the judgement.
 */
export class StageCurve {
  private readonly slots: ReadonlyMap<string, number>;
  private readonly values: Float64Array;

  private constructor(
    private readonly circuit: Assembled,
    designed: DesignedStage,
    readonly freqHz: Float64Array,
    private readonly solver: AcSolver,
  ) {
    this.slots = new Map(
      designed.parts.flatMap(({ spec }) => {
        const slot = circuit.structure.slotOf(`${designed.stage.id}.${spec.name}`);
        return slot === undefined ? [] : [[spec.name, slot] as const];
      }),
    );
    this.values = circuit.values.slice();
  }

  /** Null where devices bend, whose rest moves with the parts, or where the circuit has no answer. */
  static of(bench: Bench, designed: DesignedStage, freqHz: Float64Array, solver: AcSolver): StageCurve | null {
    const { circuit, live, unsettled } = stageWriter(bench, designed, { values: 'chosen', devices: 'ideal' }).finish();
    if (live || unsettled || !solver.sweep(circuit, freqHz.subarray(0, 1), ['out']).ok) return null;
    return new StageCurve(circuit, designed, freqHz, solver);
  }

  /** The response (re, im by turns) with some values changed; null where there is none. */
  response(parts: PartValues): Float64Array | null {
    this.values.set(this.circuit.values);
    for (const [name, slot] of this.slots) if (parts[name] !== undefined) this.values[slot] = parts[name];
    const solved = this.solver.sweep({ structure: this.circuit.structure, values: this.values }, this.freqHz, ['out']);
    return solved.ok ? solved.value[0] : null;
  }
}
