import { expect, test, type Page } from '@playwright/test';
import { openWorkshop, task, watch } from './bench-hands';

const HISS = 'Bellows microphone hiss filter';
const SWELL = 'Swell-box band limiter';
const CABINET = 'Tone cabinet, two-way';
const CHAPEL = 'Chapel cabinet, three-way active';
const FLUTE = 'Stopped flute, diode legs';

const press = (page: Page, name: string | RegExp) => page.getByRole('button', { name }).first().click();

interface Job {
  readonly name: string;
  readonly design: string;
  readonly task: string;
  readonly begin: (page: Page) => Promise<void>;
  /** What shows that an answer to it stands on the page. */
  readonly shows: string;
  /** The design that comes to the desk while it runs: one that has a place for such an answer. */
  readonly next: string;
  /** A figure of that design, which nothing may move. */
  readonly figure: string;
}

const JOBS: readonly Job[] = [
  {
    name: 'a spread',
    design: SWELL,
    task: 'Spread',
    begin: (page) => press(page, 'Run tolerances'),
    shows: 'cutoff-histogram',
    next: HISS,
    figure: 'readout-cutoff',
  },
  {
    name: 'a rendering',
    design: FLUTE,
    task: 'Listen',
    begin: (page) => press(page, /^Render/),
    shows: 'heard',
    next: HISS,
    figure: 'readout-cutoff',
  },
  {
    name: 'a strip board',
    design: FLUTE,
    task: 'Build',
    begin: (page) => press(page, 'Plan it'),
    shows: 'strip-check',
    next: HISS,
    figure: 'readout-cutoff',
  },
  {
    name: 'a fit',
    design: CABINET,
    task: 'Values',
    begin: (page) => press(page, /^Fit \d+ parts/),
    shows: 'fit-result',
    next: CHAPEL,
    figure: 'readout-sum',
  },
];

test('a design that is left in the middle of a job leaves nothing behind in the next one', async ({
  page,
  baseURL,
}) => {
  const seen = watch(page, baseURL as string);
  await openWorkshop(page, SWELL);
  const open = async (title: string) => {
    await page.getByRole('link', { name: 'Jaunty Reed' }).click();
    await page.getByRole('link', { name: title }).click();
  };
  for (const { name, design, task: room, begin, shows, next, figure } of JOBS) {
    await open(next);
    await expect(page.getByTestId(figure)).toContainText(/\d/);
    const own = await page.getByTestId(figure).innerText();
    await open(design);
    await expect(page.getByTestId('readout-cutoff').or(page.getByTestId('readout-sum')).first()).toBeVisible();
    await task(page, room);
    await begin(page);
    await open(next);
    await expect(page.getByTestId(figure)).toHaveText(own);
    await task(page, room);
    // As long as the job would have taken, or nearly.
    await page.waitForTimeout(2500);
    expect(await page.getByTestId(shows).count(), name).toBe(0);
    await expect(page.getByRole('progressbar'), name).toHaveCount(0);
    await expect(page.locator('.ant-notification-notice'), name).toHaveCount(0);
    await expect(page.getByTestId(figure)).toHaveText(own);
  }
  expect(seen.complaints).toEqual([]);
});
