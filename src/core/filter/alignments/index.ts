import { bessel } from './bessel';
import { butterworth } from './butterworth';
import { chebyshev } from './chebyshev';
import { criticallyDamped } from './critically-damped';
import type { Alignment } from './define-alignment';
import { linkwitzRiley } from './linkwitz-riley';

/** Every alignment on offer. A new one is one file, one line here and one test. */
export const ALIGNMENTS = [butterworth, bessel, chebyshev, linkwitzRiley, criticallyDamped] as const satisfies readonly Alignment[];
export const ALIGNMENT_IDS = ['butterworth', 'bessel', 'chebyshev', 'linkwitz-riley', 'critically-damped'] as const;
export type AlignmentId = (typeof ALIGNMENT_IDS)[number];

export function alignmentById(id: string): Alignment {
  const found = ALIGNMENTS.find((alignment) => alignment.id === id);
  if (!found) throw new Error(`no alignment is called ${id}`);
  return found;
}
