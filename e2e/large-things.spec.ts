import { expect, test } from '@playwright/test';
import { giveFile, openWorkshop, task, type } from './bench-hands';

test('a drawer of 3,000 kinds of parts has only those in sight on the page, and each can be come to', async ({
  page,
}) => {
  const rows = Array.from({ length: 3000 }, (_, i) => `resistor,${100 + i},1,metal film,${i},0.02`);
  await page.goto('/stock');
  await giveFile(
    page,
    () => page.getByRole('button', { name: 'Read CSV' }).click(),
    'drawer.csv',
    `kind,value,tolerance,grade,count,price\n${rows.join('\n')}\n`,
  );
  await expect(page.getByText('3000 kinds of parts read')).toBeVisible();
  const shown = page.getByTestId('stock-row');
  await expect(shown.first()).toBeVisible();
  expect(await shown.count()).toBeLessThan(100);
  await page.getByRole('textbox', { name: 'Find a part' }).focus();
  await page.keyboard.press('End');
  await page.evaluate(() => window.scrollTo(0, document.body.scrollHeight));
  await expect(page.locator('[aria-rowindex="3001"]')).toBeInViewport();
  expect(await shown.count()).toBeLessThan(100);
  // The last one is changed where it stands, and is still there after a reload.
  await type(page.locator('[aria-rowindex="3001"]').getByRole('textbox', { name: 'count' }), '7');
  await page.waitForTimeout(500);
  await page.reload();
  await expect(shown.first()).toBeVisible();
  await page.evaluate(() => window.scrollTo(0, document.body.scrollHeight));
  await expect(page.locator('[aria-rowindex="3001"]').getByRole('textbox', { name: 'count' })).toHaveValue('7');
});

test('twelve measurements of 100,000 points are drawn thin, kept whole, and the desk answers', async ({ page }) => {
  test.slow();
  const points = 100_000;
  const text = Array.from({ length: points }, (_, i) => {
    const f = 10 * 10 ** ((3.4 * i) / points);
    return `${f.toFixed(4)},${(-20 * Math.log10(Math.hypot(1, (f / 8000) ** 2)) + Math.sin(i) / 5).toFixed(3)}`;
  }).join('\n');
  await openWorkshop(page, 'Bellows microphone hiss filter');
  await task(page, 'Measure');
  for (let k = 1; k <= 12; k++) {
    await giveFile(page, () => page.getByRole('button', { name: 'Read a file' }).click(), `sweep ${k}.csv`, text);
    await expect(page.getByTestId('measurement')).toHaveCount(k);
  }
  await expect(page.getByTestId('worst-difference').last()).toContainText('dB');
  const lengths = await page
    .locator('path.trace.measured')
    .evaluateAll((paths) => paths.map((p) => (p.getAttribute('d') ?? '').length));
  expect(lengths.length).toBeGreaterThanOrEqual(24);
  for (const length of lengths) expect(length).toBeLessThan(150_000);
  // An edit is drawn and saved while all of them lie there.
  await task(page, 'Brief');
  await type(page.getByTestId('cutoff-lowpass'), '5k');
  await expect(page.getByTestId('readout-cutoff')).toContainText(/4\.\d+\skHz|5\skHz|5\.\d+\skHz/);
  await expect(page.getByTestId('save-state')).toContainText(/^saved \d/);
  await page.reload();
  await task(page, 'Measure');
  await expect(page.getByTestId('measurement')).toHaveCount(12);
});
