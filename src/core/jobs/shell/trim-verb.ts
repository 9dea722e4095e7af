import { success, type Result } from '../../result';
import type { JobRunner } from '../run-job';
import { openDesign } from './opened-design';

/** How a design is trimmed, step by step. Fails as reading, the design and the solver do. */
export async function trimVerb(
  text: string,
  variantName: string | undefined,
  runner: JobRunner,
): Promise<Result<object>> {
  const opened = openDesign(text, variantName);
  if (!opened.ok) return opened;
  const { design, variant } = opened.value;
  const steps = await runner.run<'trim'>({ kind: 'trim', design, variantId: variant.id });
  return steps.ok ? success(steps.value) : steps;
}
