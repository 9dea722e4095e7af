import { limitSpan, upOf } from '../../filter/brief-mask';
import { success, type Result } from '../../result';
import { notSteady } from '../reading/read-way';
import type { JobRunner } from '../run-job';
import { SHELL_GRID } from './desk-verb';
import { openDesign } from './opened-design';

/** Every limit of a design's specification, and whether it is met. Fails as reading, the design, or with `sings`. */
export async function judgeVerb(
  text: string,
  variantName: string | undefined,
  runner: JobRunner,
): Promise<Result<object>> {
  const opened = openDesign(text, variantName);
  if (!opened.ok) return opened;
  const { design, variant } = opened.value;
  const desk = await runner.run<'desk'>({
    kind: 'desk',
    design,
    variantId: variant.id,
    ghostVariantId: null,
    grid: SHELL_GRID,
  });
  if (!desk.ok) return desk;
  const { brief, stability } = desk.value;
  const { mask } = design.brief;
  if (!stability.stable) return notSteady(stability);
  return success(
    mask.map((limit, i) => {
      const [a, b] = [...limitSpan(limit, mask)].sort((x, y) => x - y);
      const { met, byDb, atHz } = brief[i];
      return {
        kind: limit.kind === 'at-most' ? 'pass' : 'stop',
        fromHz: a,
        // Open at the top.
        toHz: b === Infinity ? null : b,
        downDb: limit.db,
        ...(limit.kind === 'at-most' ? { upDb: upOf(limit) } : {}),
        met,
        byDb,
        atHz,
      };
    }),
  );
}
