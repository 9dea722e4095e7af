/*
 * Keeps the application in the browser, so that it starts with no network. Written out by scripts/offline.mjs with the
 * version of the build and its files. One store a build: it is filled whole before its worker takes over, and never
 * changed. Pages come from the store of the worker in charge, so that no page meets scripts of another build; a newer
 * build is announced by the page, and takes over when its reader says so or when no page is open any more.
 */
const VERSION = '@version@';
const FILES = ['@files@'];
const PAGES = ['/', '/new', '/drivers', '/stock', '/shared'];
/** The page of every design: which one it shows is in the address alone. */
const DESK = '/desk/any';
/** Where the server has no page, and the application none either. */
const NOT_FOUND = '/no-such-page';
const PREFIX = 'jaunty-reed-';
const STORE = `${PREFIX}${VERSION}`;

async function keepPage(store, path) {
  const page = await fetch(path, { cache: 'no-store' });
  const text = await page.clone().text();
  if (!text.includes(VERSION)) throw new Error(`${path} is of another build than ${VERSION}`);
  await store.put(path, page);
}

self.addEventListener('install', (event) => {
  const keep = async () => {
    const stood = await caches.has(STORE);
    try {
      const store = await caches.open(STORE);
      await store.addAll(FILES);
      for (const path of [...PAGES, DESK, NOT_FOUND]) await keepPage(store, path);
    } catch (error) {
      // Half a build is no build. One that stood before is that of the worker in charge.
      if (!stood) await caches.delete(STORE);
      throw error;
    }
  };
  event.waitUntil(keep());
});

/** The store before this one stays: pages of that build that are still open go on with their scripts. */
async function dropOldStores() {
  const own = (await caches.keys()).filter((name) => name.startsWith(PREFIX) && name !== STORE);
  await Promise.all(own.slice(0, -1).map((name) => caches.delete(name)));
}

self.addEventListener('activate', (event) => {
  event.waitUntil(dropOldStores().then(() => self.clients.claim()));
});

// The page has asked its reader, and the new version takes over.
self.addEventListener('message', (event) => {
  if (event.data === 'take-over') void self.skipWaiting();
});

/** A kept answer without its address: a worker script's parameters stand in the hash of the address it was asked by. */
const anew = (kept) => new Response(kept.body, { status: kept.status, headers: kept.headers });

/** A script or a style of any build: their names are of their content. */
async function fileOf(request) {
  const kept = await caches.match(request, { ignoreSearch: true });
  return kept ? anew(kept) : fetch(request);
}

async function keptPage(path) {
  const kept = await (await caches.open(STORE)).match(path);
  return kept && anew(kept);
}

async function pageOf(request, path) {
  const known = PAGES.includes(path) ? path : /^\/desk\/[^/]+$/.test(path) ? DESK : null;
  const kept = known && (await keptPage(known));
  if (kept) return kept;
  try {
    return await fetch(request);
  } catch (error) {
    const none = await keptPage(NOT_FOUND);
    if (none) return none;
    throw error;
  }
}

self.addEventListener('fetch', (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== 'GET' || url.origin !== self.location.origin) return;
  if (/^\/(_next\/static|workers)\//.test(url.pathname)) return event.respondWith(fileOf(request));
  if (request.mode === 'navigate') return event.respondWith(pageOf(request, url.pathname));
});
