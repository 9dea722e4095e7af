import { saveDesign } from './save-design';
import { putBack, tellShelf } from './shelf-rows';
import { unsavedStore, type Unsaved } from './unsaved-store';

const RETRY_MS = 5000;
let timer: ReturnType<typeof setInterval> | undefined;

function change(alter: (left: Map<string, Unsaved>) => void): void {
  const left = new Map(unsavedStore.getState().left);
  alter(left);
  unsavedStore.setState({ left });
  if (left.size === 0) {
    clearInterval(timer);
    timer = undefined;
    window.removeEventListener('beforeunload', stay);
  } else if (timer === undefined) {
    timer = setInterval(() => void storeLeft(), RETRY_MS);
    window.addEventListener('beforeunload', stay);
  }
}
const stay = (event: Event): void => event.preventDefault();

/** Keeps a design in this tab until it is stored, or opened again: it is tried every few seconds. */
export const keepUnsaved = (unsaved: Unsaved): void => change((left) => left.set(unsaved.design.id, unsaved));

/** Gives a design up to whoever opens it. */
export function takeUnsaved(id: string): Unsaved | null {
  const found = unsavedStore.getState().left.get(id) ?? null;
  if (found) change((left) => left.delete(id));
  return found;
}

/** Tries to store what is left; what is stored is so no longer only here. */
export async function storeLeft(): Promise<void> {
  for (const [id, unsaved] of unsavedStore.getState().left) {
    try {
      const outcome = await saveDesign(unsaved.design, unsaved.base, unsaved.revision);
      // Removed meanwhile: its edits are worth more than that it is gone.
      const revision = outcome.kind === 'removed' ? await putBack(unsaved.design) : outcome.revision;
      if (unsavedStore.getState().left.get(id) === unsaved) change((left) => left.delete(id));
      tellShelf({ id, revision });
    } catch {
      // There is no room yet.
    }
  }
}
