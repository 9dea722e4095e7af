import { readFileSync } from 'node:fs';
import { join } from 'node:path';

/** The worker's own source, as a build writes it out, with a network and stores of its own. */
const SOURCE = readFileSync(join(__dirname, '../../scripts/service-worker.js'), 'utf8');
const HOME = 'http://here';

type Handler = (event: Record<string, unknown>) => void;
const stores = new Map<string, Map<string, Response>>();
const pathOf = (request: string | { url: string }): string =>
  new URL(typeof request === 'string' ? request : request.url, HOME).pathname;
const storeOf = (name: string) => {
  const kept = stores.get(name) ?? new Map<string, Response>();
  stores.set(name, kept);
  return {
    match: async (request: string) => kept.get(pathOf(request))?.clone(),
    put: async (request: string, answer: Response) => void kept.set(pathOf(request), answer),
    addAll: async (paths: string[]) => {
      for (const path of paths) kept.set(path, await net.fetch(path));
    },
  };
};
const caches = {
  open: async (name: string) => storeOf(name),
  keys: async () => [...stores.keys()],
  has: async (name: string) => stores.has(name),
  delete: async (name: string) => stores.delete(name),
  match: async (request: string) =>
    [...stores.values()].map((kept) => kept.get(pathOf(request))?.clone()).find((kept) => kept !== undefined),
};

/** The server: its build, and whether it is reached. */
const net = {
  build: 'one' as string | null,
  /** Paths that a newer build answers already. */
  ahead: new Map<string, string>(),
  fetch: async (request: string | { url: string }): Promise<Response> => {
    const path = pathOf(request);
    if (net.build === null) throw new TypeError('no network');
    const build = net.ahead.get(path) ?? net.build;
    const known = /^\/($|new$|drivers$|stock$|shared$|desk\/|_next\/|schema\/)/.test(path);
    return new Response(`${known ? path : 'no such page'} of ${build}`, { status: known ? 200 : 404 });
  },
};

/** A worker of a build, before it is installed. */
function workerOf(build: string) {
  const handlers = new Map<string, Handler>();
  const self = {
    addEventListener: (type: string, handler: Handler) => handlers.set(type, handler),
    location: { origin: HOME },
    clients: { claim: async () => {} },
    skipWaiting: async () => {},
  };
  const source = SOURCE.replace("'@version@'", JSON.stringify(build)).replace(
    "['@files@']",
    JSON.stringify([`/_next/static/${build}.js`]),
  );
  new Function('self', 'caches', 'fetch', 'Response', source)(self, caches, net.fetch, Response);
  const until = async (type: string) => {
    let done: Promise<unknown> = Promise.resolve();
    handlers.get(type)!({ waitUntil: (promise: Promise<unknown>) => (done = promise) });
    await done;
  };
  return {
    install: () => until('install'),
    activate: () => until('activate'),
    /** What it answers; null: it leaves the request to the browser. */
    asked: async (path: string, mode = 'navigate') => {
      let answer: Promise<Response> | null = null;
      const request = { method: 'GET', url: `${HOME}${path}`, mode };
      handlers.get('fetch')!({ request, respondWith: (given: Promise<Response>) => (answer = given) });
      const got = (await answer) as Response | null;
      return got && [await got.text(), got.status];
    },
  };
}
async function inCharge(build: string) {
  net.build = build;
  const worker = workerOf(build);
  await worker.install();
  await worker.activate();
  return worker;
}

beforeEach(() => {
  stores.clear();
  net.ahead.clear();
});

test('with no network every page is there, a design that was never opened too, and no other is made up', async () => {
  const worker = await inCharge('one');
  net.build = null;
  expect(await worker.asked('/')).toEqual(['/ of one', 200]);
  expect(await worker.asked('/new?circuit=wah')).toEqual(['/new of one', 200]);
  expect(await worker.asked('/desk/never-opened')).toEqual(['/desk/any of one', 200]);
  expect(await worker.asked('/_next/static/one.js', 'cors')).toEqual(['/_next/static/one.js of one', 200]);
  for (const path of ['/desk', '/desk/a/b', '/nothing'])
    expect(await worker.asked(path)).toEqual(['no such page of one', 404]);
});

test('pages are of the build of the worker in charge, whatever the server has by now', async () => {
  const worker = await inCharge('one');
  net.build = 'two';
  const before = JSON.stringify([...stores].map(([name, kept]) => [name, [...kept.keys()]]));
  expect(await worker.asked('/')).toEqual(['/ of one', 200]);
  expect(await worker.asked('/desk/a')).toEqual(['/desk/any of one', 200]);
  expect(await worker.asked('/schema/design.json')).toEqual(['/schema/design.json of two', 200]);
  // What the application fetches by itself is the browser's affair.
  expect(await worker.asked('/desk/a?_rsc=1', 'cors')).toBeNull();
  expect(JSON.stringify([...stores].map(([name, kept]) => [name, [...kept.keys()]]))).toBe(before);
});

test('a build that changes while it is fetched does not take over', async () => {
  const worker = await inCharge('one');
  net.build = 'two';
  net.ahead.set('/stock', 'three');
  await expect(workerOf('two').install()).rejects.toThrow('/stock is of another build than two');
  expect(await worker.asked('/stock')).toEqual(['/stock of one', 200]);
  expect([...stores.keys()]).toEqual(['jaunty-reed-one']);
});

test('pages of the build before go on with their scripts; older stores go', async () => {
  stores.set('of-somebody-else', new Map());
  await inCharge('one');
  await inCharge('two');
  const worker = await inCharge('three');
  expect([...stores.keys()]).toEqual(['of-somebody-else', 'jaunty-reed-two', 'jaunty-reed-three']);
  net.build = null;
  expect(await worker.asked('/_next/static/two.js', 'cors')).toEqual(['/_next/static/two.js of two', 200]);
  await expect(worker.asked('/_next/static/one.js', 'cors')).rejects.toThrow('no network');
});
