import { decibels } from '../../units/quantity';
import type { ParameterSpec } from '../kit/parameter';

/**
 * What the pads share: the loss, and the resistance they keep. The loss is counted from the pad's input to a load of
 * that resistance.
 */
export const PAD_PARAMETERS: ParameterSpec[] = [
  { name: 'lossDb', label: 'loss', kind: 'decibel', min: 0.1, max: 80, initial: 6 },
  { name: 'ohm', label: 'into, and seen', kind: 'resistance', min: 0.1, max: 1e9, initial: 600 },
];
export const parallel = (a: number, b: number): number => (a * b) / (a + b);
export const lossOf = (passes: number): number => -decibels(passes);
