import Papa from 'papaparse';

/** Rows of a table as CSV text with a header line; numbers in plain decimal or exponent form, never localised. */
export function writeCsv(header: readonly string[], rows: readonly (readonly (string | number)[])[]): string {
  return `${Papa.unparse({ fields: [...header], data: rows.map((row) => row.map(String)) }, { newline: '\n' })}\n`;
}

/** A number with as many digits as carry information, for files. */
export const figure = (value: number, digits = 9): string =>
  Number.isFinite(value) ? String(Number(value.toPrecision(digits))) : '';
