/**
 * Repeatable numbers in [0, 1) from a word: a linear congruential generator of tests alone (D. Knuth, The Art of
 * Computer Programming, vol. 2, 3.3.4, table 1, line 15).
 */
export function seeded(word: string): () => number {
  let state = [...word].reduce((sum, letter) => (sum * 31 + letter.charCodeAt(0)) >>> 0, 17);
  return () => (state = (Math.imul(1664525, state) + 1013904223) >>> 0) / 2 ** 32;
}
