import { expect, test, type Page } from '@playwright/test';
import { begin, openWorkshop, saved, shown, type } from './bench-hands';

test.use({ serviceWorkers: 'allow' });

const ready = (page: Page): Promise<unknown> =>
  page.waitForFunction(() => navigator.serviceWorker.controller !== null, undefined, { timeout: 60_000 });

test('after the first visit everything starts and works with no network, and nothing done there is lost', async ({
  page,
  context,
}) => {
  await openWorkshop(page, 'Bellows microphone hiss filter');
  const address = page.url();
  await ready(page);
  await page.reload();
  await expect(page.getByTestId('readout-cutoff')).toContainText('Hz');
  await context.setOffline(true);
  await page.goto('/');
  await expect(page.getByTestId('shelf-card').first()).toBeVisible();
  // The desk computes: its workers and their WebAssembly come from the store too.
  await page.goto(address);
  await type(page.getByTestId('cutoff-lowpass'), '5k');
  await expect(page.getByTestId('readout-cutoff')).toContainText(/[45]\.?\d*\skHz/);
  await saved(page);
  await page.reload();
  await expect(page.getByTestId('cutoff-lowpass')).toHaveValue(shown('5 kHz'));
  await page.goto('/new');
  await page.getByRole('textbox', { name: 'Find a circuit' }).fill('wah');
  await expect(page.getByTestId('gallery-card').first()).toBeVisible();
  await context.setOffline(false);
});

test('a newer version is announced, and takes over only when it is asked to', async ({ page, context }) => {
  let version = 'first';
  await context.route('**/service-worker.js', async (route) => {
    const answer = await route.fetch();
    await route.fulfill({ response: answer, body: `${await answer.text()}\n// ${version}` });
  });
  await page.goto('/');
  await ready(page);
  version = 'second';
  await page.reload();
  await expect(page.getByTestId('new-version')).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole('heading', { name: 'Shelf' })).toBeVisible();
  await Promise.all([page.waitForEvent('load'), page.getByRole('button', { name: 'Use it now' }).click()]);
  await expect(page.getByRole('heading', { name: 'Shelf' })).toBeVisible();
  await expect(page.getByTestId('new-version')).toHaveCount(0);
  await begin(page, 'Low-pass');
  await expect(page.getByTestId('readout-cutoff')).toContainText('Hz');
});
