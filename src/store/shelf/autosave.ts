import { create } from 'zustand';
import type { Design } from '@/core/design/document/schema';
import { adoptDesign, documentStore } from '../document';
import { database, storageStore } from './database';
import { keepHistory } from './history';
import { keepCopy, readRow, saveDesign, type Copy, type SaveOutcome } from './save-design';
import { isFull, storageReason } from './storage-reason';
import { keepUnsaved } from './unsaved';
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
/** So long a copy that is kept beside is written over by the next. */
const COPY_MS = 60_000;
/** After a save that failed it is tried again, each time after twice the pause. */
const FIRST_RETRY_MS = 1000;
const LAST_RETRY_MS = 60_000;

const wordsOf = (outcome: SaveOutcome): string | null =>
  outcome.kind === 'merged'
    ? 'Another tab changed this design too. What it changed and what you changed are both here.'
    : outcome.kind === 'kept-beside'
      ? `Another tab changed the same thing. Its design is open here; yours lies whole on the shelf as ` +
        `“${outcome.copy.title}”.`
      : null;

let running: Autosave | null = null;
/** Puts the open design, which another tab has removed, back on the shelf. */
export const putOpenBack = async (): Promise<void> => running?.putBack();

/**
 * Keeps the shelf up with the open document: saves a moment after the last change and at once when the page hides,
 * tries again what failed, and keeps it in this tab where the design is left before; tells other tabs, merges what they
 * changed, and follows them when idle. Returns the way to stop, which saves what is pending.
 */
export function startAutosave(opened: Design, revision: number): () => Promise<void> {
  const autosave = new Autosave(opened, revision);
  running = autosave;
  autosave.begin();
  const onHide = () => {
    if (document.visibilityState === 'hidden') void autosave.saveNow();
  };
  const onLeave = (event: BeforeUnloadEvent) => {
    if (saveStore.getState().state === 'failed') event.preventDefault();
  };
  const onPageHide = () => void autosave.saveNow();
  document.addEventListener('visibilitychange', onHide);
  window.addEventListener('pagehide', onPageHide);
  window.addEventListener('beforeunload', onLeave);
  return async () => {
    await autosave.stop();
    if (running === autosave) running = null;
    document.removeEventListener('visibilitychange', onHide);
    window.removeEventListener('pagehide', onPageHide);
    window.removeEventListener('beforeunload', onLeave);
  };
}

const openNow = (): Design | null => documentStore.getState().design;

class Autosave {
  private readonly id: string;
  private readonly channel = shelfChannel();
  private stopWatching: () => void = () => {};
  private timer: ReturnType<typeof setTimeout> | undefined;
  private retryMs = FIRST_RETRY_MS;
  private chain: Promise<void> = Promise.resolve();
  private removed = false;
  /** The newest revision that another tab has told of. */
  private heard = 0;
  /** Whether the last try to write failed. */
  private failed = false;
  /** The design as it was when it was left; null: it is open. */
  private left: Design | null = null;
  /** The copy that was kept beside last, and when the first edit went into it. */
  private copy: { readonly kept: Copy; readonly since: number } | null = null;

  constructor(
    /** As it lies on the shelf, at this revision. */
    private saved: Design,
    private revision: number,
  ) {
    this.id = saved.id;
  }

  begin(): void {
    this.say(SAVED);
    this.stopWatching = documentStore.subscribe(() => this.onChange());
    this.onChange();
    this.channel.onmessage = ({ data }: MessageEvent<ShelfNews>) => this.onNews(data);
  }

  saveNow(): Promise<void> {
    clearTimeout(this.timer);
    this.chain = this.chain.then(() => this.write());
    return this.chain;
  }

  async stop(): Promise<void> {
    // Another design may be open before this one is written.
    this.left = this.now();
    this.stopWatching();
    this.channel.onmessage = null;
    await this.saveNow();
    clearTimeout(this.timer);
    // What could not be stored stays in this tab until it is.
    if (this.failed && this.left && this.left !== this.saved)
      keepUnsaved({ design: this.left, base: this.saved, revision: this.revision });
    this.channel.close();
  }

  async putBack(): Promise<void> {
    const design = this.now();
    if (!design) return;
    this.revision = await putBack(design);
    // What was deleted under it is there again.
    storageStore.setState({ deleted: false });
    this.saved = design;
    this.removed = false;
    this.say({ state: 'saved', at: new Date(), message: null });
  }

