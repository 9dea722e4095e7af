import { create } from 'zustand';

/** The guided first design: on which design it goes along, and how far it has come. */
interface Guide {
  readonly designId: string | null;
  readonly step: number;
}

const KEY = 'jaunty-reed-guide';
const NONE: Guide = { designId: null, step: 0 };

function kept(): Guide {
  try {
    const { designId, step } = JSON.parse(localStorage.getItem(KEY) ?? 'null') as Guide;
    return typeof designId === 'string' && Number.isInteger(step) && step >= 0 ? { designId, step } : NONE;
  } catch {
    return NONE;
  }
}

export const guideStore = create<Guide>()(() => NONE);

function set(guide: Guide): void {
  guideStore.setState(guide);
  try {
    if (guide.designId === null) localStorage.removeItem(KEY);
    else localStorage.setItem(KEY, JSON.stringify(guide));
  } catch {
    // Storage may be barred; the guide then goes along as long as the page.
  }
}

/** Takes it up where it stood at the last visit. */
export const restoreGuide = (): void => {
  if (guideStore.getState().designId === null) guideStore.setState(kept());
};
export const startGuide = (designId: string): void => set({ designId, step: 0 });
export const toStep = (step: number): void => set({ ...guideStore.getState(), step });
export const endGuide = (): void => set(NONE);
