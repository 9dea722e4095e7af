import { countingIds, createDesign } from '../../design/making/create';
import type { BriefLimit } from '../../filter/brief-mask';
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
  // Lost between two frequencies is a band-stop, which is not searched for.
  if (kind === 'at-least' && ends.length === 2) return badOption(option, given, 'a stop band that is open at one end');
  return success(ends.map((end) => ({ kind, ...end, db })));
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
      ...(plan.response === 'bandpass' ? { centerHz: plan.cutoffHz, bandwidthHz: plan.bandwidthHz } : {}),
      rippleDb: plan.rippleDb,
      attenuationDb: plan.attenuationDb,
      marginDb,
      parts: 'ok' in figures ? null : figures.partCount,
      opAmps: 'ok' in figures ? null : figures.opAmps,
    })),
  );
}
