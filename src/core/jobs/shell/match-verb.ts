import { countingIds, createDesign } from '../../design/making/create';
import type { BriefLimit } from '../../filter/brief-mask';
import { isBand } from '../../filter/plan-sections';
import type { MaskLimit } from '../../design/document/schema';
import { success, type Result } from '../../result';
import type { JobRunner } from '../run-job';
import { SHELL_GRID } from './desk-verb';
import { badOption } from './opened-design';

/** `DB@HZ..HZ`, one end or the other empty, as limits of a brief. Fails with `bad-option`. */
export function limitsOf(
  option: string,
  kind: BriefLimit['kind'],
  given: string,
  number: (text: string) => number | null,
): Result<BriefLimit[]> {
  const bad = badOption(option, given, 'DB@HZ..HZ with one end or the other empty, such as 40@2k.. or 1@..900');
  const parts = /^([^@]+)@([^.]*(?:\.[^.]+)?)\.\.(.*)$/.exec(given);
  if (!parts) return bad;
  const [db, from, to] = parts.slice(1).map((text) => (text.trim() === '' ? undefined : number(text.trim())));
  if (db === undefined || db === null || db < 0 || from === null || to === null) return bad;
  const ends = [
    ...(from === undefined ? [] : [{ side: 'above' as const, freqHz: from }]),
    ...(to === undefined ? [] : [{ side: 'below' as const, freqHz: to }]),
  ];
  if (ends.length === 0 || ends.some(({ freqHz }) => !(freqHz > 0))) return bad;
  return success(ends.map((end) => ({ kind, ...end, db })));
}

/**
 * `DOWN[,UP]@HZ..HZ` of a pass limit, `DOWN@HZ..HZ` of a stop limit, as limits of a specification. Fails with
 * `bad-option`.
 */
export function maskOf(
  kind: BriefLimit['kind'],
  given: readonly string[],
  number: (text: string) => number | null,
): Result<MaskLimit[]> {
  const makeId = countingIds(kind);
  const option = kind === 'at-most' ? '--pass' : '--stop';
  const mask: MaskLimit[] = [];
  for (const text of given) {
    const [levels, span = ''] = text.split('@');
    const [down, up, ...more] = levels.split(',');
    const upDb = up === undefined ? undefined : number(up.trim());
    if (more.length > 0 || upDb === null || (upDb !== undefined && (kind === 'at-least' || !(upDb >= 0))))
      return badOption(option, text, kind === 'at-most' ? 'DOWN[,UP]@HZ..HZ' : 'DOWN@HZ..HZ');
    const limits = limitsOf(option, kind, `${down}@${span}`, number);
    if (!limits.ok) return limits;
    mask.push(...limits.value.map((l) => ({ id: makeId(), ...l, ...(upDb === undefined ? {} : { upDb }) })));
  }
  return success(mask);
}

/** What would meet some limits: smallest order first, only what meets all. Fails as the search does. */
export async function matchVerb(limits: readonly BriefLimit[], runner: JobRunner): Promise<Result<object>> {
  const base = createDesign('Match', () => [], countingIds('match'));
  const mask = limits.map((limit, i) => ({ id: `l${i}`, ...limit }));
  const design = { ...base, brief: { ...base.brief, mask } };
  const found = await runner.run<'match'>({
    kind: 'match',
    design,
    variantId: design.currentVariant,
    grid: SHELL_GRID,
  });
  if (!found.ok) return found;
  return success(
    found.value.matches.map(({ plan, marginDb, figures }) => ({
      alignment: plan.alignment,
      response: plan.response,
      order: plan.order,
      cutoffHz: plan.cutoffHz,
      ...(isBand(plan.response) ? { centerHz: plan.cutoffHz, bandwidthHz: plan.bandwidthHz } : {}),
      rippleDb: plan.rippleDb,
      attenuationDb: plan.attenuationDb,
      marginDb,
      parts: 'ok' in figures ? null : figures.partCount,
      opAmps: 'ok' in figures ? null : figures.opAmps,
    })),
  );
}
