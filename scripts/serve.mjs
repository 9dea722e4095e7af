import { createServer } from 'node:http';
import next from 'next';
import { root } from './setup.mjs';

/**
 * Serves the built application: `node scripts/serve.mjs [port]`. What the framework itself would stumble over, methods
 * that are none of a page's and addresses that stand for no text, is answered here, with the headers of every answer.
 */
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
const refuse = (response, status, words, more = {}) => {
  response.writeHead(status, { ...HEADERS, ...more });
  response.end(
    `<!doctype html><html lang="en"><title>Jaunty Reed</title><h1>${words}</h1>` +
      '<p><a href="/">To the shelf</a></p></html>\n',
  );
};

export async function serve(port) {
  const hostname = '127.0.0.1';
  const app = next({ dev: false, dir: root, hostname, port });
  await app.prepare();
  const handle = app.getRequestHandler();
  const server = createServer((request, response) => {
    if (!METHODS.has(request.method ?? ''))
      return refuse(response, 405, 'This is not for pages', { Allow: [...METHODS].join(', ') });
    if (!isText(request.url ?? '')) return refuse(response, 404, 'There is no such page');
    return void handle(request, response);
  });
  await new Promise((resolve, reject) => server.once('error', reject).listen(port, hostname, resolve));
  return server;
}

if (process.argv[1]?.endsWith('serve.mjs')) await serve(Number(process.argv[2] ?? process.env.PORT ?? 3000));
