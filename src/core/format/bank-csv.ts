import Papa from 'papaparse';
import type { BankRow, GivenStage } from '../design/making/bank';
import { failure, success, type Result } from '../result';
import type { PartValues } from '../topology/kit/part';
import { parseQuantity } from '../units/quantity';
import { figure, writeCsv } from './csv';

const PARTS = ['R1', 'R1b', 'R2', 'C1', 'C2'] as const;

/** A bank's table: what every stage is asked for and does, its parts (ohm, farad), and what trims it. */
export const writeBankCsv = (rows: readonly BankRow[]): string =>
  writeCsv(
    ['band', 'stage', 'wanted_hz', 'centre_hz', 'q', 'gain_db', ...PARTS, 'trim_ohm', 'fixed_ohm', 'trimmer_ohm'],
    rows.map((r) => [
      r.band,
      r.stage,
      figure(r.wantedHz, 12),
      r.centreHz === null ? '' : figure(r.centreHz),
      r.q === null ? '' : figure(r.q),
      figure(r.gainDb),
      ...PARTS.map((p) => (r.parts[p] === undefined ? '' : figure(r.parts[p], 12))),
      ...(r.trim ? [figure(r.trim.ohm), figure(r.trim.fixedOhm), figure(r.trim.trimmerOhm)] : ['', '', '']),
    ]),
  );

type ColumnKind = 'resistance' | 'capacitance' | 'frequency';

/** What a table of a bank of multiple-feedback band-passes may tell of a stage. */
export interface BankColumn {
  readonly id: 'band' | (typeof PARTS)[number] | 'trimmer' | 'wanted_hz';
  readonly label: string;
  /** Null: a name. */
  readonly kind: ColumnKind | null;
  readonly needed: boolean;
  /** Headings it is known by, in lower case; the first that is there is taken. */
  readonly words: readonly string[];
}

const resistance = (id: BankColumn['id'], label: string, needed: boolean, words: readonly string[]): BankColumn => ({
  id,
  label,
  kind: 'resistance',
  needed,
  words,
});
export const BANK_COLUMNS: readonly BankColumn[] = [
  { id: 'band', label: 'band', kind: null, needed: true, words: ['band', 'name', 'channel', 'filter', 'no', 'nr'] },
  resistance('R1', 'input resistor', true, ['r1', 'input', 'rin', 'r in', 'ri']),
  resistance('R1b', 'resistor to ground', false, ['r1b', 'ground', 'to ground', 'rg', 'shunt', 'leg']),
  resistance('trimmer', 'trimmer in series with that', false, ['trimmer', 'trim', 'preset']),
  resistance('R2', 'feedback resistor', true, ['r2', 'feedback', 'rf']),
  { id: 'C1', label: 'first capacitor', kind: 'capacitance', needed: true, words: ['c1', 'c', 'cap', 'capacitor'] },
  {
    id: 'C2',
    label: 'second capacitor',
    kind: 'capacitance',
    needed: true,
    words: ['c2', 'c', 'cap', 'capacitor', 'capacitors'],
  },
  {
    id: 'wanted_hz',
    label: 'centre wanted',
    kind: 'frequency',
    needed: false,
    words: ['wanted_hz', 'centre', 'center', 'f0', 'frequency', 'freq'],
  },
];

/** What a plain number of a column is counted in. */
export const COLUMN_UNITS: Readonly<Record<ColumnKind, Readonly<Record<string, number>>>> = {
  resistance: { Ω: 1, kΩ: 1e3, MΩ: 1e6 },
  capacitance: { F: 1, µF: 1e-6, nF: 1e-9, pF: 1e-12 },
  frequency: { Hz: 1, kHz: 1e3 },
};

export interface BankTableText {
  readonly header: readonly string[];
  readonly rows: readonly (readonly string[])[];
}
/** Which column of the table tells what (its number from 0, null: none), and the unit of its plain numbers. */
export type ColumnMap = Readonly<Record<BankColumn['id'], { readonly column: number | null; readonly unit: string }>>;

/** Stages of the largest bank, by a good margin. */
const MOST_ROWS = 1000;
/** A heading says what it is within so many letters. */
const MOST_IN_HEADING = 80;
/** What a part or a centre of a filter can be: ohm, farad, Hz. */
const CAN_BE: Readonly<Record<ColumnKind, readonly [number, number]>> = {
  resistance: [1e-3, 1e12],
  capacitance: [1e-15, 10],
  frequency: [1e-3, 1e9],
};

