import type { DeskMark } from '@/core/jobs/desk-types';
import { formatQuantity, formatSigned } from '@/core/units/quantity';

/** A mark as it is written on the curve. */
export function markName(mark: DeskMark): string {
  const at = formatQuantity(mark.freqHz, 'frequency', { digits: 4 });
  if (mark.kind === 'cutoff') return `−3 dB ${at}`;
  if (mark.kind === 'slope') return `${formatSigned(mark.slopeDbPerOctave, 'ratio', 1)} dB/oct`;
  if (mark.kind === 'notch') return `notch ${formatSigned(mark.levelDb, 'decibel', 1)} ${at}`;
  return `peak ${formatSigned(mark.levelDb, 'decibel')} ${at}`;
}
