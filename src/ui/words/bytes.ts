import { formatFixed } from '@/core/units/quantity';

/** A size as people count it; a dash where it is not known. */
export const bytesWords = (bytes: number | null): string =>
  bytes === null
    ? '–'
    : bytes < 1e6
      ? `${formatFixed(Math.max(1, bytes / 1e3), 0)}\u202fkB`
      : `${formatFixed(bytes / 1e6, 1)}\u202fMB`;
