import { gzipSync } from 'node:zlib';
import { expect, test, type BrowserContext } from '@playwright/test';
import { openWorkshop } from './bench-hands';

/**
 * KB of script, packed, that a page may fetch before its content stands; what comes later, when the browser is quiet or
 * something is opened, is not in it.
 */
const BUDGETS: readonly [path: string, kb: number, ready: string][] = [
  ['/', 350, '.shelf-grid'],
  ['/drivers', 475, '.drivers-room'],
  ['/new', 530, '.gallery'],
  ['/stock', 580, '.shelf-actions'],
];
const DESK_BUDGET = 825;
/** KB of the one script, packed, that computes for a page: fetched beside its own, and evaluated by a worker. */
const WORKER_BUDGET = 330;

interface Weight {
  /** KB, packed: what the page evaluates itself, and what its workers do. */
  readonly page: number;
  readonly workers: number;
  /** Scripts that the workers are made of, by their addresses. */
  readonly workerFiles: readonly string[];
}

/** What a new page of the context fetches until it has settled. */
async function weigh(context: BrowserContext, path: string, ready: string): Promise<Weight> {
  const page = await context.newPage();
  await page.addInitScript(() => (window.requestIdleCallback = () => 0));
  const scripts = new Map<string, Promise<Buffer>>();
  page.on('response', (response) => {
    if (response.request().resourceType() === 'script') scripts.set(new URL(response.url()).pathname, response.body());
  });
  await page.goto(path);
  await expect(page.locator(ready).first()).toBeAttached();
  await page.waitForLoadState('networkidle');
  const isWorker = (file: string) => file.startsWith('/workers/');
  const kbOf = async (files: readonly string[]) =>
    (await Promise.all(files.map((file) => scripts.get(file)))).reduce((kb, b) => kb + gzipSync(b!).length / 1024, 0);
  const files = [...scripts.keys()];
  const workerFiles = files.filter(isWorker);
  const weight = { page: await kbOf(files.filter((f) => !isWorker(f))), workers: await kbOf(workerFiles), workerFiles };
  await page.close();
  return weight;
}

test('no page fetches more script than it may before its content stands', async ({ page, context }) => {
  await openWorkshop(page, 'Swell-box band limiter');
  const desk = new URL(page.url()).pathname;
  const over: string[] = [];
  for (const [path, budget, ready] of [...BUDGETS, [desk, DESK_BUDGET, '[data-testid=readout-cutoff]'] as const]) {
    const { page: kb, workers, workerFiles } = await weigh(context, path, ready);
    test.info().annotations.push({ type: 'weight', description: `${path}: ${Math.round(kb)} KB` });
    // Far below it the page was not there, or the budget is out of date.
    if (kb > budget || kb < 0.75 * budget) over.push(`${path}: ${Math.round(kb)} KB, may be ${budget}`);
    // A worker waits for one script.
    expect(workerFiles.length, workerFiles.join(' ')).toBeLessThanOrEqual(1);
    if (workers > WORKER_BUDGET) over.push(`${path}, worker: ${Math.round(workers)} KB, may be ${WORKER_BUDGET}`);
  }
  expect(over).toEqual([]);
});
