import { expect, test, type Page } from '@playwright/test';
import { openWorkshop } from './bench-hands';

const MOVES = 60;
/** What is only read is renewed no more often, ms. */
const READ_MS = 120;

interface Touched {
  /** Changes within axes and grids, and of a chart's size. */
  axes: number;
  sizes: number;
  /** How often anything of the task's panels changed, whatever number of things at once. */
  panels: number;
  /** How often a curve was drawn. */
  curves: number;
}

/** Counts what a drag changes of the page: counts are the same on a slow machine and a fast one. */
const count = (page: Page): Promise<void> =>
  page.evaluate(() => {
    const touched: Touched = { axes: 0, sizes: 0, panels: 0, curves: 0 };
    (window as unknown as { touched: Touched }).touched = touched;
    const observer = new MutationObserver((records) => {
      const elements = records.map(({ target, attributeName }) => ({
        at: target instanceof Element ? target : target.parentElement,
        attributeName,
      }));
      for (const { at, attributeName } of elements) {
        if (at?.closest('.recharts-cartesian-axis')) touched.axes++;
        if (at?.matches('.recharts-surface') && /width|height/.test(attributeName ?? '')) touched.sizes++;
        if (at?.matches('path.trace') && attributeName === 'd') touched.curves++;
      }
      if (elements.some(({ at }) => at?.closest('#task-pane'))) touched.panels++;
    });
    observer.observe(document.body, { subtree: true, childList: true, attributes: true, characterData: true });
  });

for (const title of ['Swell-box band limiter', 'Tone cabinet, two-way', 'Chapel cabinet, three-way active'])
  test(`${title}: a drag redraws curves, and neither axes nor, with every move, the panels`, async ({ page }) => {
    await openWorkshop(page, title);
    const handle = page.locator('g[role=slider]').first();
    await expect(handle).toBeVisible();
    // What opening the design asked for has come.
    await page.waitForTimeout(3000);
    const box = (await handle.boundingBox())!;
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + 3, y);
    await page.waitForTimeout(500);
    await count(page);
    const began = Date.now();
    for (let i = 0; i < MOVES; i++) await page.mouse.move(x + 40 * Math.sin(i / 8), y);
    const tookMs = Date.now() - began;
    const touched = await page.evaluate(() => (window as unknown as { touched: Touched }).touched);
    await page.mouse.up();
    expect(touched).toMatchObject({ axes: 0, sizes: 0 });
    expect(touched.curves).toBeGreaterThan(MOVES / 10);
    // As often as they may, and twice for what was under way.
    expect(touched.panels).toBeLessThan(tookMs / READ_MS + 3);
  });
