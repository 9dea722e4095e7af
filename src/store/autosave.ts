import { create } from 'zustand';
import type { Design } from '@/core/design/schema';
import { documentStore, openDesign } from './document';
import { loadRow, saveDesign } from './saving';

interface SaveState {
  readonly state: 'saved' | 'pending' | 'failed';
  readonly at: Date | null;
  /** Something the maker should know about saving. */
  readonly message: string | null;
}

export const saveStore = create<SaveState>()(() => ({ state: 'saved', at: null, message: null }));
export const dismissSaveMessage = (): void => saveStore.setState({ message: null });

const DEBOUNCE_MS = 400;
const CHANNEL = 'jaunty-reed-designs';

/**
 * Keeps the shelf up with the open document: saves a moment after the last change and at once when the page hides;
 * tells other tabs, and follows them when idle. Returns the way to stop, which saves what is pending.
 */
export function startAutosave(opened: Design, openedRevision: number): () => Promise<void> {
  let revision = openedRevision;
  let savedDesign: Design = opened;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let chain: Promise<void> = Promise.resolve();
  const channel = new BroadcastChannel(CHANNEL);
  saveStore.setState({ state: 'saved', at: null, message: null });

  const saveNow = (): Promise<void> => {
    clearTimeout(timer);
    chain = chain.then(async () => {
      const { design } = documentStore.getState();
      if (!design || design.id !== opened.id || design === savedDesign) return;
      try {
        const outcome = await saveDesign(design, revision);
        revision = outcome.revision;
        if (outcome.kind === 'kept-as-variant') {
          openDesign(outcome.design);
          savedDesign = outcome.design;
          saveStore.setState({
            message: `This design was changed in another tab. Nothing is lost: the other tab's state is open, and yours is kept as variant ${outcome.variantName}.`,
          });
        } else savedDesign = design;
        const still = documentStore.getState().design === savedDesign;
        saveStore.setState({ state: still ? 'saved' : 'pending', at: new Date() });
        channel.postMessage({ id: opened.id, revision });
      } catch (error) {
        saveStore.setState({
          state: 'failed',
          message: `Saving failed: ${error instanceof Error ? error.message : String(error)}. The design is still open here; export it to keep it safe.`,
        });
      }
    });
    return chain;
  };
  const stopWatching = documentStore.subscribe(({ design }) => {
    if (!design || design === savedDesign) return;
    saveStore.setState({ state: 'pending' });
    clearTimeout(timer);
    timer = setTimeout(() => void saveNow(), DEBOUNCE_MS);
  });
  channel.onmessage = ({ data }: MessageEvent<{ id: string; revision: number }>) => {
    if (data.id !== opened.id || data.revision <= revision || documentStore.getState().design !== savedDesign) return;
    void loadRow(opened.id).then((row) => {
      if (!row || documentStore.getState().design !== savedDesign) return;
      revision = row.revision;
      savedDesign = row.design;
      openDesign(row.design);
    });
  };
  const onHide = () => {
    if (document.visibilityState === 'hidden') void saveNow();
  };
  document.addEventListener('visibilitychange', onHide);
  window.addEventListener('pagehide', saveNow);
  return async () => {
    await saveNow();
    stopWatching();
    channel.close();
    document.removeEventListener('visibilitychange', onHide);
    window.removeEventListener('pagehide', saveNow);
  };
}
