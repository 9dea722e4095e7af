import type { Grid } from '@/core/jobs/define-job';
import { documentStore } from '../document';
import { gridFor } from './axis';
import { lean } from './lean';
import { LongJob } from './long-job';

/** What is asked for by hand, since it takes a while. */
export const SPREAD = new LongJob('spread', lean);
export const MATCH = new LongJob('match', lean);
export const SNAP = new LongJob('snap', lean);
export const NULLS = new LongJob('nulls', lean);
export const YIELD = new LongJob('yield', lean);
export const BANK_PARTS = new LongJob('bank-parts');
export const FIT = new LongJob('optimise');
export const HUMP = new LongJob('notch-outlook');

const ALL = [SPREAD, MATCH, SNAP, NULLS, YIELD, BANK_PARTS, FIT, HUMP];
/** Stops everything that runs: the desk is left. */
export const cancelAll = (): void => ALL.forEach((job) => job.cancel());

const COARSE_POINTS = 201;
/** Whether a limit is met is asked of hundreds of builds. */
const YIELD_POINTS = 101;

/** A grid for what is looked at from afar, or worked out very often. */
export function coarseGrid(points = COARSE_POINTS): Grid {
  const { design } = documentStore.getState();
  if (!design) throw new Error('no design is open');
  return gridFor(design, points);
}

/** Draws so many builds of the design as it stands. */
export const drawParts = (seed: number, runs: number) => SPREAD.run({ seed, runs, grid: coarseGrid() });

/** How deep the nulls will be, and how many builds of every grade meet the brief. */
export function workOutlook(seed: number, runs: number): void {
  const draws = { runs, seed };
  void NULLS.run(draws);
  void YIELD.run({ ...draws, grid: coarseGrid(YIELD_POINTS) });
}
export function cancelOutlook(): void {
  NULLS.cancel();
  YIELD.cancel();
}
