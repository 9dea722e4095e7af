import { reasonOf } from '@/core/result';
import { create } from 'zustand';
import type { Design } from '@/core/design/document/schema';
import { documentStore, openDesign } from '../document';
import { keepHistory } from './history';
import { keepCopy, readRow, saveDesign, type SaveOutcome } from './save-design';
import { loadRow, putBack, shelfChannel, type ShelfNews } from './shelf-rows';

interface SaveState {
  /** `removed`: another tab took it off the shelf; nothing is written until that is decided. */
  readonly state: 'saved' | 'pending' | 'failed' | 'removed';
  readonly at: Date | null;
  /** Something the maker should know about saving. */
  readonly message: string | null;
}

const SAVED: SaveState = { state: 'saved', at: null, message: null };
export const saveStore = create<SaveState>()(() => SAVED);
export const dismissSaveMessage = (): void => saveStore.setState({ message: null });

const DEBOUNCE_MS = 400;
/** After a save that failed it is tried again, each time after twice the pause. */
const FIRST_RETRY_MS = 1000;
const LAST_RETRY_MS = 60_000;

const wordsOf = (outcome: SaveOutcome): string | null =>
  outcome.kind === 'merged'
    ? 'Another tab changed this design too. What it changed and what you changed are both here.'
    : outcome.kind === 'kept-beside'
      ? `Another tab changed the same thing. Its design is open here; yours lies whole on the shelf as ` +
        `“${outcome.copyTitle}”.`
      : null;

let restoring: (() => Promise<void>) | null = null;
/** Puts the open design, which another tab has removed, back on the shelf. */
export const putOpenBack = async (): Promise<void> => restoring?.();

/**
 * Keeps the shelf up with the open document: saves a moment after the last change and at once when the page hides,
 * tries again what failed; tells other tabs, merges what they changed, and follows them when idle. Returns the way to
 * stop, which saves what is pending.
 */
export function startAutosave(opened: Design, openedRevision: number): () => Promise<void> {
  let revision = openedRevision;
  let savedDesign: Design = opened;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let retryMs = FIRST_RETRY_MS;
  let chain: Promise<void> = Promise.resolve();
  let removed = false;
  const channel = shelfChannel();
  saveStore.setState(SAVED);

  const wasRemoved = () => {
    removed = true;
    clearTimeout(timer);
    saveStore.setState({ state: 'removed', message: null });
  };
  const taken = (design: Design) => {
    savedDesign = design;
    openDesign(design);
  };
  const write = async (): Promise<void> => {
    const { design } = documentStore.getState();
    if (removed || !design || design.id !== opened.id || design === savedDesign) return;
    try {
      const outcome = await saveDesign(design, savedDesign, revision);
      retryMs = FIRST_RETRY_MS;
      if (outcome.kind === 'removed') return wasRemoved();
      const { state, message } = saveStore.getState();
      const now = documentStore.getState().design;
      // What was typed while the two were merged is merged in its turn: until then this side knows the older revision.
      if (outcome.kind === 'merged' && now !== design) return void (await write());
      revision = outcome.revision;
      if (outcome.kind === 'saved') savedDesign = design;
      else {
        if (outcome.kind === 'kept-beside' && now && now !== design) await keepCopy(now, outcome);
        taken(outcome.design);
      }
      const still = documentStore.getState().design === savedDesign;
      const words = wordsOf(outcome) ?? (state === 'failed' ? null : message);
      saveStore.setState({ state: still ? 'saved' : 'pending', at: new Date(), message: words });
      channel.postMessage({ id: opened.id, revision } satisfies ShelfNews);
      await keepHistory(revision).catch(() => {});
    } catch (error) {
      saveStore.setState({
        state: 'failed',
        message:
          `Saving failed: ${reasonOf(error)} It is tried again in ` +
          `${retryMs / 1000} s. Until then the design is only in this tab: export it to have it safe.`,
      });
      timer = setTimeout(() => void saveNow(), retryMs);
      retryMs = Math.min(LAST_RETRY_MS, 2 * retryMs);
    }
  };
  const saveNow = (): Promise<void> => {
    clearTimeout(timer);
    chain = chain.then(write);
    return chain;
  };
  const stopWatching = documentStore.subscribe(({ design }) => {
    if (!design || design === savedDesign || removed) return;
    if (saveStore.getState().state !== 'failed') saveStore.setState({ state: 'pending' });
    clearTimeout(timer);
    timer = setTimeout(() => void saveNow(), DEBOUNCE_MS);
  });
  channel.onmessage = ({ data }: MessageEvent<ShelfNews>) => {
    if (data.id !== opened.id) return;
    if (data.revision === null) return wasRemoved();
    if (data.revision <= revision || documentStore.getState().design !== savedDesign) return;
    void loadRow(opened.id).then((row) => {
      const read = row && readRow(row);
      if (!row || !read?.ok || documentStore.getState().design !== savedDesign) return;
      revision = row.revision;
      taken(read.value);
    });
  };
  restoring = async () => {
    const { design } = documentStore.getState();
    if (!design || design.id !== opened.id) return;
    revision = await putBack(design);
    savedDesign = design;
    removed = false;
    saveStore.setState({ state: 'saved', at: new Date(), message: null });
  };
  const onHide = () => {
    if (document.visibilityState === 'hidden') void saveNow();
  };
  const onLeave = (event: BeforeUnloadEvent) => {
    if (saveStore.getState().state === 'failed') event.preventDefault();
  };
  document.addEventListener('visibilitychange', onHide);
  window.addEventListener('pagehide', saveNow);
  window.addEventListener('beforeunload', onLeave);
  return async () => {
    await saveNow();
    clearTimeout(timer);
    restoring = null;
    stopWatching();
    channel.close();
    document.removeEventListener('visibilitychange', onHide);
    window.removeEventListener('pagehide', saveNow);
    window.removeEventListener('beforeunload', onLeave);
  };
}
