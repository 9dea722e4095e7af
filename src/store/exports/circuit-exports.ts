import { buildSheet } from '@/core/design/building/build-sheet';
import { AS_BUILT } from '@/core/design/compiled/compile';
import type { Design } from '@/core/design/document/schema';
import { figure, writeCsv } from '@/core/format/csv';
import { variantDeck } from '@/core/jobs/deck/variant-deck';
import { success, type Result } from '@/core/result';
import { currentVariantOf, currentWayOf } from '../edits/edits';

export function partsCsvOf(design: Design): Result<string> {
  const sheet = buildSheet(design, currentVariantOf(design));
  if (!sheet.ok) return sheet;
  return success(
    writeCsv(
      ['kind', 'value_si', 'name', 'tolerance_pct', 'references', 'per_board', 'boards', 'total'],
      sheet.value.parts
        .map((line) => [
          line.kind,
          line.value === null ? '' : figure(line.value),
          line.name,
          line.tolerancePct ?? '',
          line.references.join(' '),
          line.perBoard,
          sheet.value.boards,
          line.total,
        ])
        .concat(
          sheet.value.besides.map(({ name, count }) => [
            'besides',
            '',
            name,
            '',
            '',
            count,
            sheet.value.boards,
            count * sheet.value.boards,
          ]),
        ),
    ),
  );
}

/** The way in hand as a deck. Fails as the design does, or with `not-in-a-deck`. */
export const deckOf = (design: Design): Result<string> =>
  variantDeck(design, { ...currentVariantOf(design), ways: [currentWayOf(design)] }, AS_BUILT);
