/*
 * Keeps the application in the browser, so that it starts with no network. Written out by scripts/offline.mjs with the
 * version of the build and its files. Files never change under their names and come from the store first; pages come
 * from the network first, so that a new version is never hidden, and from the store when there is none.
 */
const VERSION = '@version@';
const FILES = ['@files@'];
const PAGES = ['/', '/new', '/drivers', '/stock', '/shared'];
const STORE = `jaunty-reed-${VERSION}`;
const isOwn = (name) => name.startsWith('jaunty-reed-');

self.addEventListener('install', (event) => {
  event.waitUntil(caches.open(STORE).then((store) => store.addAll([...FILES, ...PAGES])));
});

self.addEventListener('activate', (event) => {
  event.waitUntil(
    caches
      .keys()
      .then((names) => Promise.all(names.filter((n) => isOwn(n) && n !== STORE).map((n) => caches.delete(n))))
      .then(() => self.clients.claim()),
  );
});

// The page has asked its reader, and the new version takes over.
self.addEventListener('message', (event) => {
  if (event.data === 'take-over') void self.skipWaiting();
});

/** A kept answer without its address: a worker script's parameters stand in the hash of the address it was asked by. */
const anew = (kept) => new Response(kept.body, { status: kept.status, headers: kept.headers });

async function fromStore(request) {
  const kept = await caches.match(request, { ignoreSearch: true });
  return kept ? anew(kept) : fetch(request);
}

async function pageOf(request, path) {
  try {
    const answer = await fetch(request);
    if (answer.ok) {
      const copy = answer.clone();
      await caches.open(STORE).then((store) => store.put(path, copy));
    }
    return answer;
  } catch (error) {
    const kept = (await caches.match(path)) ?? (await caches.match('/'));
    if (kept) return anew(kept);
    throw error;
  }
}

self.addEventListener('fetch', (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== 'GET' || url.origin !== self.location.origin) return;
  if (url.pathname.startsWith('/_next/static/') || FILES.includes(url.pathname))
    return event.respondWith(fromStore(request));
  if (request.mode === 'navigate') return event.respondWith(pageOf(request, url.pathname));
  // A page that is gone to from another is kept too, for when it is opened by itself.
  if (url.searchParams.has('_rsc') && !url.pathname.startsWith('/_next/'))
    event.waitUntil(
      fetch(url.pathname)
        .then((page) => (page.ok ? caches.open(STORE).then((store) => store.put(url.pathname, page)) : undefined))
        .catch(() => undefined),
    );
});
