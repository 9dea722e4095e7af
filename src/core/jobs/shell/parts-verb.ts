import { buildSheet } from '../../design/building/build-sheet';
import { figure, writeCsv } from '../../format/csv';
import { success, type Result } from '../../result';
import { openDesign } from './opened-design';

const HEADER = ['kind', 'value', 'name', 'tolerance_pct', 'references', 'per_board', 'total'];

/** Everything to buy for so many boards, as CSV. Fails as reading and compiling do. */
export function partsVerb(text: string, variantName: string | undefined, boards: number): Result<string> {
  const opened = openDesign(text, variantName);
  if (!opened.ok) return opened;
  const { design, variant } = opened.value;
  const sheet = buildSheet({ ...design, preferences: { ...design.preferences, boards } }, variant);
  if (!sheet.ok) return sheet;
  const number = (value: number | null) => (value === null ? '' : figure(value));
  const rows = sheet.value.parts.map(({ kind, value, name, tolerancePct, references, perBoard, total }) => {
    return [kind, number(value), name, number(tolerancePct), references.join(' '), perBoard, total];
  });
  return success(writeCsv(HEADER, rows));
}
