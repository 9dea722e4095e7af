import type { Asked } from './question';
import { documentStore } from '../document';
import { gridFor } from './axis';
import { HUMP } from './by-hand';

/** Asks for both notches of a hump, over what the curves show. */
export function askForNotch(asked: Omit<Asked<'notch-outlook'>, 'grid'>): ReturnType<typeof HUMP.run> | undefined {
  const { design } = documentStore.getState();
  return design ? HUMP.run({ ...asked, grid: gridFor(design) }) : undefined;
}
