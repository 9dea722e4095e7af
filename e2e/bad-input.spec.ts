import { expect, test } from '@playwright/test';
import { cutoffShown, giveFile, openWorkshop, shown, startNew, task, type, WORKSHOP } from './bench-hands';

test('what cannot be meant is refused with a reason, and the old value stays', async ({ page }) => {
  await startNew(page);
  const cutoff = page.getByTestId('cutoff-lowpass');
  await type(cutoff, '4k7x');
  await expect(page.getByRole('alert').filter({ hasText: '4k7x' })).toContainText('left over');
  await cutoff.press('Escape');
  await expect(cutoff).toHaveValue(shown('1 kHz'));
  await type(cutoff, '-200');
  await expect(page.getByRole('alert').filter({ hasText: 'not above zero' })).toContainText('it stays at 1 kHz');
  await cutoff.press('Escape');
  await type(cutoff, '0');
  await expect(page.getByRole('alert').filter({ hasText: 'not above zero' })).toBeVisible();
  await cutoff.press('Escape');
  expect(Math.abs((await cutoffShown(page)) / 1000 - 1)).toBeLessThan(0.05);

  await type(cutoff, '2M');
  await expect(page.getByTestId('checks')).toContainText('beyond this op-amp');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('checks')).not.toContainText('beyond this op-amp');
});

test('values that fit no circuit keep the last good curves and say which pin is in the way', async ({ page }) => {
  await startNew(page);
  await task(page, 'Values');
  for (const [part, value] of [
    ['C1', '1n'],
    ['C2', '10n'],
  ] as const) {
    await type(page.getByTestId(`use-${part}`), value);
    await page.getByRole('button', { name: `Hold ${part}` }).click();
  }
  await expect(page.locator('.failure')).toContainText('C1 must be at least');
  await expect(page.getByTestId('trace-asBuilt')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('.failure')).toHaveCount(0);
});

test('files that are not what they should be are refused, and nothing is lost', async ({ page }) => {
  await openWorkshop(page, 'Reed pickup rumble filter');
  await task(page, 'Measure');
  const read = (name: string, content: string) =>
    giveFile(page, () => page.getByRole('button', { name: 'Read a file' }).click(), name, content);
  const refusal = page.locator('.ant-notification-notice').first();
  for (const [name, content, says] of [
    ['notes.csv', 'these are\nonly words', 'No line of this file begins with numbers'],
    ['sweep.txt', '100 -1\nbroken here\n200 -2', 'Line 2'],
    ['other.cir', 'title\nR1 a 0 1k\nZ9 a b 3', "Line 3: 'Z9' is not understood"],
    ['empty.csv', '', 'empty'],
  ]) {
    await read(name, content);
    await expect(refusal).toContainText(says);
    await refusal.getByRole('button').first().click();
    await expect(page.locator('.ant-notification-notice')).toHaveCount(0);
  }
  await expect(page.getByTestId('measurement')).toHaveCount(0);
  await read('good.cir', 'a deck\nV1 in 0 AC 1\nC1 in out 100n\nR1 out 0 33k\n.end\n');
  await expect(page.getByTestId('measurement')).toContainText('Differs most');

  await page.getByRole('link', { name: 'Jaunty Reed' }).click();
  const bring = (name: string, content: string) =>
    giveFile(page, () => page.getByRole('button', { name: 'Import' }).click(), name, content);
  for (const [content, says] of [
    ['{ not json', 'not a design file'],
    ['{"a":1}', 'not a design of this program'],
    ['{"format":"jaunty-reed-design","version":1,"title":5}', 'damaged'],
    ['{"format":"jaunty-reed-design","version":99}', 'newer program'],
  ]) {
    await bring('thing.json', content);
    await expect(refusal).toContainText(says);
    await refusal.getByRole('button').first().click();
    await expect(page.locator('.ant-notification-notice')).toHaveCount(0);
  }
  await expect(page.getByTestId('shelf-card')).toHaveCount(WORKSHOP);
});

test('an address of a design that is not here says so', async ({ page }) => {
  await page.goto('/desk/nowhere');
  await expect(page.getByText('not on the shelf of this browser')).toBeVisible();
});
