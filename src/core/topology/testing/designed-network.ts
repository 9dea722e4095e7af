import { AcSolver } from '../../analysis/ac/solver';
import { compileStage } from '../../design/compiled/compile';
import { createDesign, createNetwork } from '../../design/making/create';
import { designStage, type DesignedNetwork } from '../../design/stages/stage-design';
import { must } from '../../result';
import type { NetworkTopology } from '../kit/define-topology';
import type { Parameters } from '../kit/parameter';

export const solver = new AcSolver();
let made = 0;
export const makeId = () => `n${made++}`;
export const base = createDesign('test', () => [], makeId);

/** A network designed for what is asked of it, its parts exact. */
export function designed(
  topology: NetworkTopology,
  form: string,
  parameters: Parameters,
  chooseFirst: 'capacitors' | 'resistors' = 'capacitors',
): DesignedNetwork {
  const { stage, controls } = createNetwork(topology, makeId, { form, parameters });
  const result = must(
    designStage(stage, null, { ...base, preferences: { ...base.preferences, chooseFirst } }, controls),
  );
  if (result.role !== 'network') throw new Error('a network was wanted');
  return result;
}

/** Simulated complex response of a stage by itself, exact parts, ideal op-amp, terminated as declared. */
export function simulated(network: DesignedNetwork, freqHz: Float64Array): Float64Array {
  const circuit = compileStage(base, network, { values: 'exact', devices: 'ideal' });
  return must(solver.sweep(circuit, freqHz, ['out']))[0];
}

/** Level, dB, and phase, degree, at one frequency. */
export function levelAndPhase(network: DesignedNetwork, freqHz: number): { db: number; deg: number } {
  const [re, im] = simulated(network, Float64Array.of(freqHz));
  return { db: 10 * Math.log10(re * re + im * im), deg: (Math.atan2(im, re) * 180) / Math.PI };
}
