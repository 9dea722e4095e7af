import { failure, success, type Failure, type Result } from '../result';

export interface MeasuredResponse {
  readonly freqHz: number[];
  readonly levelDb: number[];
  readonly phaseDeg: number[] | null;
  /** Lines that were passed over as comment or header. */
  readonly passedOver: number;
  /** Points were not in rising order of frequency and have been sorted. */
  readonly sorted: boolean;
}

export type ResponseTextFailure =
  | 'empty-file'
  | 'binary-file'
  | 'no-numbers'
  | 'bad-line'
  | 'too-few-points'
  | 'too-many-points'
  | 'bad-frequency'
  | 'repeated-frequency'
  | 'out-of-range'
  | 'column-count';

const MOST_POINTS = 100_000;

interface Row {
  readonly line: number;
  readonly values: readonly number[];
}
interface Rows {
  readonly rows: readonly Row[];
  readonly passedOver: number;
  readonly sorted: boolean;
}

/**
 * Reads a measured response: two or three columns (frequency in Hz, level in dB, phase in degrees), any of tab, space,
 * comma or semicolon between them, decimal commas where semicolons or blanks separate, comment lines beginning with
 * anything that is not a number. Header lines may only stand before the first numbers; a later line that cannot be read
 * is an error that names the line, as is any value that cannot be meant.
 */
export function readResponseText(text: string): Result<MeasuredResponse, ResponseTextFailure> {
  const read = readRows(text);
  if (!read.ok) return read;
  const { rows, passedOver, sorted } = read.value;
  const fault = beyond(rows, MEASURED_BOUNDS);
  if (fault) return fault;
  return success({
    freqHz: rows.map((r) => r.values[0]),
    levelDb: rows.map((r) => r.values[1]),
    phaseDeg: rows[0].values.length >= 3 ? rows.map((r) => r.values[2]) : null,
    passedOver,
    sorted,
  });
}

interface Bounds {
  /** What the second column is called. */
  readonly what: string;
  readonly min: number;
  readonly max: number;
  readonly highestHz: number;
}

/** The first figure that cannot be meant. */
function beyond(rows: readonly Row[], { what, min, max, highestHz }: Bounds): Failure<'out-of-range'> | null {
  for (const {
    line,
    values: [freq, value, phase = 0],
  } of rows) {
    if (freq > highestHz)
      return failure('out-of-range', { line, value: freq, what: 'frequency in Hz', min: 0, max: highestHz });
    if (!(value >= min && value <= max)) return failure('out-of-range', { line, value, what, min, max });
    const most = FURTHEST_PHASE_DEG;
    if (Math.abs(phase) > most)
      return failure('out-of-range', { line, value: phase, what: 'phase in degrees', min: -most, max: most });
  }
  return null;
}

/** What a driver's file may hold: what its second column is called, and its bounds. */
const DRIVER_BOUNDS = {
  response: { what: 'level in dB', min: -100, max: 200, highestHz: 1e6 },
  impedance: { what: 'impedance in ohm', min: 0.01, max: 100_000, highestHz: 1e6 },
} as const satisfies Record<string, Bounds>;
/** What a circuit's curve may hold. */
const MEASURED_BOUNDS: Bounds = { what: 'level in dB', min: -400, max: 400, highestHz: 1e9 };
const FURTHEST_PHASE_DEG = 100_000;

export interface DriverCurve {
  readonly freqHz: number[];
  /** dB, or ohm. */
  readonly values: number[];
  readonly phaseDeg: number[] | null;
  readonly passedOver: number;
  readonly sorted: boolean;
}

/**
 * Reads a driver's response (Hz, dB, degrees) or impedance (Hz, ohm, degrees) likewise; what no loudspeaker has fails
 * with `out-of-range` (`line`, `value`, `what`, `min`, `max`).
 */
