import { AS_BUILT } from '../../design/compiled/compile';
import type { Result } from '../../result';
import { variantDeck } from '../deck/variant-deck';
import { oneOf, openDesign } from './opened-design';

/** A variant as a deck. Fails as reading and compiling do, or with `bad-option`. */
export function deckVerb(
  text: string,
  variantName: string | undefined,
  values: string,
  devices: string,
): Result<string> {
  const opened = openDesign(text, variantName);
  if (!opened.ok) return opened;
  const [which, how] = [oneOf('--values', values, ['exact', 'chosen']), oneOf('--devices', devices, ['ideal', 'real'])];
  if (!which.ok) return which;
  if (!how.ok) return how;
  const { design, variant } = opened.value;
  return variantDeck(design, variant, { ...AS_BUILT, values: which.value, devices: how.value });
}
