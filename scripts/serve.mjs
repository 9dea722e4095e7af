import { existsSync, readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import next from 'next';

/**
 * Serves the built application: `node scripts/serve.mjs [port]`, here and where it stands alone. What the framework
 * itself would stumble over, methods that are none of a page's and addresses that stand for no text, is answered here,
 * with the headers of every answer.
 */
const root = fileURLToPath(new URL('..', import.meta.url));
const METHODS = new Set(['GET', 'HEAD', 'OPTIONS']);
const HEADERS = {
  'Content-Type': 'text/html; charset=utf-8',
  'Content-Security-Policy': "default-src 'none'; frame-ancestors 'none'; base-uri 'none'",
  'X-Content-Type-Options': 'nosniff',
  'Referrer-Policy': 'no-referrer',
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Resource-Policy': 'same-origin',
};

const isText = (url) => {
  try {
    decodeURIComponent(new URL(url, 'http://here').pathname);
    return true;
  } catch {
    return false;
  }
};
/** What leads elsewhere has the headers of a page too. */
function guardRedirects(response) {
  const { writeHead } = response;
  response.writeHead = (status, ...rest) => {
    if (status >= 300 && status < 400 && status !== 304)
      for (const [name, value] of Object.entries(HEADERS))
        if (!response.hasHeader(name)) response.setHeader(name, value);
    return writeHead.call(response, status, ...rest);
  };
}
const refuse = (response, status, words, more = {}) => {
  response.writeHead(status, { ...HEADERS, ...more });
  response.end(
    `<!doctype html><html lang="en"><title>Jaunty Reed</title><h1>${words}</h1>` +
      '<p><a href="/">To the shelf</a></p></html>\n',
  );
};

/** Where it stands alone there is no configuration to read: the build has it. */
function takeBuiltConfiguration() {
  if (existsSync(join(root, 'next.config.ts'))) return;
  const { config } = JSON.parse(readFileSync(join(root, '.next', 'required-server-files.json'), 'utf8'));
  process.env.__NEXT_PRIVATE_STANDALONE_CONFIG = JSON.stringify(config);
}

export async function serve(port) {
  const hostname = '127.0.0.1';
  takeBuiltConfiguration();
  const app = next({ dev: false, dir: root, hostname, port });
  await app.prepare();
  const handle = app.getRequestHandler();
  const server = createServer((request, response) => {
    if (!METHODS.has(request.method ?? ''))
      return refuse(response, 405, 'This is not for pages', { Allow: [...METHODS].join(', ') });
    if (request.method === 'OPTIONS') {
      response.writeHead(204, { ...HEADERS, Allow: [...METHODS].join(', ') });
      return void response.end();
    }
    guardRedirects(response);
    if (!isText(request.url ?? '')) return refuse(response, 404, 'There is no such page');
    return void handle(request, response);
  });
  await new Promise((resolve, reject) => server.once('error', reject).listen(port, hostname, resolve));
  return server;
}

if (process.argv[1]?.endsWith('serve.mjs')) await serve(Number(process.argv[2] ?? process.env.PORT ?? 3000));
