import { failure, success, type Result } from '../result';

/** What a scope wrote down: one or two voltages, evenly spaced in time. */
export interface Capture {
  readonly rateHz: number;
  /** V, or whatever the scope counted in. */
  readonly channels: readonly Float64Array[];
}

export type CaptureFailure =
  'capture-columns' | 'capture-row' | 'capture-uneven' | 'capture-short' | 'capture-long' | 'capture-rate';

const FEWEST_ROWS = 256;
const MOST_LETTERS = 150_000_000;
/** A row of three numbers is not longer. */
const MOST_IN_A_ROW = 2000;
/** Rows between two words of how far it is. */
const STRIDE = 1 << 14;
/** V, or whatever a scope counts in: beyond this nothing was measured. */
const MOST_VOLTS = 1e9;
/** Rows a second that a scope may have. */
const MOST_RATE_HZ = 1e12;
/** What time columns are headed by, in seconds. */
const UNITS: readonly (readonly [RegExp, number])[] = [
  [/\b(ns|nanoseconds?)\b/i, 1e-9],
  [/(\b(us|microseconds?)\b|[µμ]s\b)/i, 1e-6],
  [/\b(ms|milliseconds?)\b/i, 1e-3],
];

/**
 * Columns of time and one or two voltages, whatever stands above them: commas, semicolons, tabs or blanks, decimal
 * commas between the latter three. Fails with `capture-columns`, `capture-row` (`line`), `capture-uneven` (`line`),
 * `capture-short` (`rows`, `least`), `capture-long` (`letters`, `most`) or `capture-rate` (`rateHz`).
 * @param tell the share that is read, now and then.
 */
export function readScopeCsv(text: string, tell: (share: number) => void = () => {}): Result<Capture, CaptureFailure> {
  if (text.length > MOST_LETTERS) return failure('capture-long', { letters: text.length, most: MOST_LETTERS });
  const lines = text.split(/\r\n|\r|\n/);
  const first = lines.findIndex((line) => numbersOf(line) !== null);
  if (first < 0) return failure('capture-columns', {});
  const head = lines.slice(0, first).join(' ');
  const unit = UNITS.find(([pattern]) => pattern.test(head))?.[1] ?? 1;
  const width = Math.min(3, (numbersOf(lines[first]) as number[]).length);
  const columns = Array.from({ length: width }, () => new Float64Array(lines.length - first));
  let rows = 0;
  for (let i = first; i < lines.length; i++) {
    if (i % STRIDE === 0) tell(i / lines.length);
    if (lines[i].trim() === '') continue;
    const numbers = numbersOf(lines[i]);
    if (!numbers || numbers.length < width) return failure('capture-row', { line: i + 1, text: lines[i].slice(0, 40) });
    columns.forEach((column, c) => (column[rows] = numbers[c]));
    rows++;
  }
  if (rows < FEWEST_ROWS) return failure('capture-short', { rows, least: FEWEST_ROWS });
  const [times, ...volts] = columns.map((column) => column.subarray(0, rows));
  const step = (times[rows - 1] - times[0]) / (rows - 1);
  if (!(step > 0)) return failure('capture-uneven', { line: first + 2 });
  const uneven = unevenAt(times, step);
  if (uneven !== null) return failure('capture-uneven', { line: first + uneven + 1 });
  const rateHz = 1 / (step * unit);
  if (!(rateHz >= 1e-3 && rateHz <= MOST_RATE_HZ)) return failure('capture-rate', { rateHz });
  return success({ rateHz, channels: volts });
}

/** The first row whose time lies off an even step by more than it is rounded to; null where none does. */
function unevenAt(times: Float64Array, step: number): number | null {
  // Times are written to a few digits: the finest difference there is tells to how many.
  let finest = Infinity;
  for (let i = 1; i < times.length; i++) {
    const own = times[i] - times[i - 1];
    if (own < 0) return i;
    if (own > 0) finest = Math.min(finest, own);
  }
  const most = Math.max(step, finest);
  for (let i = 1; i < times.length; i++) if (Math.abs(times[i] - times[0] - i * step) > most) return i;
  return null;
}

/** Numbers of a line, two at least; null for anything else. */
function numbersOf(line: string): number[] | null {
  if (line.length > MOST_IN_A_ROW) return null;
  const decimalComma = /[;\t]|\d,\d+\s+[-+\d]/.test(line) && !/\./.test(line);
  const fields = line
    .trim()
    .split(decimalComma ? /[;\t ]+/ : /[,;\t ]+/)
    .filter((field) => field !== '');
  if (fields.length < 2) return null;
  const numbers = fields.slice(0, 3).map((field) => Number(decimalComma ? field.replace(',', '.') : field));
  return numbers.every((v) => Math.abs(v) <= MOST_VOLTS) ? numbers : null;
}
