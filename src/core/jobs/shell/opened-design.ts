import { readDesignText } from '../../design/document/migrate';
import type { Design, Variant } from '../../design/document/schema';
import { SERIES_IDS, type SeriesId } from '../../parts/preferred';
import { failure, success, type Failure, type Result } from '../../result';

/** A design that a shell names, and the variant that is meant. */
export interface OpenedDesign {
  readonly design: Design;
  readonly variant: Variant;
}

/**
 * A design from its text, and one of its variants by name or id, which becomes the current one. Fails as reading does,
 * or with `no-such-variant` (`variant`, `variants`).
 */
export function openDesign(text: string, variantName?: string): Result<OpenedDesign> {
  const read = readDesignText(text);
  if (!read.ok) return read;
  const { variants, currentVariant } = read.value;
  const wanted = variantName ?? currentVariant;
  const variant =
    variants.find((v) => v.id === wanted) ?? variants.find((v) => v.name === wanted || v.label === wanted);
  if (!variant)
    return failure('no-such-variant', { variant: wanted, variants: variants.map((v) => v.name).join(', ') });
  return success({ design: { ...read.value, currentVariant: variant.id }, variant });
}

/** An option with a value that is not on offer. */
export const badOption = (option: string, value: string | number, allowed: string): Failure<'bad-option'> =>
  failure('bad-option', { option, value, allowed });

/** One of the words on offer for an option. Fails with `bad-option`. */
export function oneOf<T extends string>(option: string, value: string, allowed: readonly T[]): Result<T, 'bad-option'> {
  const found = allowed.find((a) => a === value);
  return found === undefined ? badOption(option, value, allowed.join(', ')) : success(found);
}

/** The series that parts are taken from, each kept as it was where none is named. Fails with `bad-option`. */
export function withSeries(
  { resistors, capacitors }: { readonly resistors?: string; readonly capacitors?: string },
  preferences: Design['preferences'],
): Result<Design['preferences'], 'bad-option'> {
  const series = (option: string, given: string | undefined, before: SeriesId) =>
    given === undefined ? success(before) : oneOf(option, given, SERIES_IDS);
  const r = series('--series-resistors', resistors, preferences.resistorSeries);
  if (!r.ok) return r;
  const c = series('--series-capacitors', capacitors, preferences.capacitorSeries);
  return c.ok ? success({ ...preferences, resistorSeries: r.value, capacitorSeries: c.value }) : c;
}
