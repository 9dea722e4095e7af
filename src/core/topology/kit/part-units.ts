import type { QuantityKind } from '../../units/quantity';
import type { PartKind } from './part';

/** What the value of each kind of part measures. */
export const PART_UNITS = {
  resistor: 'resistance',
  potentiometer: 'resistance',
  capacitor: 'capacitance',
  inductor: 'inductance',
  current: 'current',
  voltage: 'voltage',
} as const satisfies Record<PartKind, QuantityKind>;
