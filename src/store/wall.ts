import { create } from 'zustand';
import { TASKS, viewStore, type Task } from './view';
import { keptBetweenVisits } from './shelf/visits';

/** Widths of the task's side that were chosen, px, by the task. */
type Widths = Readonly<Partial<Record<Task, number>>>;

/** Where the wall between curves and task stands on the desk. */
interface Wall {
  /** A task without one has its natural share. */
  readonly taskPx: Widths;
  /** The task has the whole desk. */
  readonly whole: boolean;
}

/** px: neither side is made narrower than can be read. */
export const LEAST_PX = 320;
const LEAST_CURVES_PX = 380;

const isWidth = (px: unknown): px is number => typeof px === 'number' && px >= LEAST_PX;
const kept = keptBetweenVisits('jaunty-reed-wall', (written): Widths | null =>
  typeof written === 'object' && written !== null
    ? Object.fromEntries(TASKS.map((t) => [t, (written as Widths)[t]]).filter(([, px]) => isWidth(px)))
    : null,
);

export const wallStore = create<Wall>()(() => ({ taskPx: {}, whole: false }));

/** Puts the wall where it stood at the last visit. */
export const restoreWall = (): void => wallStore.setState({ taskPx: kept.read() ?? {} });

/** px: how wide the task may be in the window as it is. */
export const widestPx = (): number => Math.max(LEAST_PX, window.innerWidth - LEAST_CURVES_PX);

/** Moves the wall of the task in front; null gives its natural share back. Kept for the next visit. */
export function moveWall(px: number | null): void {
  const { task } = viewStore.getState();
  const { [task]: _, ...others } = wallStore.getState().taskPx;
  const width = px === null ? {} : { [task]: Math.round(Math.min(widestPx(), Math.max(LEAST_PX, px))) };
  const taskPx = { ...others, ...width };
  wallStore.setState({ taskPx, whole: false });
  kept.write(Object.keys(taskPx).length > 0 ? taskPx : null);
}

/** Gives the task the whole desk, or the curves their side back. */
export const toggleWhole = (): void => wallStore.setState(({ whole }) => ({ whole: !whole }));
