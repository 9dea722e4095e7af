import { create } from 'zustand';
import { keptBetweenVisits } from './visits';

/** Where the wall between curves and task stands on the desk. */
interface Wall {
  /** Width of the task's side, px; null where it has its natural share. */
  readonly taskPx: number | null;
  /** The task has the whole desk. */
  readonly whole: boolean;
}

/** px: neither side is made narrower than can be read. */
export const LEAST_PX = 320;
const LEAST_CURVES_PX = 380;

const kept = keptBetweenVisits('jaunty-reed-wall', (px) => (typeof px === 'number' && px >= LEAST_PX ? px : null));

export const wallStore = create<Wall>()(() => ({ taskPx: null, whole: false }));

/** Puts the wall where it stood at the last visit. */
export const restoreWall = (): void => wallStore.setState({ taskPx: kept.read() });

/** px: how wide the task may be in the window as it is. */
export const widestPx = (): number => Math.max(LEAST_PX, window.innerWidth - LEAST_CURVES_PX);

/** Moves the wall; null gives the natural share back. Kept for the next visit. */
export function moveWall(taskPx: number | null): void {
  const px = taskPx === null ? null : Math.round(Math.min(widestPx(), Math.max(LEAST_PX, taskPx)));
  wallStore.setState({ taskPx: px, whole: false });
  kept.write(px);
}

/** Gives the task the whole desk, or the curves their side back. */
export const toggleWhole = (): void => wallStore.setState(({ whole }) => ({ whole: !whole }));
