import { failure, success, type Result } from '../result';

export interface MeasuredResponse {
  readonly freqHz: number[];
  readonly levelDb: number[];
  readonly phaseDeg: number[] | null;
  /** Lines that were passed over as comment or header. */
  readonly passedOver: number;
  /** Points were not in rising order of frequency and have been sorted. */
  readonly sorted: boolean;
}

export type ResponseTextFailure = 'empty-file' | 'binary-file' | 'no-numbers' | 'bad-line' | 'too-few-points' | 'too-many-points' | 'bad-frequency' | 'repeated-frequency' | 'column-count';

const MOST_POINTS = 100_000;

/**
 * Reads a measured response: two or three columns (frequency in Hz, level in dB, phase in degrees), any of tab, space, comma or semicolon between them,
 * decimal commas where semicolons or blanks separate, comment lines beginning with anything that is not a number. Header lines may only stand before the first numbers;
 * a later line that cannot be read is an error that names the line, as is any value that cannot be meant.
 */
export function readResponseText(text: string): Result<MeasuredResponse, ResponseTextFailure> {
  if (text.includes('\0')) return failure('binary-file');
  const lines = text.replace(/^﻿/, '').split(/\r\n|\r|\n/);
  if (lines.every((line) => line.trim() === '')) return failure('empty-file');
  const rows: { line: number; values: number[] }[] = [];
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
    if (rows.length > 0 && Math.min(3, values.length) !== Math.min(3, rows[0].values.length)) return failure('column-count', { line: i + 1, columns: values.length });
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
  return success({
    freqHz: rows.map((r) => r.values[0]),
    levelDb: rows.map((r) => r.values[1]),
    phaseDeg: rows[0].values.length >= 3 ? rows.map((r) => r.values[2]) : null,
    passedOver,
    sorted,
  });
}

const NUMBER = /^[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?$/;

/** The numbers of a line, or null when anything in it is not one. */
function numbersOf(line: string): number[] | null {
  const commaIsDecimal = /\d,\d/.test(line) && (/;/.test(line) || (!/\./.test(line) && /[\t ]/.test(line.replace(/,\s/g, ','))));
  const text = commaIsDecimal ? line.replace(/(\d),(\d)/g, '$1.$2') : line;
  const fields = text.split(commaIsDecimal ? /[;\s]+/ : /\s*[,;]\s*|\s+/).filter((field) => field !== '');
  const values = fields.map((field) => (NUMBER.test(field.replace('−', '-')) ? Number(field.replace('−', '-')) : NaN));
  return values.length > 0 && values.every(Number.isFinite) ? values : null;
}
