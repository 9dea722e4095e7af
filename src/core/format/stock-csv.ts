import Papa from 'papaparse';
import { STOCK_KINDS, stockItemSchema, type StockItem } from '../parts/stock';
import { failure, success, type Result } from '../result';
import { parseQuantity } from '../units/quantity';
import { figure, writeCsv } from './csv';

const COLUMNS = ['kind', 'value', 'name', 'tolerance_pct', 'grade', 'count', 'price'] as const;
const UNITS = {
  resistor: 'resistance',
  potentiometer: 'resistance',
  capacitor: 'capacitance',
  inductor: 'inductance',
} as const;

export const writeStockCsv = (items: readonly StockItem[]): string =>
  writeCsv(
    [...COLUMNS],
    items.map((i) => [
      i.kind,
      i.value === null ? '' : figure(i.value),
      i.name,
      i.tolerancePct === null ? '' : figure(i.tolerancePct),
      i.grade,
      i.count,
      i.price === null ? '' : figure(i.price),
    ]),
  );

/** Where a table does not read. */
export interface StockFault {
  readonly line: number;
  readonly column: string;
  readonly text: string;
}

/**
 * Reads stock from a table with a header line; columns in any order, `kind` and `count` must be there. Values as makers
 * write them (4k7, 2n2). Fails with `stock-columns` (`missing`) or `stock-lines` (`faults`, at most eight); nothing is
 * taken then.
 */
export function readStockCsv(text: string, makeId: () => string): Result<StockItem[], 'stock-columns' | 'stock-lines'> {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, '').trim(), { skipEmptyLines: true });
  const header = (data[0] ?? []).map((cell) =>
    cell
      .trim()
      .toLowerCase()
      .replace(/[ %]+/g, '_')
      .replace(/^tolerance.*/, 'tolerance_pct'),
  );
  const missing = ['kind', 'count'].filter((name) => !header.includes(name));
  if (missing.length > 0) return failure('stock-columns', { missing: [...missing] });
  const faults: StockFault[] = [];
  const items = data
    .slice(1)
    .map((row, i) => readRow(new Map(header.map((name, k) => [name, (row[k] ?? '').trim()])), i + 2, makeId, faults));
  return faults.length > 0
    ? failure('stock-lines', {
        faults: faults.slice(0, 8).map(({ line, column, text }) => `line ${line}, ${column}: “${text}”`),
      })
    : success(items);
}

function readRow(
  cells: ReadonlyMap<string, string>,
  line: number,
  makeId: () => string,
  faults: StockFault[],
): StockItem {
  const before = faults.length;
  const wrong = (column: string) => void faults.push({ line, column, text: (cells.get(column) ?? '').slice(0, 40) });
  const kind = STOCK_KINDS.find((k) => k === cells.get('kind')?.toLowerCase());
  if (!kind) wrong('kind');
  const number = (column: string, most: number, whole = false): number | null => {
    const cell = cells.get(column);
    if (!cell) return null;
    const value = Number(cell.replace(',', '.'));
    if (!(value >= 0 && value <= most) || (whole && !Number.isInteger(value))) wrong(column);
    return value;
  };
  let value: number | null = null;
  if (kind && kind !== 'op-amp') {
    value = valueOf(cells.get('value') ?? '', UNITS[kind]);
    if (value === null) wrong('value');
  } else if (kind && !cells.get('name')) wrong('name');
  const item = {
    id: makeId(),
    kind: kind ?? 'resistor',
    value,
    name: cells.get('name') ?? '',
    tolerancePct: number('tolerance_pct', 50),
    grade: cells.get('grade') ?? '',
    count: number('count', 1e6, true) ?? 0,
    price: number('price', 1e6),
  };
  // What the drawer cannot hold is said by its column: a tolerance of nothing, a name longer than a label.
  if (faults.length === before)
    for (const { path } of stockItemSchema.safeParse(item).error?.issues ?? []) wrong(COLUMN_OF[String(path[0])]);
  return item;
}
const COLUMN_OF: Readonly<Record<string, string>> = Object.fromEntries(
  COLUMNS.map((name) => [name === 'tolerance_pct' ? 'tolerancePct' : name, name]),
);

/** A plain number as it stands, or a value as makers write it; null for what is neither, or is not above zero. */
function valueOf(text: string, kind: (typeof UNITS)[keyof typeof UNITS]): number | null {
  const plain = Number(text);
  if (text !== '' && Number.isFinite(plain)) return plain > 0 ? plain : null;
  const parsed = parseQuantity(text, kind);
  return parsed.ok && parsed.value > 0 ? parsed.value : null;
}
