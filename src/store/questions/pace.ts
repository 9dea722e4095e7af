/** While a circuit sounds, its sound has the machine first: curves then follow ten times a second. */
const SOUNDING_MS = 100;
let sounding = false;

export const setSounding = (now: boolean): void => void (sounding = now);

/** How far apart jobs that follow the desk begin at least, ms. */
export const apartMs = (): number => (sounding ? SOUNDING_MS : 0);
