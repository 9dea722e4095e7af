import { calledIn } from '@/core/design/stages/designators';
import type { Design, Snapshot } from '@/core/design/document/schema';
import type { DeskResult } from '@/core/jobs/desk/desk-types';
import { currentVariantOf } from './edits/edits';

/** The numbers of the desk as they stand, for the record. */
export function snapshotOf(design: Design, desk: DeskResult): Snapshot {
  const variant = currentVariantOf(design);
  const missed = desk.brief.filter((v) => !v.met).length;
  return {
    variant: `${variant.name}${variant.label ? ` · ${variant.label}` : ''}`,
    cutoffs: desk.marks.filter((m) => m.kind === 'cutoff').map((m) => m.freqHz),
    gainDb: desk.passLevelDb,
    stages: desk.stages.map((s) => ({
      name: s.name,
      freqHz: s.got.freqHz ?? s.target?.freqHz ?? s.cornersHz[0] ?? 1,
      q: s.got.q,
      gainDb: s.got.gainDb ?? 0,
    })),
    parts: desk.stages.flatMap((s) => s.parts.map((p) => ({ part: calledIn(s, p.name), value: p.chosen }))),
    brief:
      desk.brief.length === 0
        ? 'No limits were asked for.'
        : missed === 0
          ? `All ${desk.brief.length} limits met.`
          : `${missed} of ${desk.brief.length} limits missed.`,
  };
}
