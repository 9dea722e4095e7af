import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { openWorkshop, shown, task, type, watch } from './bench-hands';

test('a design goes from one browser to another in a link, is seen there, and is kept as a copy', async ({
  page,
  browser,
  baseURL,
}) => {
  const seen = watch(page, baseURL as string);
  await openWorkshop(page, 'Bellows microphone hiss filter');
  await type(page.getByTestId('cutoff-lowpass'), '6.1k');
  await expect(page.getByTestId('cutoff-lowpass')).toHaveValue(shown('6.1 kHz'));
  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('menuitem', { name: 'Share by a link' }).click();
  const link = await page.getByTestId('share-link').inputValue();
  expect(link.length).toBeLessThan(8000);

  // Another person's browser, with nothing in it.
  const other = await browser.newContext({ baseURL });
  const there = await other.newPage();
  const asked: string[] = [];
  there.on('request', (request) => asked.push(request.url()));
  await there.goto(link);
  const report = there.getByTestId('report');
  await expect(report).toContainText('Bellows microphone hiss filter');
  await expect(report.locator('svg')).toHaveCount(2);
  await expect(report.getByRole('heading', { name: 'What meets where' })).toBeVisible();
  // The design is in the fragment: no request has it.
  expect(asked.filter((url) => url.includes('d='))).toEqual([]);
  await there.getByRole('button', { name: 'Keep a copy' }).click();
  await expect(there.getByTestId('cutoff-lowpass')).toHaveValue(shown('6.1 kHz'));
  await there.goto(link);
  await there.getByRole('button', { name: 'Keep a copy' }).click();
  await expect(there.getByTestId('cutoff-lowpass')).toHaveValue(shown('6.1 kHz'));
  await there.goto('/');
  await expect(there.getByTestId('shelf-card')).toHaveCount(2);
  // A link cut on its way says so.
  await there.goto(link.slice(0, 300));
  await expect(there.getByRole('alert').filter({ hasText: 'cut or changed' })).toBeVisible();
  await other.close();
  expect(seen.complaints).toEqual([]);
  expect(seen.outside).toEqual([]);
});

test('printed from the evening bench it is black on white: the report alone, gone from the page afterwards', async ({
  page,
}) => {
  await page.addInitScript(() => {
    localStorage.setItem('jaunty-reed-theme', 'bench');
    window.print = () => (document.documentElement.dataset.printed = '1');
  });
  await openWorkshop(page, 'Bellows microphone hiss filter');
  await task(page, 'Build');
  await page.getByRole('button', { name: 'Print' }).click();
  await expect(page.locator('html')).toHaveAttribute('data-printed', '1');
  await page.emulateMedia({ media: 'print' });
  const sheet = page.locator('#report-to-print');
  await expect(sheet).toBeVisible();
  await expect(page.locator('.desk')).toBeHidden();
  const colours = await sheet.evaluate((it) => [
    getComputedStyle(it).color,
    getComputedStyle(document.body).backgroundColor,
  ]);
  expect(colours).toEqual(['rgb(17, 17, 17)', 'rgb(255, 255, 255)']);
  await page.emulateMedia({ media: 'screen' });
  await page.evaluate(() => window.dispatchEvent(new Event('afterprint')));
  await expect(sheet).toHaveCount(0);
});

test('a report is one file that needs nothing else: drawing, curve, values, parts, connections, log', async ({
  page,
  browser,
}) => {
  await openWorkshop(page, 'Tone cabinet, two-way');
  await page.getByRole('button', { name: 'Export' }).click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'A report (HTML)' }).click(),
  ]);
  const html = readFileSync(await file.path(), 'utf8');
  expect(html).not.toMatch(/<script|src=|href=|url\((?!#)/);
  const alone = await browser.newContext({ offline: true, javaScriptEnabled: false });
  const paper = await alone.newPage();
  await paper.setContent(html);
  await expect(paper.getByRole('heading', { name: 'Tone cabinet, two-way' })).toBeVisible();
  await expect(paper.locator('svg')).toHaveCount(2);
  for (const heading of ['Values', 'Parts', 'What meets where', 'Cautions', 'Log'])
    await expect(paper.getByRole('heading', { name: heading, exact: true })).toBeVisible();
  await expect(paper.locator('table').first()).toContainText('L101');
  const pdf = await paper.pdf({ format: 'A4' });
  expect(pdf.length).toBeGreaterThan(20_000);
  await alone.close();
});
