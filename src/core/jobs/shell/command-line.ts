import { figure, writeCsv } from '../../format/csv';
import { deckNumber } from '../../format/deck/number';
import { decadeGrid } from '../../math/grid';
import type { ToleranceResult } from '../deck/deck-analyses';
import { failure, success, type Result } from '../../result';

/** What the command line needs of the core besides jobs. */

export const deckQuantity = deckNumber;
export const decadeGridHz = decadeGrid;

/**
 * Frequencies (Hz) from the first column of a CSV file, with or without a header. Fails with `bad-grid` (line, text).
 */
export function csvColumns(text: string): Result<Float64Array, 'bad-grid'> {
  const values: number[] = [];
  const lines = text.split(/\r\n|\r|\n/);
  for (let i = 0; i < lines.length; i++) {
    const cell = lines[i]
      .split(/[,;\t]/)[0]
      .trim()
      .replace(/^"(.*)"$/, '$1');
    if (cell === '') continue;
    const value = Number(cell);
    if (Number.isNaN(value) && values.length === 0 && /[a-z]/i.test(cell)) continue;
    if (!(value > 0 && Number.isFinite(value))) return failure('bad-grid', { line: i + 1, text: cell });
    values.push(value);
  }
  return values.length > 0 ? success(Float64Array.from(values)) : failure('bad-grid', { line: 1, text: '' });
}

export function responseCsv(freqHz: Float64Array, levelDb: Float64Array, phaseDeg: Float64Array): string {
  return writeCsv(
    ['frequency_hz', 'magnitude_db', 'phase_deg'],
    Array.from(freqHz, (f, i) => [figure(f, 12), figure(levelDb[i], 10), figure(phaseDeg[i], 10)]),
  );
}

/** One row per grid point: the grid's value, then a cell of each column. */
function table(header: readonly string[], grid: Float64Array, columns: readonly Float64Array[]): string {
  return writeCsv(
    [...header],
    Array.from(grid, (x, i) => [figure(x, 12), ...columns.map((column) => figure(column[i], 10))]),
  );
}

export const transientCsv = (timeS: Float64Array, probes: readonly string[], traces: readonly Float64Array[]): string =>
  table(['time_s', ...probes], timeS, traces);

export const noiseCsv = (freqHz: Float64Array, output: Float64Array, input: Float64Array): string =>
  table(['frequency_hz', 'output_v_per_rthz', 'input_v_per_rthz'], freqHz, [output, input]);

export const toleranceCsv = (freqHz: Float64Array, { p05Db, p50Db, p95Db, minDb, maxDb }: ToleranceResult): string =>
  table(['frequency_hz', 'p05_db', 'p50_db', 'p95_db', 'min_db', 'max_db'], freqHz, [
    p05Db,
    p50Db,
    p95Db,
    minDb,
    maxDb,
  ]);