  /** The design as it stands, or as it was left. */
  private now(): Design | null {
    const design = this.left ?? openNow();
    return design?.id === this.id ? design : null;
  }

  /** What is said of saving is said of the design that is open. */
  private say(patch: Partial<SaveState>): void {
    if (running === this) saveStore.setState(patch);
  }

  private onChange(): void {
    const design = this.now();
    if (!design || design === this.saved || this.removed) return;
    if (!this.failed) this.say({ state: 'pending' });
    this.saveIn(DEBOUNCE_MS);
  }

  private saveIn(ms: number): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.saveNow(), ms);
  }

  /** What another tab says of the shelf: this one follows where it has nothing of its own to save. */
  private onNews({ id, revision }: ShelfNews): void {
    if (id !== this.id) return;
    if (revision === null) return this.wasRemoved();
    this.heard = Math.max(this.heard, revision);
    this.catchUp();
  }

  /**
   * Takes what another tab has written since, where this one has nothing of its own to save. What comes while this one
   * writes is heard then and taken after.
   */
  private catchUp(): void {
    if (this.heard <= this.revision || this.now() !== this.saved) return;
    void loadRow(this.id).then((row) => {
      const read = row && readRow(row);
      if (!row || !read?.ok || row.revision <= this.revision || this.now() !== this.saved) return;
      this.revision = row.revision;
      this.take(read.value);
    });
  }

  private wasRemoved(): void {
    this.removed = true;
    clearTimeout(this.timer);
    this.say({ state: 'removed', message: null });
  }

  private take(design: Design): void {
    this.saved = design;
    if (this.left) this.left = design;
    else adoptDesign(design);
  }

  private async write(): Promise<void> {
    const design = this.now();
    if (this.removed || !design) return;
    if (design === this.saved) return this.catchUp();
    try {
      const outcome = await saveDesign(design, this.saved, this.revision, new Date(), this.lastCopy());
      this.retryMs = FIRST_RETRY_MS;
      this.failed = false;
      if (outcome.kind === 'removed') return this.wasRemoved();
      // What was typed while the two were merged is merged in its turn: until then this side knows the older revision.
      if (outcome.kind === 'merged' && this.now() !== design) return void (await this.write());
      await this.written(design, outcome);
    } catch (error) {
      this.failed = true;
      // What is only kept to be quick makes room for what is not kept anywhere else.
      if (isFull(error)) void database.answers.clear().catch(() => {});
      this.say({
        state: 'failed',
        message:
          `Saving failed: ${storageReason(error)} It is tried again in ` +
          `${this.retryMs / 1000} s. Until then the design is only in this tab: export it to have it safe.`,
      });
      this.saveIn(this.retryMs);
      this.retryMs = Math.min(LAST_RETRY_MS, 2 * this.retryMs);
    }
  }

  /** Two tabs on one field leave a copy a minute: what this side had last is in it. */
  private lastCopy(): Copy | null {
    return this.copy && Date.now() - this.copy.since < COPY_MS ? this.copy.kept : null;
  }

  /** What was typed while it was kept goes into the copy too, until there is nothing more. */
  private async keepBeside(design: Design, first: Copy): Promise<void> {
    const since = this.lastCopy()?.id === first.id ? (this.copy?.since ?? Date.now()) : Date.now();
    let [kept, copy] = [design, first];
    for (let now = this.now(); now && now !== kept; now = this.now()) {
      kept = now;
      copy = await keepCopy(kept, copy);
    }
    this.copy = { kept: copy, since };
  }

  /** Goes on from what now lies on the shelf; tells other tabs, and says so here once its history lies there too. */
  private async written(design: Design, outcome: Exclude<SaveOutcome, { kind: 'removed' }>): Promise<void> {
    this.revision = outcome.revision;
    if (outcome.kind === 'saved') this.saved = design;
    else {
      if (outcome.kind === 'kept-beside') await this.keepBeside(design, outcome.copy);
      this.take(outcome.design);
    }
    this.channel.postMessage({ id: this.id, revision: this.revision } satisfies ShelfNews);
    // Its steps are told by what they have otherwise than what lies there: those of nothing else.
    if (openNow() === this.saved) await keepHistory(this.revision).catch(() => {});
    const { state, message } = saveStore.getState();
    this.say({
      state: this.now() === this.saved ? 'saved' : 'pending',
      at: new Date(),
      message: wordsOf(outcome) ?? (state === 'failed' ? null : message),
    });
    this.catchUp();
  }
}
