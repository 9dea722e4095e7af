import { viewStore } from './view';

/** While something is dragged, all but what the hand itself moves is renewed this often at most, ms. */
export const READ_MS = 120;
/** ... and no more often than leaves this many times what a renewal costs for the curves. */
const SHARE = 4;

const followers = new Set<() => void>();
let timer: ReturnType<typeof setTimeout> | undefined;
let nextAt = -Infinity;
let unfollow: (() => void) | null = null;

/** Everything that is read is brought up to date together: one render for all of it. */
function renew(): void {
  clearTimeout(timer);
  timer = undefined;
  const began = performance.now();
  nextAt = began + READ_MS;
  for (const catchUp of followers) catchUp();
  // What was told is rendered before the next task begins.
  setTimeout(() => {
    const ended = performance.now();
    nextAt = Math.max(nextAt, ended + SHARE * (ended - began));
  });
}

/** Says that there is something newer to be read: taken at once, or during a drag when its turn has come. */
export function newsToRead(): void {
  if (!viewStore.getState().dragging) return renew();
  const wait = nextAt - performance.now();
  if (wait <= 0) renew();
  else timer ??= setTimeout(renew, wait);
}

/** @param catchUp called when what is read is to be brought up to date. Returns how to stop. */
export function followReading(catchUp: () => void): () => void {
  followers.add(catchUp);
  unfollow ??= viewStore.subscribe((now, before) => {
    if (before.dragging && !now.dragging) renew();
  });
  return () => {
    followers.delete(catchUp);
    if (followers.size > 0) return;
    clearTimeout(timer);
    timer = undefined;
    unfollow?.();
    unfollow = null;
  };
}
