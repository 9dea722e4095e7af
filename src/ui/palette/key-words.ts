/** `mod+shift+z` as people read it. */
export const keyWords = (keys: string): string =>
  keys
    .split('+')
    .map((k) => (k === 'mod' ? 'Ctrl' : k === 'shift' ? 'Shift' : k.length === 1 ? k.toUpperCase() : k))
    .join(' + ');
