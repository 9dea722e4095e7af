import { failure, success, type Result } from '../result';

/** How far apart the bands of a bank lie, as a ratio of neighbours’ centres; free ones are given one by one. */
const BANK_RULES = { octave: 2, 'two-thirds': 2 ** (2 / 3), half: Math.SQRT2, third: 2 ** (1 / 3) } as const;
export type BankRule = keyof typeof BANK_RULES;

export interface Band {
  readonly centreHz: number;
  readonly lowHz: number;
  readonly highHz: number;
}

export const MOST_BANDS = 32;

/** Centres of a bank by rule, from the lowest on. */
export const bankCentres = (rule: BankRule, firstHz: number, count: number): number[] =>
  Array.from({ length: count }, (_, i) => firstHz * BANK_RULES[rule] ** i);

/**
 * Bands that meet half way (in octaves) between their centres; the outer edges of the outermost lie as far out as their
 * inner ones lie in. Fails with `bank-bands` when there are too few or too many, or centres do not rise.
 */
export function bankBands(centresHz: readonly number[]): Result<Band[], 'bank-bands'> {
  if (
    centresHz.length < 2 ||
    centresHz.length > MOST_BANDS ||
    centresHz.some((f, i) => !(f > 0) || (i > 0 && f <= centresHz[i - 1]))
  )
    return failure('bank-bands', { most: MOST_BANDS });
  const middle = (i: number) => Math.sqrt(centresHz[i] * centresHz[i + 1]);
  return success(
    centresHz.map((centreHz, i) => {
      const lowHz = i > 0 ? middle(i - 1) : centreHz ** 2 / middle(0);
      const highHz = i < centresHz.length - 1 ? middle(i) : centreHz ** 2 / middle(i - 1);
      return { centreHz, lowHz, highHz };
    }),
  );
}
