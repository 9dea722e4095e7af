/** ms: by then the page is there, whether or not the browser has had a quiet moment. */
const LATEST_MS = 4000;

/** Fetches what will be wanted soon, once the page has nothing better to do. */
export function whenIdle(fetch: () => Promise<unknown>): void {
  if (typeof window === 'undefined') return;
  // Without a network it is asked for again when it is wanted.
  const quietly = () => void fetch().catch(() => {});
  if ('requestIdleCallback' in window) window.requestIdleCallback(quietly, { timeout: LATEST_MS });
  else setTimeout(quietly, LATEST_MS);
}
