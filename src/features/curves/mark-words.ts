import type { DeskMark } from '@/core/jobs/desk/desk-types';
import { formatQuantity, formatSigned } from '@/core/units/quantity';

/** How far down a cutoff lies: −3 dB, −6 dB. */
export const depthWords = (depthDb: number): string => `${formatSigned(Math.round(depthDb), 'ratio', 0)}\u202fdB`;

/** A mark as it is written on the curve. */
export function markName(mark: DeskMark): string {
  const at = formatQuantity(mark.freqHz, 'frequency', { digits: 4 });
  switch (mark.kind) {
    case 'cutoff':
      return `${depthWords(mark.depthDb)} ${at}`;
    case 'band-edge':
      return `peak −3 dB ${at}`;
    case 'slope':
      return `${formatSigned(mark.slopeDbPerOctave, 'ratio', 1)}\u202fdB/oct`;
    case 'transition':
      return `${formatSigned(mark.slopeDbPerOctave, 'ratio', 1)}\u202fdB/oct to the limit`;
    case 'notch':
      return `notch ${formatSigned(mark.levelDb, 'decibel', 1)} ${at}`;
    case 'peak':
      return `peak ${formatSigned(mark.levelDb, 'decibel')} ${at}`;
  }
}
