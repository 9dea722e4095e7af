import type { Result } from '../result';
import type { QuantityKind } from '../units/quantity';

/** A number a calculator asks for. */
export interface CalculatorInput {
  readonly name: string;
  readonly label: string;
  readonly kind: QuantityKind;
  /** Null starts empty. */
  readonly initial: number | null;
}
export interface CalculatorOutput {
  readonly label: string;
  readonly kind: QuantityKind;
  readonly value: number;
  /** Two parts that make it together, where that is the answer. */
  readonly pair?: { readonly joined: 'series' | 'parallel'; readonly values: readonly [number, number] };
}

/**
 * A sum that is done ten times a day. Every input may be left empty where the calculator can go the other way round.
 */
export interface Calculator {
  readonly id: string;
  readonly name: string;
  /** Words it is found by, besides its name. */
  readonly words: string;
  readonly inputs: readonly CalculatorInput[];
  /** Fails with `needs-more` (`wanted`: how many numbers) or `out-of-range` (`why`). */
  readonly compute: (
    given: Readonly<Record<string, number | null>>,
  ) => Result<readonly CalculatorOutput[], 'needs-more' | 'out-of-range'>;
}
