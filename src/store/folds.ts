import { create } from 'zustand';
import { keptBetweenVisits } from './shelf/visits';

type Folds = Readonly<Record<string, boolean>>;

const kept = keptBetweenVisits<Folds>('jaunty-reed-folds', (written) =>
  typeof written === 'object' && written !== null && Object.values(written).every((v) => typeof v === 'boolean')
    ? (written as Folds)
    : null,
);

interface FoldState {
  /** Which panels stand open, of those that were ever opened or folded, by their names. */
  readonly open: Folds;
  /** The panel that was asked for by name and is not in sight yet, and until when it is waited for, ms. */
  readonly sought: { readonly name: string; readonly untilMs: number } | null;
}
export const foldStore = create<FoldState>()(() => ({ open: {}, sought: null }));

/** Takes up what was left open at the last visit. */
export const restoreFolds = (): void => {
  if (Object.keys(foldStore.getState().open).length === 0) foldStore.setState({ open: kept.read() ?? {} });
};

export function setOpen(name: string, open: boolean): void {
  const next = { ...foldStore.getState().open, [name]: open };
  foldStore.setState({ open: next });
  kept.write(next);
}

/** What a panel that is asked for may take to load and to be worked out, ms. */
const WAITED_MS = 8000;

/** Opens a panel and brings it into sight, as soon as it is there. */
export function showPanel(name: string): void {
  setOpen(name, true);
  foldStore.setState({ sought: { name, untilMs: Date.now() + WAITED_MS } });
}

/** Whether a panel is to be brought into sight; asked once, and only in time. */
export function takeSought(name: string): boolean {
  const { sought } = foldStore.getState();
  if (sought?.name !== name) return false;
  foldStore.setState({ sought: null });
  return Date.now() <= sought.untilMs;
}
