import { create } from 'zustand';

/** Where the wall between curves and task stands on the desk. */
interface Wall {
  /** Width of the task's side, px; null where it has its natural share. */
  readonly taskPx: number | null;
  /** The task has the whole desk. */
  readonly whole: boolean;
}

const KEY = 'jaunty-reed-wall';
/** px: neither side is made narrower than can be read. */
export const LEAST_PX = 320;
const LEAST_CURVES_PX = 380;

function kept(): number | null {
  try {
    const px = Number(localStorage.getItem(KEY));
    return px >= LEAST_PX ? px : null;
  } catch {
    return null;
  }
}

export const wallStore = create<Wall>()(() => ({ taskPx: null, whole: false }));

/** Puts the wall where it stood at the last visit. */
export const restoreWall = (): void => wallStore.setState({ taskPx: kept() });

/** px: how wide the task may be in the window as it is. */
export const widestPx = (): number => Math.max(LEAST_PX, window.innerWidth - LEAST_CURVES_PX);

/** Moves the wall; null gives the natural share back. Kept for the next visit. */
export function moveWall(taskPx: number | null): void {
  const px = taskPx === null ? null : Math.round(Math.min(widestPx(), Math.max(LEAST_PX, taskPx)));
  wallStore.setState({ taskPx: px, whole: false });
  try {
    if (px === null) localStorage.removeItem(KEY);
    else localStorage.setItem(KEY, String(px));
  } catch {
    // Storage may be barred; the wall then stands as long as the page.
  }
}

/** Gives the task the whole desk, or the curves their side back. */
export const toggleWhole = (): void => wallStore.setState(({ whole }) => ({ whole: !whole }));
