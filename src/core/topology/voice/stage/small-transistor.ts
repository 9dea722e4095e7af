import { THERMAL_VOLTS } from '../control-current';

/** A small NPN: typical, our own figures. IS (A), BF, BR, NF, NR, 1/VAF, 1/VAR, CJE, CJC (F), TF (s). */
export const SMALL_NPN = [1e-14, 300, 4, 1, 1, 1 / 100, 0, 8e-12, 4e-12, 0.4e-9];
/** A small PNP of the same make: typical, our own figures. */
export const SMALL_PNP = [1e-14, 220, 4, 1, 1, 1 / 60, 0, 9e-12, 5e-12, 0.6e-9];
const [SATURATION, CURRENT_GAIN] = SMALL_NPN;
/** Its exponential and its current gain, without Early effect and capacitances: what the design equations speak of. */
export const EXPONENTIAL_NPN = [SATURATION, CURRENT_GAIN, 4, 1, 1, 0, 0, 0, 0, 0];
/** Nothing but the exponential, and no base current. */
export const IDEAL_TRANSISTOR = [SATURATION, 1e7, 1e7, 1, 1, 0, 0, 0, 0, 0];

/** Current gains between which transistors of one type lie. */
export const GAIN_RANGE = { low: 110, typical: CURRENT_GAIN, high: 600 } as const;

/** Base to emitter at a collector current (A), V. */
export const junctionVolts = (collectorAmps: number): number =>
  THERMAL_VOLTS * Math.log(collectorAmps / SATURATION + 1);
/**
 * What the emitter has of itself at a collector current: Vt/Ic, ohm (P. R. Gray, R. G. Meyer, Analysis and Design of
 * Analog Integrated Circuits, 1.4).
 */
export const internalOhm = (collectorAmps: number): number => THERMAL_VOLTS / (collectorAmps + SATURATION);

export const parallel = (...ohms: readonly number[]): number => 1 / ohms.reduce((sum, ohm) => sum + 1 / ohm, 0);
