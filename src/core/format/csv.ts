import Papa from 'papaparse';

/**
 * What a spreadsheet would run as a formula: a cell that begins so, after blanks too, and is not a number with a sign
 * and nothing else. The wide forms of the signs count as well.
 */
const FORMULA = /^\s*(?:[=@＝＠]|[+\-＋－](?!(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?\s*$))|^[\t\r]/i;

/**
 * Rows of a table as CSV text with a header line; numbers in plain decimal or exponent form, never localised. What a
 * spreadsheet would run is written behind an apostrophe, as spreadsheets themselves write text.
 */
export function writeCsv(header: readonly string[], rows: readonly (readonly (string | number)[])[]): string {
  const table = { fields: [...header], data: rows.map((row) => row.map(String)) };
  return `${Papa.unparse(table, { newline: '\n', escapeFormulae: FORMULA })}\n`;
}

/** A number with as many digits as carry information, for files. */
export const figure = (value: number, digits = 9): string =>
  Number.isFinite(value) ? String(Number(value.toPrecision(digits))) : '';
