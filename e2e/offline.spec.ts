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
  // One that was never opened, by its card; one that is new; and an address that is none.
  await page.goto('/');
  await page.getByTestId('shelf-card').filter({ hasText: 'Tremulant lag' }).getByRole('link').first().click();
  await expect(page.getByTestId('readout-cutoff')).toContainText('159');
  await page.goto('/new');
  await page.getByRole('textbox', { name: 'Find a circuit' }).fill('wah');
  await expect(page.getByTestId('gallery-card').first()).toBeVisible();
  await page.goto('/');
  await begin(page, 'Low-pass');
  await expect(page.getByTestId('readout-cutoff')).toContainText('Hz');
  await page.goto('/no/such/address');
  await expect(page.getByRole('heading', { name: 'There is no such page' })).toBeVisible();
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
  const other = await context.newPage();
  await other.goto('/stock');
  await expect(other.getByTestId('new-version')).toBeVisible({ timeout: 60_000 });
  await Promise.all([page.waitForEvent('load'), page.getByRole('button', { name: 'Use it now' }).click()]);
  await expect(page.getByRole('heading', { name: 'Shelf' })).toBeVisible();
  await expect(page.getByTestId('new-version')).toHaveCount(0);
  // In the other tab there is nothing more to ask, and it goes on as it was.
  await expect(other.getByTestId('new-version')).toHaveCount(0);
  await other.close();
  await begin(page, 'Low-pass');
  await expect(page.getByTestId('readout-cutoff')).toContainText('Hz');
});
