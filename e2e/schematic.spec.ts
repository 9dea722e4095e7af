import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { openWorkshop, shown, task, watch } from './bench-hands';

const part = (page: Page, name: string) => page.getByRole('button', { name: new RegExp(`^${name}, `) });

test('the whole variant is one drawing: walked and changed from the keyboard, undone, written to a file', async ({
  page,
  baseURL,
}) => {
  const seen = watch(page, baseURL as string);
  await openWorkshop(page, 'Swell-box band limiter');
  await page.keyboard.press('Shift+8');
  await expect(page.getByRole('tab', { name: 'Schematic' })).toHaveAttribute('aria-selected', 'true');
  await expect(page.getByRole('group', { name: /^Schematic of Swell-box/ })).toBeVisible();

  // From the first part of the first stage to the second stage, by arrows alone.
  await part(page, 'C1').focus();
  await page.keyboard.press('ArrowRight');
  await expect(part(page, 'C2')).toBeFocused();
  for (const _ of [1, 2, 3]) await page.keyboard.press('ArrowRight');
  const there = page.locator('[data-part]:focus');
  await expect(there).toHaveAccessibleName(/^[RC]10\d, /);
  const name = (await there.getAttribute('aria-label'))!.split(',')[0];

  await page.keyboard.press('Enter');
  const editor = page.getByRole('dialog', { name: `${name}, its value` });
  await expect(editor.getByRole('textbox')).toBeFocused();
  const unit = name.startsWith('C') ? ['180 n', '180 nF'] : ['8.2 k', '8.2 kΩ'];
  await page.keyboard.type(unit[0]);
  await page.keyboard.press('Enter');
  await expect(part(page, name)).toHaveAccessibleName(`${name}, ${unit[1]}`);
  await page.keyboard.press('Escape');
  await expect(editor).toHaveCount(0);
  await expect(part(page, name)).toBeFocused();
  // The stage it belongs to is the one in hand now.
  await expect(page.getByTestId('stage-card').nth(1)).toHaveClass(/selected|current/);

  const drawing = page.getByRole('group', { name: /^Schematic of/ });
  const before = (await drawing.boundingBox())!.width;
  await page.keyboard.press('+');
  await expect.poll(async () => (await drawing.boundingBox())!.width).toBeGreaterThan(1.2 * before);
  await page.keyboard.press('0');
  await expect.poll(async () => (await drawing.boundingBox())!.width).toBeLessThan(1.01 * before);

  const [file] = await Promise.all([
    page.waitForEvent('download'),
    (async () => {
      await page.keyboard.press('Control+k');
      await page.getByRole('combobox', { name: 'Find anything' }).fill('export the drawing');
      await page.keyboard.press('Enter');
    })(),
  ]);
  expect(readFileSync(await file.path(), 'utf8')).toContain(`>${shown(unit[1])}</text>`);
  await page.keyboard.press('Control+z');
  await expect(part(page, name)).not.toHaveAccessibleName(`${name}, ${unit[1]}`);
  expect(seen.complaints).toEqual([]);
});

test('a crossover is drawn with all its ways; a part of another way comes in hand with its way', async ({ page }) => {
  await openWorkshop(page, 'Tone cabinet, two-way');
  await page.getByRole('tab', { name: 'Schematic' }).click();
  for (const name of ['L1', 'C1', 'C101', 'L101', 'R201']) await expect(part(page, name)).toBeVisible();
  await part(page, 'R201').click();
  const editor = page.getByRole('dialog', { name: 'R201, its value' });
  await editor.getByRole('textbox').fill('2.7');
  await editor.getByRole('textbox').press('Enter');
  await expect(part(page, 'R201')).toHaveAccessibleName('R201, 2.7 Ω');
});

test('pointing at a part shows what it moves; pointing at the curve says which parts hold it', async ({ page }) => {
  await openWorkshop(page, 'Swell-box band limiter');
  await task(page, 'Values');
  const moves = page.getByTestId('part-moves');
  await expect(moves).toHaveCount(0);
  await page.getByRole('button', { name: /^C1, .*: take in hand/ }).hover();
  await expect(moves).toContainText('C1 ± 20 %');
  await page.getByRole('tab', { name: 'Response' }).hover();
  await expect(moves).toHaveCount(0);
  // From the keyboard as well.
  await page.getByRole('button', { name: /^R1, .*: take in hand/ }).focus();
  await expect(moves).toBeVisible();

  await page.getByRole('slider', { name: /^Curve cursor/ }).focus();
  await page.keyboard.press('PageUp');
  // The first mark is the lower cutoff: the two high-pass stages hold it.
  await expect(page.getByTestId('held-by')).toContainText(/per 1\s%: [RC](1|2|101|102) [−+]\d\.\d\d, .*\sdB/);
  await page.keyboard.press('Escape');
  await expect(page.getByTestId('held-by')).toHaveCount(0);
});
