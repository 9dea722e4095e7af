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

/** KB of script, packed, that a new page of the context fetches until it has settled. */
async function weigh(context: BrowserContext, path: string, ready: string): Promise<number> {
  const page = await context.newPage();
  await page.addInitScript(() => (window.requestIdleCallback = () => 0));
  const bodies: Promise<Buffer>[] = [];
  page.on('response', (response) => {
    if (response.request().resourceType() === 'script') bodies.push(response.body());
  });
  await page.goto(path);
  await expect(page.locator(ready).first()).toBeAttached();
  await page.waitForLoadState('networkidle');
  const bytes = (await Promise.all(bodies)).reduce((sum, body) => sum + gzipSync(body).length, 0);
  await page.close();
  return bytes / 1024;
}

test('no page fetches more script than it may before its content stands', async ({ page, context }) => {
  await openWorkshop(page, 'Swell-box band limiter');
  const desk = new URL(page.url()).pathname;
  const over: string[] = [];
  for (const [path, budget, ready] of [...BUDGETS, [desk, DESK_BUDGET, '[data-testid=readout-cutoff]'] as const]) {
    const kb = await weigh(context, path, ready);
    test.info().annotations.push({ type: 'weight', description: `${path}: ${Math.round(kb)} KB` });
    // Far below it the page was not there, or the budget is out of date.
    if (kb > budget || kb < 0.75 * budget) over.push(`${path}: ${Math.round(kb)} KB, may be ${budget}`);
  }
  expect(over).toEqual([]);
});
