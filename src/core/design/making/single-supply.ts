import type { Brief } from '../document/schema';

/** The middle of a single supply, from two resistors, a large capacitor and an op-amp, ohm. */
const MIDDLE_OHM = 10;

/** One supply, a block battery for instance, of so many V, with a middle made of it. */
export const singleSupply = (volts: number): Brief['supply'] => ({
  kind: 'single',
  volts,
  virtualGroundOhm: MIDDLE_OHM,
});
