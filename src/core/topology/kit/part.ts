/**
 * A current is what a control sends into a circuit: it counts among the values, but is not bought. A voltage comes in
 * at a jack from another module.
 */
export type PartKind = 'resistor' | 'capacitor' | 'inductor' | 'potentiometer' | 'current' | 'voltage';
/** Values by part name: ohm, farad, henry. A part that the circuit does without is absent. */
export type PartValues = Readonly<Record<string, number>>;

/**
 * What a stage's flat-part gain, frequency and Q come to for given parts, ideal op-amp, source and load as declared.
 */
export interface ClosedForm {
  /** Absent for a flat stage. */
  readonly freqHz?: number;
  /** Absent below second order. */
  readonly q?: number;
  readonly gain: number;
  /** Of a notch: where its null lies. */
  readonly zeroHz?: number;
  /** What two paths must be to one another to cancel, over what it is with these parts: 1 where they do. */
  readonly balance?: number;
}

/**
 * Where among part values the wiper of a pot stands: its share of the track from the low end, end resistances included.
 */
export const wiperKey = (pot: string): string => `${pot}:wiper`;
/** The wiper's share; half way when nothing turns the pot. */
export const wiperOf = (parts: PartValues, pot: string): number => parts[wiperKey(pot)] ?? 0.5;

/** Where among part values the supply stands, volts from rail to rail, for circuits that rest on it. */
export const SUPPLY = ':supply';
/** Where among part values a lit cell stands, ohm, for circuits that have one: what its lamp's current comes to. */
export const CELL = ':cell';
/** Where among part values the volts from the jacks' sleeves to the plus rail stand. */
export const SPAN = ':span';
