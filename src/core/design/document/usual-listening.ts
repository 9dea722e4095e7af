import type { Listening } from './schema';

/** Where a crossover is judged until something else is said. */
export const USUAL_LISTENING: Listening = {
  fromHz: 200,
  toHz: 15e3,
  levelDb: null,
  distanceM: 2,
  acrossDeg: 0,
  upDeg: 0,
  lowestOhm: 3.5,
};
