import type { QuantityKind } from '../../units/quantity';

/**
 * A number that a network is asked for. Factors are judged by their ratio, decibels and degrees by their difference.
 */
export interface ParameterSpec {
  readonly name: string;
  readonly label: string;
  readonly kind: QuantityKind;
  readonly min: number;
  readonly max: number;
  readonly initial: number;
  /** Only in these forms; in all of them when absent. */
  readonly forms?: readonly string[];
}

export type Parameters = Readonly<Record<string, number>>;
