import { bessel } from './bessel';
import { butterworth } from './butterworth';
import { chebyshev } from './chebyshev';
import { criticallyDamped } from './critically-damped';
import { custom } from './custom';
import type { Alignment } from './define-alignment';
import { elliptic } from './elliptic';
import { equirippleDelay } from './equiripple-delay';
import { gaussian } from './gaussian';
import { inverseChebyshev } from './inverse-chebyshev';
import { legendre } from './legendre';
import { linkwitzRiley } from './linkwitz-riley';

/** Every alignment. A new one is one file, one line here and one test. */
export const ALIGNMENTS = [
  butterworth,
  bessel,
  chebyshev,
  linkwitzRiley,
  legendre,
  gaussian,
  equirippleDelay,
  criticallyDamped,
  inverseChebyshev,
  elliptic,
  custom,
] as const satisfies readonly Alignment[];
export const ALIGNMENT_IDS = [
  'butterworth',
  'bessel',
  'chebyshev',
  'linkwitz-riley',
  'legendre',
  'gaussian',
  'equiripple-delay',
  'critically-damped',
  'inverse-chebyshev',
  'elliptic',
  'custom',
] as const;
export type AlignmentId = (typeof ALIGNMENT_IDS)[number];

export function alignmentById(id: string): Alignment {
  const found = ALIGNMENTS.find((alignment) => alignment.id === id);
  if (!found) throw new Error(`no alignment is called ${id}`);
  return found;
}
