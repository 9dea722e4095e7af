import type { Failure } from '@/core/result';
import { formatQuantity, type Doubt, type QuantityKind } from '@/core/units/quantity';

const EXAMPLE: Partial<Record<QuantityKind, string>> = {
  resistance: '4k7 or 4.7 k',
  capacitance: '2n2 or 2.2 nF',
  inductance: '2.2 m',
  frequency: '1.2 k or 1200',
  voltage: '1.5',
  time: '20 m',
  decibel: '-3',
  percent: '5',
  ratio: '0.707',
};

export function quantityWords(failure: Failure, kind: QuantityKind): string {
  const example = EXAMPLE[kind] ?? '1';
  if (failure.code === 'quantity-empty') return `Type a value, such as ${example}. The old one stays.`;
  return (
    `“${failure.data.text}” is not a value: “${failure.data.rest}” is left over. Type it as ${example}; ` +
    `the old value stays.`
  );
}

/** A value that hardly anyone means: asked about once, taken the second time. */
export function doubtWords(value: number, kind: QuantityKind, { low, high, meant }: Doubt): string {
  const show = (v: number) => formatQuantity(v, kind);
  const hearing = kind === 'frequency' ? ' Hearing goes from 20 Hz to 20 kHz.' : '';
  return (
    `${show(value)}? ` +
    (meant === null
      ? `Usual are ${show(low)} to ${show(high)}.${hearing} `
      : `If ${show(meant)} is meant, type it with its unit. `) +
    `Enter once more takes it as it stands.`
  );
}
