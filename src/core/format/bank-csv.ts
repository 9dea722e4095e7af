import Papa from 'papaparse';
import type { BankRow, GivenStage } from '../design/bank';
import { failure, success, type Result } from '../result';
import type { PartValues } from '../topology/kit/part';
import { parseQuantity } from '../units/quantity';
import { figure, writeCsv } from './csv';

const PARTS = ['R1', 'R1b', 'R2', 'C1', 'C2'] as const;
const NEEDED = ['band', 'R1', 'R2', 'C1', 'C2'];

/** A bank's table: what every stage is asked for and does, its parts (ohm, farad), and what trims it. */
export const writeBankCsv = (rows: readonly BankRow[]): string =>
  writeCsv(
    ['band', 'stage', 'wanted_hz', 'centre_hz', 'q', 'gain_db', ...PARTS, 'trim_ohm', 'fixed_ohm', 'trimmer_ohm'],
    rows.map((r) => [
      r.band,
      r.stage,
      figure(r.wantedHz, 12),
      figure(r.centreHz),
      figure(r.q),
      figure(r.gainDb),
      ...PARTS.map((p) => (r.parts[p] === undefined ? '' : figure(r.parts[p], 12))),
      ...(r.trim ? [figure(r.trim.ohm), figure(r.trim.fixedOhm), figure(r.trim.trimmerOhm)] : ['', '', '']),
    ]),
  );

/**
 * Reads a table of part values of multiple-feedback band-passes: a line a stage, with `band`, `R1`, `R2`, `C1`, `C2`,
 * perhaps `R1b` and `wanted_hz`; values plain or as makers write them. Fails with `bank-columns` (`missing`) or
 * `bank-lines` (`faults`).
 */
export function readBankCsv(text: string): Result<GivenStage[], 'bank-columns' | 'bank-lines'> {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, '').trim(), { skipEmptyLines: true });
  const header = (data[0] ?? []).map((cell) => cell.trim());
  const at = (name: string) => header.findIndex((h) => h.toLowerCase() === name.toLowerCase());
  const missing = NEEDED.filter((name) => at(name) < 0);
  if (missing.length > 0) return failure('bank-columns', { missing });
  const faults: string[] = [];
  const stages = data.slice(1).map((row, i): GivenStage => {
    const cell = (name: string) => (at(name) < 0 ? '' : (row[at(name)] ?? '').trim());
    const read = (name: string, kind: 'resistance' | 'capacitance' | 'frequency', needed: boolean): number | null => {
      const written = cell(name);
      if (written === '' && !needed) return null;
      const plain = Number(written);
      const parsed = written !== '' && Number.isFinite(plain) ? plain : quantity(written, kind);
      if (parsed !== null && parsed > 0) return parsed;
      faults.push(`line ${i + 2}, ${name}: “${written}”`);
      return null;
    };
    const parts: Record<string, number> = {};
    for (const name of PARTS) {
      const value = read(name, name.startsWith('R') ? 'resistance' : 'capacitance', name !== 'R1b');
      if (value !== null) parts[name] = value;
    }
    if (cell('band') === '') faults.push(`line ${i + 2}, band: “”`);
    return { band: cell('band'), parts: parts as PartValues, wantedHz: read('wanted_hz', 'frequency', false) };
  });
  return faults.length > 0 ? failure('bank-lines', { faults: faults.slice(0, 8) }) : success(stages);
}

function quantity(text: string, kind: 'resistance' | 'capacitance' | 'frequency'): number | null {
  const parsed = parseQuantity(text, kind);
  return parsed.ok ? parsed.value : null;
}
