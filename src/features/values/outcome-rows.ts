import type { DeskStage } from '@/core/jobs/desk/desk-types';
import { decibels, formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';

interface Row {
  readonly name: string;
  readonly wanted: string;
  readonly real: string;
  readonly off: string;
}

/** What was asked of a stage, what its chosen parts and op-amp come to, and by how much they miss. */
export function outcomeRows({ target, got, network }: DeskStage): Row[] {
  if (network)
    return [
      ...network.parameters.map(({ label, kind, wanted, aimed = wanted, got: real }): Row => ({
        name: label,
        wanted: formatQuantity(aimed, kind),
        real: formatQuantity(real, kind),
        off:
          kind === 'decibel' || kind === 'degree'
            ? formatSigned(real - aimed, kind)
            : formatSigned(100 * (real / aimed - 1), 'percent'),
      })),
      ...network.figures.map(({ label, kind, value }): Row => ({
        name: label,
        wanted: '',
        real: formatQuantity(value, kind),
        off: '',
      })),
    ];
  if (!target) return [];
  const rows: Row[] = [];
  if (target.order > 0)
    rows.push({
      name: 'cutoff',
      wanted: formatQuantity(target.freqHz, 'frequency'),
      real: formatQuantity(got.freqHz, 'frequency'),
      off: offWords(got.freqHz, target.freqHz),
    });
  if (target.order === 2)
    rows.push({
      name: 'Q',
      wanted: formatFixed(target.q, 4),
      real: formatFixed(got.q, 4),
      off: offWords(got.q, target.q),
    });
  rows.push({
    name: 'gain',
    wanted: formatSigned(decibels(target.gain), 'decibel'),
    real: formatSigned(got.gainDb, 'decibel'),
    off: formatSigned(got.gainDb === null ? null : got.gainDb - decibels(target.gain), 'decibel'),
  });
  return rows;
}

const offWords = (got: number | null, wanted: number): string =>
  formatSigned(got === null ? null : 100 * (got / wanted - 1), 'percent');
