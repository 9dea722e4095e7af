import { create } from 'zustand';
import { keptBetweenVisits } from './shelf/visits';

/** The guided first design: on which design it goes along, and how far it has come. */
interface Guide {
  readonly designId: string | null;
  readonly step: number;
}

const NONE: Guide = { designId: null, step: 0 };

const kept = keptBetweenVisits('jaunty-reed-guide', (written): Guide | null => {
  const { designId, step } = written as Guide;
  return typeof designId === 'string' && Number.isInteger(step) && step >= 0 ? { designId, step } : null;
});

export const guideStore = create<Guide>()(() => NONE);

function set(guide: Guide): void {
  guideStore.setState(guide);
  kept.write(guide.designId === null ? null : guide);
}

/** Takes it up where it stood at the last visit. */
export const restoreGuide = (): void => {
  if (guideStore.getState().designId === null) guideStore.setState(kept.read() ?? NONE);
};
export const startGuide = (designId: string): void => set({ designId, step: 0 });
export const toStep = (step: number): void => set({ ...guideStore.getState(), step });
export const endGuide = (): void => set(NONE);
