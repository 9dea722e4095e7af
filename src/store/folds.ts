import { create } from 'zustand';
import { keptBetweenVisits } from './shelf/visits';

type Folds = Readonly<Record<string, boolean>>;

const kept = keptBetweenVisits<Folds>('jaunty-reed-folds', (written) =>
  typeof written === 'object' && written !== null && Object.values(written).every((v) => typeof v === 'boolean')
    ? (written as Folds)
    : null,
);

/** Which panels stand open, of those that were ever opened or folded, by their names. */
export const foldStore = create<{ readonly open: Folds }>()(() => ({ open: {} }));

/** Takes up what was left open at the last visit. */
export const restoreFolds = (): void => {
  if (Object.keys(foldStore.getState().open).length === 0) foldStore.setState({ open: kept.read() ?? {} });
};

export function setOpen(name: string, open: boolean): void {
  const next = { ...foldStore.getState().open, [name]: open };
  foldStore.setState({ open: next });
  kept.write(next);
}
