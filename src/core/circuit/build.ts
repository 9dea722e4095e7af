import type { ElementInstance } from './netlist';
import { capacitor } from './elements/capacitor';
import { vcvs } from './elements/controlled-sources';
import { inductor } from './elements/inductor';
import { idealOpAmp, onePoleOpAmp } from './elements/op-amp';
import { resistor } from './elements/resistor';
import { voltageSource } from './elements/voltage-source';

/** V/√Hz and its 1/f corner (Hz), A/√Hz and its corner. */
export type OpAmpNoise = readonly [number, number, number, number];
const NOISELESS: OpAmpNoise = [0, 0, 0, 0];

/** Short ways to write element instances in code and tests. Values in SI units. */
export const R = (name: string, a: string, b: string, ohm: number): ElementInstance => ({
  name,
  definition: resistor,
  nodes: [a, b],
  values: [ohm],
});
export const C = (name: string, a: string, b: string, farad: number): ElementInstance => ({
  name,
  definition: capacitor,
  nodes: [a, b],
  values: [farad],
});
export const L = (name: string, a: string, b: string, henry: number): ElementInstance => ({
  name,
  definition: inductor,
  nodes: [a, b],
  values: [henry],
});
export const V = (name: string, plus: string, minus: string, magnitude: number, phaseDeg = 0): ElementInstance => ({
  name,
  definition: voltageSource,
  nodes: [plus, minus],
  values: [magnitude, phaseDeg],
});
export const E = (
  name: string,
  plus: string,
  minus: string,
  controlPlus: string,
  controlMinus: string,
  gain: number,
): ElementInstance => ({
  name,
  definition: vcvs,
  nodes: [plus, minus, controlPlus, controlMinus],
  values: [gain],
});
export const idealAmp = (name: string, plus: string, minus: string, out: string): ElementInstance => ({
  name,
  definition: idealOpAmp,
  nodes: [plus, minus, out],
  values: [],
});
export const onePoleAmp = (
  name: string,
  plus: string,
  minus: string,
  out: string,
  dcGain: number,
  omegaUnity: number,
  noise: OpAmpNoise = NOISELESS,
): ElementInstance => ({
  name,
  definition: onePoleOpAmp,
  nodes: [plus, minus, out],
  values: [dcGain, omegaUnity, ...noise],
});
