import { expect, test, type Locator, type Page } from '@playwright/test';
import { watch } from './bench-hands';

/** Does what a stranger does, and counts it: every press, every field filled in. */
class Stranger {
  actions = 0;
  constructor(readonly page: Page) {}

  async press(what: Locator): Promise<void> {
    this.actions++;
    await what.click();
  }
  async fill(what: Locator, text: string): Promise<void> {
    this.actions++;
    await what.fill(text);
  }
  async key(key: string): Promise<void> {
    this.actions++;
    await this.page.keyboard.press(key);
  }
}

const MOST_ACTIONS = 6;

for (const [what, looksFor, entry, shows] of [
  ['a wah', 'wah', 'Wah with a coil, two transistors', 'readout-cutoff'],
  ['a gate', 'low-pass gate', 'Optocoupler gate and filter', 'readout-cutoff'],
  ['a tone control', 'bass and treble', 'Passive bass and treble control', 'curves'],
  ['a bank', 'graphic equaliser', 'Filter bank', 'bank-strip'],
  ['an RC', 'rc low-pass', 'First-order RC, passive', 'readout-cutoff'],
  ['a three-way crossover', 'three-way', 'Three-way crossover', 'readout-sum'],
  ['a hum notch', 'mains hum', 'Twin-T notch', 'curves'],
  ['diode legs', 'diode filter', 'Two sections on diode legs, with attenuator', 'readout-cutoff'],
] as const)
  test(`from an empty shelf to the first curve of ${what}: at most ${MOST_ACTIONS} actions`, async ({
    page,
    baseURL,
  }) => {
    const seen = watch(page, baseURL as string);
    await page.goto('/');
    const stranger = new Stranger(page);
    await stranger.press(page.getByRole('button', { name: 'New design' }).first());
    await stranger.fill(page.getByRole('textbox', { name: 'Find a circuit' }), looksFor);
    await stranger.press(page.getByRole('button', { name: entry, exact: true }));
    const curve = page.locator('path.trace[clip-path]').first();
    await expect(curve).toBeVisible();
    expect((await curve.getAttribute('d'))?.length).toBeGreaterThan(30);
    if (shows !== 'curves') await expect(page.getByTestId(shows).first()).toBeVisible();
    expect(stranger.actions).toBeLessThanOrEqual(MOST_ACTIONS);
    test.info().annotations.push({ type: 'actions', description: String(stranger.actions) });
    // What is begun here is not a filter with something behind it: the path holds it alone.
    if (shows === 'readout-cutoff') await expect(page.getByTestId('stage-card')).toHaveCount(1);
    expect(seen.complaints).toEqual([]);
    expect(seen.outside).toEqual([]);
  });

test('by the keyboard alone: a circuit found from the shelf by any name, and begun', async ({ page }) => {
  await page.goto('/');
  // The heading comes from the server; keys are heard once the shelf itself stands.
  await expect(page.getByRole('button', { name: 'Put the workshop’s designs here' })).toBeVisible();
  const stranger = new Stranger(page);
  await stranger.key('Control+k');
  await stranger.fill(page.getByRole('combobox', { name: 'Find anything' }), 'acid');
  await expect(page.getByRole('option', { name: /Diode ladder/ }).first()).toHaveAttribute('aria-selected', 'true');
  await stranger.key('Enter');
  await expect(page.getByTestId('stage-card')).toHaveCount(1);
  await expect(page.getByTestId('stage-card')).toContainText('Diode ladder');
});

test('a term that nothing answers to says what to try, and Enter takes the first that is found', async ({ page }) => {
  await page.goto('/new');
  const find = page.getByRole('textbox', { name: 'Find a circuit' });
  await find.fill('flux capacitor');
  await expect(page.getByTestId('gallery-none')).toContainText('Try what it does');
  await find.fill('zobel');
  await find.press('Enter');
  await expect(page.getByTestId('way-row')).toHaveCount(2);
  await expect(page.getByTestId('stage-card').filter({ hasText: 'correction' })).toBeVisible();
});
