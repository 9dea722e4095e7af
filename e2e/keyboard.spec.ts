import { expect, test, type Page } from '@playwright/test';
import { begin, openWorkshop, shown, WORKSHOP } from './bench-hands';

const focused = (page: Page) => page.locator(':focus');

test('menus are walked by arrows; what closes gives the focus back', async ({ page }) => {
  await openWorkshop(page, 'Swell-box band limiter');
  await page.getByRole('link', { name: 'Jaunty Reed' }).click();
  await page.getByRole('link', { name: 'Swell-box band limiter' }).click();
  // A page that a link led to begins at its heading.
  await expect(focused(page)).toHaveText('Swell-box band limiter');
  const exporting = page.getByRole('button', { name: 'Export' });
  await exporting.focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('menuitem').first()).toBeFocused();
  await page.keyboard.press('ArrowDown');
  const [download] = await Promise.all([page.waitForEvent('download'), page.keyboard.press('Enter')]);
  expect(download.suggestedFilename()).toMatch(/response\.csv$/);
  await expect(exporting).toBeFocused();
  for (const [keys, closed] of [
    ['Control+k', 'Find anything'],
    ['?', null],
  ] as const) {
    await page.keyboard.press(keys);
    await expect(page.getByRole('dialog')).toBeVisible();
    if (closed) await expect(page.getByRole('combobox', { name: closed })).toBeFocused();
    await page.keyboard.press('Escape');
    await expect(page.getByRole('dialog')).toBeHidden();
    await expect(exporting).toBeFocused();
  }
  const add = page.getByRole('button', { name: 'Add to the path' });
  await add.focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog').getByRole('textbox', { name: 'Find a circuit' })).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(add).toBeFocused();
});

test('a design is removed from the keyboard, and the focus is on the next', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'Put the workshop’s designs here' }).click();
  await expect(page.getByTestId('shelf-card')).toHaveCount(WORKSHOP);
  const links = page.locator('.shelf-link');
  const next = await links.nth(3).getAttribute('href');
  await page
    .getByRole('button', { name: /: more$/ })
    .nth(2)
    .focus();
  await page.keyboard.press('Enter');
  // The menu is fetched when it is first asked for; from then on the arrows are its.
  await expect(page.locator('.ant-dropdown-menu:focus-within, .ant-dropdown-menu:focus')).toBeVisible();
  // Up from the first is the last.
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Remove', exact: true })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('shelf-card')).toHaveCount(WORKSHOP - 1);
  await expect(focused(page)).toHaveAttribute('href', next ?? '');
});

test('a ladder has a handle for its cutoff; what it moves is spoken, and undone in the field', async ({ page }) => {
  await page.goto('/');
  await begin(page, 'Transistor ladder, four poles');
  const handle = page.getByTestId('handle-stage').first();
  const before = Number(await handle.getAttribute('aria-valuenow'));
  await handle.focus();
  for (let i = 0; i < 5; i++) await page.keyboard.press('Shift+ArrowRight');
  await expect.poll(async () => Number(await handle.getAttribute('aria-valuenow'))).toBeGreaterThan(1.4 * before);
  const spoken = page.getByTestId('announcer');
  await expect(spoken).toContainText(/Variant A.*: cutoff [\d.]+\sk?Hz/);
  await page.getByRole('tab', { name: 'Brief' }).click();
  const load = page.getByRole('textbox', { name: 'load' });
  const was = await load.inputValue();
  await load.fill('33k');
  // What is being typed is the field's own.
  await page.keyboard.press('Control+z');
  await load.fill('33k');
  await page.keyboard.press('Enter');
  await expect(load).toHaveValue(shown('33 kΩ'));
  await page.keyboard.press('Control+z');
  await expect(load).toHaveValue(was);
  await page.keyboard.press('Control+Shift+z');
  await expect(load).toHaveValue(shown('33 kΩ'));
});
