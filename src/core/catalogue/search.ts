/** Something that is found by words: its name, other names, and what else speaks of it. */
export interface Findable {
  readonly name: string;
  readonly words: readonly string[];
  readonly says?: string;
  readonly group?: string;
}

const plain = (text: string): string =>
  text
    .toLowerCase()
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/[-–,/’'()]/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();

/** Letters from which two words written as one are understood: lowpass, bandstop. */
const RUN_ON = 6;

/**
 * What answers to words, best first: all of them stand in its name, its other names, its heading or its reason. Letters
 * without accents, hyphens and commas count as blanks.
 */
export function searchOf<Found extends Findable>(entries: readonly Found[]): (text: string) => Found[] {
  const known = entries.map((entry) => {
    const all = plain([entry.name, ...entry.words, entry.group ?? '', entry.says ?? ''].join(' '));
    return { entry, name: plain(entry.name), words: entry.words.map(plain), all, tight: all.replaceAll(' ', '') };
  });
  return (text) => {
    const wanted = plain(text);
    if (wanted === '') return [...entries];
    const each = wanted.split(' ');
    return known
      .filter(({ all, tight }) =>
        each.every((word) => all.includes(word) || (word.length >= RUN_ON && tight.includes(word))),
      )
      .map(({ entry, name, words }) => ({
        entry,
        rank: name.startsWith(wanted) || words.includes(wanted) ? 0 : name.includes(wanted) ? 1 : 2,
      }))
      .sort((a, b) => a.rank - b.rank)
      .map(({ entry }) => entry);
  };
}
