/** px */
const LINE_PX = 13;
/** Heights from the top down, moved down where they would run into one another. */
export const labelsApart = (wanted: readonly number[]): number[] =>
  wanted.reduce<number[]>((places, y) => [...places, Math.max(y, (places.at(-1) ?? -Infinity) + LINE_PX)], []);