/** A table as text: comma, semicolon or tab between its columns, headings in its first line. */
export function readBankTable(text: string): BankTableText {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, '').trim(), {
    skipEmptyLines: true,
    preview: MOST_ROWS + 2,
  });
  const trimmed = data.map((row) => row.map((cell) => cell.trim()));
  return { header: trimmed[0] ?? [], rows: trimmed.slice(1) };
}

/** A heading without its unit, and the unit: `C (nF)`, `feedback [k]`, `R1 kΩ`. */
function headingOf(cell: string): { readonly word: string; readonly unit: string } {
  const found = /^(.*?)[\s,]*[([]?\s*(k|M|m|n|p|u|µ)?(Ω|ohms?|F|Hz|hz)?\s*[)\]]?$/.exec(cell);
  const bracketed = /[([]/.test(cell);
  const unit = found && (found[3] || bracketed) ? `${found[2] ?? ''}${found[3] ?? ''}` : '';
  return { word: (unit && found ? found[1] : cell).trim().toLowerCase(), unit };
}

function unitOf(kind: ColumnKind | null, written: string): string {
  if (!kind) return '';
  const prefix = /^[kMnpuµ]/.exec(written)?.[0].replace('u', 'µ') ?? '';
  const units = Object.keys(COLUMN_UNITS[kind]);
  return units.find((u) => u.startsWith(prefix) && (prefix !== '' || u === units[0])) ?? units[0];
}

/** What the headings seem to mean. */
export function guessColumns({ header }: BankTableText): ColumnMap {
  const headings = header.map((cell) => headingOf(cell.slice(0, MOST_IN_HEADING)));
  return Object.fromEntries(
    BANK_COLUMNS.map(({ id, words, kind }) => {
      const exact = header.findIndex((h) => h.toLowerCase() === id.toLowerCase());
      const word = words.find((w) => headings.some((h) => h.word === w));
      const column = exact >= 0 ? exact : headings.findIndex((h) => word !== undefined && h.word === word);
      return [
        id,
        { column: column < 0 ? null : column, unit: unitOf(kind, exact >= 0 ? '' : (headings[column]?.unit ?? '')) },
      ];
    }),
  ) as ColumnMap;
}

/**
 * The stages that a table's lines tell of; values plain, in their column's unit, or as makers write them. Fails with
 * `bank-columns` (`missing`), `bank-lines` (`faults`, at most eight) or `bank-long` (`most`).
 */
export function stagesOfTable(
  { rows }: BankTableText,
  map: ColumnMap,
): Result<GivenStage[], 'bank-columns' | 'bank-lines' | 'bank-long'> {
  if (rows.length > MOST_ROWS) return failure('bank-long', { most: MOST_ROWS });
  const missing = BANK_COLUMNS.filter((c) => c.needed && map[c.id].column === null).map((c) => c.id);
  if (missing.length > 0) return failure('bank-columns', { missing });
  const faults: string[] = [];
  const stages = rows.map((row, i): GivenStage => {
    const cell = (id: BankColumn['id']) => row[map[id].column ?? -1] ?? '';
    const read = ({ id, kind, needed }: BankColumn): number | null => {
      const written = cell(id);
      if (kind === null || (written === '' && !needed)) return null;
      const plain = Number(written);
      const parsed =
        written !== '' && Number.isFinite(plain) ? plain * COLUMN_UNITS[kind][map[id].unit] : quantity(written, kind);
      if (parsed !== null && parsed >= CAN_BE[kind][0] && parsed <= CAN_BE[kind][1]) return parsed;
      faults.push(`line ${i + 2}, ${id}: “${written.slice(0, 40)}”`);
      return null;
    };
    const values = new Map(BANK_COLUMNS.map((column) => [column.id, read(column)]));
    if (cell('band') === '') faults.push(`line ${i + 2}, band: “”`);
    return {
      band: cell('band'),
      parts: Object.fromEntries(PARTS.flatMap((p) => (values.get(p) ? [[p, values.get(p)]] : []))) as PartValues,
      wantedHz: values.get('wanted_hz') ?? null,
      trimmerOhm: values.get('trimmer') ?? null,
    };
  });
  return faults.length > 0 ? failure('bank-lines', { faults: faults.slice(0, 8) }) : success(stages);
}

function quantity(text: string, kind: ColumnKind): number | null {
  const parsed = parseQuantity(text, kind);
  return parsed.ok ? parsed.value : null;
}
