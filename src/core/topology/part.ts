export type PartKind = 'resistor' | 'capacitor' | 'inductor';
/** Values by part name: ohm, farad, henry. A part that the circuit does without is absent. */
export type PartValues = Readonly<Record<string, number>>;

/** What a stage's flat-part gain, frequency and Q come to for given parts, ideal op-amp, source and load as declared. */
export interface ClosedForm {
  /** Absent for a flat stage. */
  readonly freqHz?: number;
  /** Absent below second order. */
  readonly q?: number;
  readonly gain: number;
}
