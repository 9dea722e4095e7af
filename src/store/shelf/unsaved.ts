import { saveDesign } from './save-design';
import { putBack, tellShelf } from './shelf-rows';
import { putUnsaved, takeUnsaved, unsavedOf, unsavedStore, type Unsaved } from './unsaved-store';

const RETRY_MS = 5000;
const stay = (event: Event): void => event.preventDefault();

/** While anything is left it is tried again, and leaving the page asks. */
let stopTrying: (() => void) | null = null;
function keepTrying(): void {
  const timer = setInterval(() => void storeLeft(), RETRY_MS);
  window.addEventListener('beforeunload', stay);
  const stopWatching = unsavedStore.subscribe(({ left }) => {
    if (left.size === 0) stopTrying?.();
  });
  stopTrying = () => {
    clearInterval(timer);
    window.removeEventListener('beforeunload', stay);
    stopWatching();
    stopTrying = null;
  };
}

/** Keeps a design in this tab until it is stored, opened again or deleted: it is tried every few seconds. */
export function keepUnsaved(unsaved: Unsaved): void {
  putUnsaved(unsaved);
  if (!stopTrying) keepTrying();
}

/** Tries to store what is left; what is stored is so no longer only here. */
export async function storeLeft(): Promise<void> {
  for (const [id, unsaved] of unsavedStore.getState().left) {
    try {
      const outcome = await saveDesign(unsaved.design, unsaved.base, unsaved.revision);
      // Deleted, or opened again, while it was tried.
      if (outcome.kind === 'removed' && unsavedOf(id) !== unsaved) continue;
      // Removed by another tab meanwhile: its edits are worth more than that it is gone.
      const revision = outcome.kind === 'removed' ? await putBack(unsaved.design) : outcome.revision;
      if (unsavedOf(id) === unsaved) takeUnsaved(id);
      tellShelf({ id, revision });
    } catch {
      // There is no room yet.
    }
  }
}
