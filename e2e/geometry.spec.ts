import { expect, test, type Page } from '@playwright/test';
import { openWorkshop } from './bench-hands';

const TASKS = ['Brief', 'Circuit', 'Values', 'Spread', 'Build', 'Measure', 'Listen', 'Log'];
const WINDOWS = [
  [390, 844],
  [1024, 768],
  [1280, 800],
  [1920, 1080],
] as const;
/** px: nothing is lettered smaller. */
const LEAST_LETTERS = 11;

/** What does not fit where it stands: texts of charts on one another or off the chart, words cut, letters too small. */
const faultsOf = (page: Page, least: number): Promise<string[]> =>
  page.evaluate((smallest) => {
    const faults = new Set<string>();
    const seen = (e: Element) => {
      const { width, height } = e.getBoundingClientRect();
      return width > 0 && height > 0 && getComputedStyle(e).visibility !== 'hidden';
    };
    const root = document.documentElement;
    if (root.scrollWidth > window.innerWidth + 1) faults.add(`the page is ${root.scrollWidth} wide`);
    const pane = document.getElementById('task-pane');
    if (pane && pane.scrollWidth > pane.clientWidth + 1) faults.add(`the task is ${pane.scrollWidth} wide`);
    if (window.innerWidth > 900 && root.scrollHeight > window.innerHeight) faults.add('the desk scrolls');
    for (const svg of document.querySelectorAll('.plot svg.recharts-surface')) {
      const frame = svg.getBoundingClientRect();
      const texts = [...svg.querySelectorAll('text')]
        .filter(seen)
        .map((t) => ({ text: t.textContent, box: t.getBoundingClientRect() }));
      texts.forEach(({ text, box }, i) => {
        const off = box.left < frame.left - 1 || box.right > frame.right + 1 || box.top < frame.top - 2;
        if (off || box.bottom > frame.bottom + 2) faults.add(`“${text}” leaves its chart`);
        for (const other of texts.slice(i + 1)) {
          const across = Math.min(box.right, other.box.right) - Math.max(box.left, other.box.left);
          const down = Math.min(box.bottom, other.box.bottom) - Math.max(box.top, other.box.top);
          // A hair of two letters’ own room is nothing on nothing.
          if (across > 2 && down > 4) faults.add(`“${text}” on “${other.text}”`);
        }
      });
    }
    const hidden = '.only-read-aloud, [aria-hidden=true], svg, .katex, .ant-select-selection-search';
    for (const e of document.querySelectorAll<HTMLElement>('body *')) {
      const words = [...e.childNodes].some((n) => n.nodeType === Node.TEXT_NODE && n.textContent?.trim());
      if ((!words && !(e instanceof HTMLInputElement)) || !seen(e) || e.closest(hidden)) continue;
      const { overflowX, overflowY, fontSize } = getComputedStyle(e);
      if (words && parseFloat(fontSize) < smallest) faults.add(`“${e.textContent?.slice(0, 30)}” at ${fontSize}`);
      // What may be cut says all of it when it is pointed at.
      const low = overflowY === 'hidden' && e.clientHeight > 0 && e.scrollHeight > e.clientHeight + 3;
      if (low && !e.closest('[title]')) faults.add(`“${e.textContent?.slice(0, 40)}” is cut at its foot`);
      const cuts = overflowX !== 'visible' && overflowX !== 'auto' && overflowX !== 'scroll';
      if (cuts && e.scrollWidth > e.clientWidth + 1 && e.clientWidth > 0 && !e.closest('[title]'))
        faults.add(`“${(e instanceof HTMLInputElement ? e.value : (e.textContent ?? '')).slice(0, 40)}” is cut`);
    }
    return [...faults];
  }, least);

/** ms that a place takes to stand after it is turned to, and after its window has another size. */
const TURNED = 350;
const RESIZED = 150;
/** Looks until nothing is at fault: what grows with its text follows its window a moment later. */
const LOOKS = 8;

/** What is still at fault when all has had time to follow. */
async function lasting(page: Page): Promise<string[]> {
  let faults: string[] = [];
  for (let look = 0; look < LOOKS; look++) {
    await page.waitForTimeout(RESIZED);
    faults = await faultsOf(page, LEAST_LETTERS);
    if (faults.length === 0) break;
  }
  return faults;
}

for (const title of [
  'Swell-box band limiter',
  'Tone cabinet, two-way',
  'Reed voice, ladder filter',
  'Plucked stop, optocoupler gate',
])
  test(`${title} fits a phone, a tablet, a laptop and a wide screen: every view and task`, async ({ page }) => {
    await openWorkshop(page, title);
    const found: Record<string, string[]> = {};
    const look = async (where: string) => {
      await page.waitForTimeout(TURNED);
      for (const [width, height] of WINDOWS) {
        await page.setViewportSize({ width, height });
        const faults = await lasting(page);
        if (faults.length > 0) found[`${where}, ${width} × ${height}`] = faults;
      }
    };
    const views = page.getByRole('tablist', { name: 'View' }).getByRole('tab');
    for (let i = 0; i < (await views.count()); i++) {
      await views.nth(i).click();
      await look(await views.nth(i).innerText());
    }
    await views.first().click();
    for (const name of TASKS) {
      await page.getByRole('tab', { name }).click();
      await look(name);
    }
    expect(found).toEqual({});
  });

for (const [title, tasks] of [
  ['Swell-box band limiter', TASKS],
  ['Reed voice, ladder filter', ['Brief', 'Circuit', 'Values', 'Build']],
  ['Formant bank, half octaves', ['Brief', 'Circuit', 'Values', 'Build']],
] as const)
  test(`no task of ${title} is over two screens high, and its long lists scroll by themselves`, async ({ page }) => {
    await openWorkshop(page, title);
    for (const name of tasks) {
      await page.getByRole('tab', { name }).click();
      await page.waitForTimeout(500);
      const high = await page.evaluate(() => document.getElementById('task-pane')?.scrollHeight ?? 0);
      expect({ name, high: Math.max(high, 1600) }).toEqual({ name, high: 1600 });
    }
    await page.getByRole('tab', { name: 'Build' }).click();
    const parts = page.getByRole('region', { name: 'Parts', exact: true });
    await parts.focus();
    await page.keyboard.press('End');
    await expect.poll(() => parts.evaluate((e) => e.scrollTop)).toBeGreaterThan(20);
  });

// Each page with what arrives on it last: measured before that, a page fits that does not.
for (const [path, last] of [
  ['/', 'Swell-box band limiter'],
  ['/new', 'For a crossover’s way'],
  ['/drivers', 'Copy to my drivers'],
  ['/stock', 'Add op-amp'],
] as const)
  test(`${path} fits a phone and a wide screen`, async ({ page }) => {
    await page.goto(path);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    if (path === '/') await page.getByRole('button', { name: 'Put the workshop’s designs here' }).click();
    await expect(page.getByText(last).first()).toBeVisible();
    for (const [width, height] of WINDOWS) {
      await page.setViewportSize({ width, height });
      await page.waitForTimeout(400);
      expect({ width, wide: await page.evaluate(() => document.documentElement.scrollWidth) }).toEqual({
        width,
        wide: width,
      });
    }
  });
