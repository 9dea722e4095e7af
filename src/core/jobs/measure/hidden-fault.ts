import { unsafeUniformIntDistribution, xoroshiro128plus } from 'pure-rand';
import { designatorsOf } from '../../design/designators';
import type { Design, Variant } from '../../design/schema';
import { failure, success, type Result } from '../../result';
import { builtVariant } from '../reading/built-variant';
import { namedParts } from './hypotheses';

/** Times its value that a wrong part may have: another decade, a neighbour on the shelf. */
const FACTORS = [10, 0.1, 2.2, 0.47, 1.5, 0.68];

/**
 * Something wrong with a board, as it is written, the same for the same seed: a value, an open joint, a bridge. Fails
 * as the design does, or with `nothing-to-break`.
 */
export function hiddenFault(design: Design, variant: Variant, seed: number): Result<string> {
  const built = builtVariant(design, variant.id);
  if (!built.ok) return built;
  const there = new Set(built.value.parts.map(({ stageId, part }) => `${stageId}.${part}`));
  const parts = namedParts(built.value, designatorsOf(built.value.ways), (element) => there.has(element));
  if (parts.length === 0) return failure('nothing-to-break', {});
  const generator = xoroshiro128plus(seed ^ 0x5eed);
  const below = (count: number) => unsafeUniformIntDistribution(0, count - 1, generator);
  const { designator } = parts[below(parts.length)];
  const kind = below(FACTORS.length + 2);
  if (kind < FACTORS.length) return success(`${designator}=x${FACTORS[kind]}`);
  return success(`${designator}=${kind === FACTORS.length ? 'open' : 'short'}`);
}
