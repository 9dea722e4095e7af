const SUFFIX: readonly [string, number][] = [
  ['meg', 6],
  ['f', -15],
  ['p', -12],
  ['n', -9],
  ['u', -6],
  ['µ', -6],
  ['m', -3],
  ['k', 3],
  ['g', 9],
  ['t', 12],
];

/** Longer than this nothing is a number. */
const MOST_LETTERS = 64;

/**
 * A deck's number: `4.7k`, `10kohm`, `2meg`, `1e-9`; letters after the suffix are ignored, M is milli. Null when it is
 * not one.
 */
export function deckNumber(text: string): number | null {
  if (text.length > MOST_LETTERS) return null;
  const match = /^([+-]?(?:\d+(?:\.\d*)?|\.\d+))(?:e([+-]?\d+))?([a-zµ]*)$/i.exec(text.trim());
  if (!match) return null;
  const letters = match[3].toLowerCase();
  const power = SUFFIX.find(([suffix]) => letters.startsWith(suffix))?.[1] ?? 0;
  const value = Number(`${match[1]}e${Number(match[2] ?? 0) + power}`);
  return Number.isFinite(value) ? value : null;
}
