import type { AcSolver } from '../../analysis/ac/solver';
import { idealAmp, onePoleAmp, V } from '../../circuit/build';
import { stageWriter } from './compile';
import { smallSignal } from './netlist-writer';
import type { Bench, DesignedStage } from '../stages/stage-design';

/** So far above everything a stage is about, capacitors are shorts and loops of integrators are open, Hz. */
const FAR_ABOVE = 1e8;
const LOWEST_HZ = 1e11;
const SPENT_DC_GAIN = 1e5;
const SPENT_AT = 2 * Math.PI * 1e6;

/**
 * The least noise gain of a stage's op-amps at high frequency, from the circuit itself: with 1 V in series with an
 * ideal op-amp's input its output is what its feedback network divides by (J. Graeme, Optimizing Op Amp Performance,
 * 1997, 1.2). It says which op-amps are stable there. Null where there are none, or where the circuit has no answer.
 */
export function noiseGainOf(design: Bench, designed: DesignedStage, solver: AcSolver): number | null {
  const { elements, merged } = stageWriter(design, designed, { values: 'chosen', devices: 'ideal' }, 0);
  const freqHz = Float64Array.of(Math.max(LOWEST_HZ, ...designed.cornersHz.map((f) => f * FAR_ABOVE)));
  const gains = elements
    .filter((e) => e.definition.kind === 'ideal-op-amp')
    .flatMap((amplifier) => {
      const [plus, minus, out] = amplifier.nodes;
      // The others have run out of gain where stability is decided.
      const around = elements.map((e) =>
        e === amplifier
          ? idealAmp(e.name, 'noise.input', minus, out)
          : e.definition.kind === 'ideal-op-amp'
            ? onePoleAmp(e.name, e.nodes[0], e.nodes[1], e.nodes[2], SPENT_DC_GAIN, SPENT_AT)
            : e,
      );
      const circuit = smallSignal({ elements: [...around, V('noise', 'noise.input', plus, 1)], merged });
      const solved = circuit.ok ? solver.sweep(circuit.value.circuit, freqHz, [out]) : circuit;
      return solved.ok ? [Math.hypot(solved.value[0][0], solved.value[0][1])] : [];
    });
  return gains.length === 0 ? null : Math.min(...gains);
}
