/** An op-amp unit of a board, and in which package and place it sits. */
export interface PlacedUnit {
  /** `U1.2`, or null for a unit that nothing uses. */
  readonly reference: string | null;
  readonly package: string;
  /** A, B, C, D. */
  readonly unit: string;
}

export interface Package {
  readonly name: string;
  readonly opAmp: string;
  readonly units: readonly PlacedUnit[];
}

const LETTERS = 'ABCD';

/** Units of one op-amp put into packages of so many, in the order of the path, so that neighbours share one; the last package's spare units stand at its end. */
export function assignPackages(amplifiers: readonly { readonly reference: string; readonly name: string }[], size: 1 | 2 | 4): Package[] {
  const packages: Package[] = [];
  for (const opAmp of new Set(amplifiers.map((a) => a.name))) {
    const units = amplifiers.filter((a) => a.name === opAmp).map((a) => a.reference);
    for (let at = 0; at < units.length; at += size) {
      const name = `IC${packages.length + 1}`;
      packages.push({ name, opAmp, units: Array.from({ length: size }, (_, i) => ({ reference: units[at + i] ?? null, package: name, unit: LETTERS[i] })) });
    }
  }
  return packages;
}
