import { buildSheet } from '../../design/build-sheet';
import { AS_BUILT, compile } from '../../design/compile';
import { designatorsOf } from '../../design/designators';
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
  const built = compile(design, variant, { ...AS_BUILT, rest: 'left' });
  if (!built.ok) return built;
  // The sheet calls a part by its name in its stage and the stage's number; the list by its one designator.
  const names = designatorsOf(built.value.ways, built.value.netlist.elements);
  const stages = built.value.ways.flatMap((w) => w.stages);
  const called = (reference: string) => {
    const [, part, number, rest] = /^([^.]+)\.(\d+)(.*)$/.exec(reference) ?? [];
    if (part === undefined) return reference;
    const id = stages[Number(number) - 1]?.stage.id;
    return `${names.get(`${id}.${part}`) ?? `${part}.${number}`}${rest}`;
  };
  const number = (value: number | null) => (value === null ? '' : figure(value));
  const rows = sheet.value.parts.map(({ kind, value, name, tolerancePct, references, perBoard, total }) => {
    return [kind, number(value), name, number(tolerancePct), references.map(called).join(' '), perBoard, total];
  });
  return success(writeCsv(HEADER, rows));
}