export function readDriverCurve(
  text: string,
  kind: keyof typeof DRIVER_BOUNDS,
): Result<DriverCurve, ResponseTextFailure | 'out-of-range'> {
  const read = readRows(text);
  if (!read.ok) return read;
  const { rows, passedOver, sorted } = read.value;
  const fault = beyond(rows, DRIVER_BOUNDS[kind]);
  if (fault) return fault;
  return success({
    freqHz: rows.map((r) => r.values[0]),
    values: rows.map((r) => r.values[1]),
    phaseDeg: rows[0].values.length >= 3 ? rows.map((r) => r.values[2]) : null,
    passedOver,
    sorted,
  });
}

function readRows(text: string): Result<Rows, ResponseTextFailure> {
  if (text.includes('\0')) return failure('binary-file');
  const lines = text.replace(/^\uFEFF/, '').split(/\r\n|\r|\n/);
  if (lines.every((line) => line.trim() === '')) return failure('empty-file');
  const rows: Row[] = [];
  let passedOver = 0;
  for (let i = 0; i < lines.length; i++) {
    const line = lines[i].trim();
    if (line === '') continue;
    if (/^[*#;"'!%/]/.test(line)) {
      passedOver++;
      continue;
    }
    const values = numbersOf(line);
    if (!values) {
      if (rows.length > 0) return failure('bad-line', { line: i + 1, text: line.slice(0, 60) });
      passedOver++;
      continue;
    }
    if (values.length < 2) return failure('column-count', { line: i + 1, columns: values.length });
    if (rows.length > 0 && Math.min(3, values.length) !== Math.min(3, rows[0].values.length))
      return failure('column-count', { line: i + 1, columns: values.length });
    if (!(values[0] > 0)) return failure('bad-frequency', { line: i + 1, value: values[0] });
    rows.push({ line: i + 1, values });
    if (rows.length > MOST_POINTS) return failure('too-many-points', { most: MOST_POINTS });
  }
  if (rows.length === 0) return failure('no-numbers');
  if (rows.length < 2) return failure('too-few-points', { points: rows.length });
  const sorted = rows.some((row, i) => i > 0 && row.values[0] < rows[i - 1].values[0]);
  rows.sort((a, b) => a.values[0] - b.values[0]);
  const twice = rows.findIndex((row, i) => i > 0 && row.values[0] === rows[i - 1].values[0]);
  if (twice > 0) return failure('repeated-frequency', { line: rows[twice].line, value: rows[twice].values[0] });
  return success({ rows, passedOver, sorted });
}

const NUMBER = /^[+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][+-]?\d+)?$/;

/** The numbers of a line, or null when anything in it is not one. */
function numbersOf(line: string): number[] | null {
  const commaIsDecimal =
    /\d,\d/.test(line) && (/;/.test(line) || (!/\./.test(line) && /[\t ]/.test(line.replace(/,\s/g, ','))));
  const grouped = groupedFields(line);
  if (grouped) return grouped;
  const text = commaIsDecimal ? line.replace(/(\d),(\d)/g, '$1.$2') : line;
  const fields = text.split(commaIsDecimal ? /[;\s]+/ : /\s*[,;]\s*|\s+/).filter((field) => field !== '');
  const values = fields.map((field) => (NUMBER.test(field.replace('−', '-')) ? Number(field.replace('−', '-')) : NaN));
  return values.length > 0 && values.every(Number.isFinite) ? values : null;
}

/** Thousands set apart by points and decimals by a comma: 1.000,5. */
const GROUPED = /^[-+−]?\d{1,3}(?:\.\d{3})+,\d+$/;
const COMMA_NUMBER = /^[-+−]?\d+(?:,\d+)?$/;

/**
 * A line of numbers whose thousands are set apart by points, between blanks or semicolons; null where none of them is.
 * Read as points and commas between columns, 1.000,5 would be 1 Hz.
 */
function groupedFields(line: string): number[] | null {
  const fields = line
    .trim()
    .split(/[;\s]+/)
    .filter((field) => field !== '');
  if (
    !fields.some((field) => GROUPED.test(field)) ||
    !fields.every((field) => GROUPED.test(field) || COMMA_NUMBER.test(field))
  )
    return null;
  return fields.map((field) => Number(field.replaceAll('.', '').replace(',', '.').replace('−', '-')));
}
