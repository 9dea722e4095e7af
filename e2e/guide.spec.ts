import { expect, test } from '@playwright/test';
import { choose, task, watch } from './bench-hands';

test('a guided first design from an empty shelf: each step is seen to be done, none is in the way', async ({
  page,
  baseURL,
}) => {
  const seen = watch(page, baseURL as string);
  await page.goto('/');
  await page.getByRole('button', { name: /^A guided first design/ }).click();
  const guide = page.getByTestId('guide');
  const next = () => guide.getByRole('button', { name: 'Go on' }).click();
  await expect(guide).toContainText('Say where it cuts');
  await expect(guide).toContainText('1 of 8');
  await expect(page.getByTestId('readout-cutoff')).toContainText('Hz');
  await page
    .getByRole('slider', { name: /cutoff/i })
    .first()
    .focus();
  await page.keyboard.press('ArrowRight');
  await next();
  await choose(page, 'Order', '4');
  await next();
  await page.keyboard.press('Shift+8');
  await next();
  // A reload finds it where it stood.
  await page.waitForTimeout(1200);
  await page.reload();
  await expect(guide).toContainText('Try another circuit');
  await guide.getByRole('button', { name: 'Skip this' }).click();
  await guide.getByRole('button', { name: 'Skip this' }).click();
  await task(page, 'Spread');
  await page.getByRole('button', { name: 'Run tolerances' }).click();
  await next();
  await guide.getByRole('button', { name: 'Skip this' }).click();
  await task(page, 'Build');
  await guide.getByRole('button', { name: 'Done' }).click();
  await expect(guide).toHaveCount(0);
  expect(seen.complaints).toEqual([]);
});
