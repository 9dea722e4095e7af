import { expect, test } from '@playwright/test';
import {
  choose,
  cutoffShown,
  downloaded,
  figureOf,
  giveFile,
  openWorkshop,
  unfold,
  saved,
  task,
  type,
  watch,
} from './bench-hands';

test('from a mask to ranked candidates to a cascade, its parts chosen together', async ({ page, baseURL }) => {
  const seen = watch(page, baseURL as string);
  await openWorkshop(page, 'Heterodyne stop, elliptic');
  await page.getByRole('button', { name: 'Match this brief' }).click();
  const table = page.getByTestId('matches');
  await expect(table.getByRole('row')).toHaveCount(5);
  await expect(page.getByTestId('match-traces').locator('path')).toHaveCount(4);
  // Ranked by the worst Q, the inverse Chebyshev leads; by order, the elliptic.
  await table.getByRole('button', { name: 'Q', exact: true }).click();
  await expect(table.getByRole('row').nth(1)).toContainText('Inverse Chebyshev');
  await table.getByRole('button', { name: 'order', exact: true }).click();
  await expect(table.getByRole('row').nth(1)).toContainText('Elliptic');
  await table.getByRole('button', { name: 'Inverse Chebyshev' }).click();
  await expect(page.getByTestId('stage-card')).toHaveCount(4);
  await expect(page.getByRole('combobox', { name: 'Alignment' })).toBeVisible();
  await expect(page.getByTestId('brief-verdict')).toHaveCount(2);

  await task(page, 'Values');
  await page.getByRole('button', { name: 'Choose', exact: true }).click();
  const choices = page.getByTestId('choices');
  await expect(choices).toBeVisible({ timeout: 40_000 });
  const nearest = figureOf(await page.getByTestId('nearest-error').innerText());
  const chosen = figureOf(await page.getByTestId('choice-error').first().innerText());
  expect(chosen).toBeLessThan(nearest);
  await choices.getByRole('button', { name: /^Take/ }).first().click();
  await expect(page.locator('.use.typed').first()).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('.use.typed')).toHaveCount(0);
  expect(seen.complaints).toEqual([]);
});

test('a two-integrator loop: block, circuit and formula light together; all its outputs at once', async ({ page }) => {
  await openWorkshop(page, 'Krummhorn formant');
  await task(page, 'Circuit');
  const blocks = page.getByTestId('blocks');
  await expect(blocks.getByRole('button')).toHaveCount(4);
  await blocks.getByRole('button').nth(3).focus();
  await expect(page.locator('.schematic .lit').filter({ hasText: 'R4' }).first()).toBeVisible();
  await expect(page.locator('.working tr.lit').first()).toContainText('one over Q');
  await page.getByRole('button', { name: 'other outputs' }).click();
  await expect(page.getByTestId('trace-taps')).toHaveCount(2);
  await choose(page, 'Circuit of this stage', 'Tow-Thomas');
  await expect(page.getByTestId('stage-card').first()).toContainText('Tow-Thomas');
  await type(page.getByTestId('stage-q'), '12');
  await expect(page.getByTestId('stage-card').first()).toContainText('Q 12');
});

test('a filter bank: bands by rule, all parts chosen, one band drifting, table out and back in', async ({ page }) => {
  await openWorkshop(page, 'Formant bank, half octaves');
  const strip = page.getByTestId('bank-strip');
  await expect(strip.getByRole('tab')).toHaveCount(12);
  await expect(page.getByTestId('trace-sum')).toBeVisible();
  const uneven = async (): Promise<number> => figureOf(await page.getByTestId('bank-uneven').innerText());
  await expect.poll(uneven).toBeGreaterThan(0.5);
  await task(page, 'Values');
  await page.getByRole('button', { name: 'Choose all' }).click();
  await expect(page.getByTestId('bank-table')).toContainText('No band is off', {
    timeout: 40_000,
  });
  await task(page, 'Brief');
  await expect.poll(uneven).toBeLessThan(0.5);
  // Keys go from band to band, and the desk follows.
  await strip.getByRole('tab').first().focus();
  await page.keyboard.press('ArrowRight');
  await expect(strip.getByRole('tab').nth(1)).toHaveAttribute('aria-selected', 'true');
  await expect(page.getByTestId('stage-card').first()).toContainText('137 Hz');
  await task(page, 'Values');
  const table = await downloaded(page, () =>
    page.getByTestId('bank-table').getByRole('button', { name: 'Write CSV' }).click(),
  );
  expect(table.text.split('\n')[0]).toContain('band,stage,wanted_hz');
  await giveFile(
    page,
    () => page.getByTestId('bank-table').getByRole('button', { name: 'Read CSV' }).click(),
    'broken.csv',
    'band,R1,R2,C1,C2\nx,1k,zwei,10n,10n\n',
  );
  await expect(page.getByText('line 2, R2')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Read', exact: true })).toBeDisabled();
  await page.getByRole('button', { name: 'Cancel' }).click();
  await giveFile(
    page,
    () => page.getByTestId('bank-table').getByRole('button', { name: 'Read CSV' }).click(),
    'bank.csv',
    table.text,
  );
  await page.getByRole('button', { name: 'Read 24 stages' }).click();
  await expect(page.getByText('24 stages read.')).toBeVisible();
  await expect(page.getByTestId('bank-table')).toContainText('No band is off');
  await page.getByRole('button', { name: 'Set all trimmers' }).click();
  await expect(page.getByText('24 trimmers set.')).toBeVisible();
  await expect(page.getByTestId('bank-table')).toContainText(/at \d+\s%/);
  await saved(page);
  await page.reload();
  await expect(strip.getByRole('tab')).toHaveCount(12);
});

test('a leapfrog against a first order: harmonics one by one, or all by degrees', async ({ page }) => {
  await openWorkshop(page, 'Bombarde leapfrog');
  // Turning to the other variant and back lays it under as the ghost.
  await page.keyboard.press('v');
  await page.keyboard.press('v');
  await page.getByRole('tab', { name: 'Four views' }).click();
  await type(page.getByTestId('wave-frequency'), '400');
  await expect(page.getByTestId('harmonics')).toBeVisible({ timeout: 30_000 });
  const after = page.getByTestId('harmonics').locator('.harmonic.after');
  const ghost = page.getByTestId('harmonics').locator('.harmonic-ghost');
  await expect(after).toHaveCount(2);
  await expect(ghost).toHaveCount(8);
  await expect(page.getByTestId('trace-wave-ghost')).toBeVisible();
  // The cutoff raised past the fifth harmonic of 400 Hz: one more comes in.
  await task(page, 'Circuit');
  await type(page.getByTestId('parameter-cutoffHz'), '2.2k');
  await expect(after).toHaveCount(3, { timeout: 30_000 });
});

test('a notch: its depth expected from the tolerance, the part to trim, and the grade that pays', async ({ page }) => {
  await openWorkshop(page, 'Tremulant lag');
  await page.keyboard.press('Control+k');
  await page.keyboard.type('twin-t notch');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('stage-card')).toHaveCount(2);
  await task(page, 'Spread');
  await page.getByRole('button', { name: 'Work it out' }).click();
  const outlook = page.getByTestId('null-outlook');
  await expect(outlook).toContainText('in half the builds', { timeout: 60_000 });
  await expect(outlook).toContainText('Trim');
  await expect(page.getByTestId('grades').getByRole('row').nth(1)).toContainText('%');
});

test('op-amps swapped on the path, and the values aimed to make up for a slow one', async ({ page }) => {
  await openWorkshop(page, 'Swell-box band limiter');
  await task(page, 'Circuit');
  await unfold(page, 'The same path with other op-amps');
  await unfold(page, 'Noise and headroom, stage by stage');
  const table = page.getByTestId('op-amps');
  await expect(table.getByRole('row')).toHaveCount(7);
  await expect(table).toContainText('would oscillate');
  await table.getByRole('button', { name: 'Micropower, 1 MHz' }).click();
  await expect(table.locator('tr.current')).toContainText('Micropower');
  await expect(page.getByTestId('range')).toContainText('of noise at the output');
  await page.getByTestId('stage-card').nth(3).getByRole('button').first().click();
  await task(page, 'Values');
  const cure = page.getByRole('button', { name: 'Make up for it in the values' }).first();
  await cure.click();
  await task(page, 'Circuit');
  await expect(page.getByText('aimed to make up for the op-amp')).toHaveCount(1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('aimed to make up for the op-amp')).toHaveCount(0);
});

test('from stock to parts list: capacitors at hand, what there is and what to buy, packages', async ({ page }) => {
  await openWorkshop(page, 'Swell-box band limiter');
  await page.getByRole('link', { name: 'Jaunty Reed' }).click();
  await page.getByRole('link', { name: 'Stock' }).click();
  await giveFile(
    page,
    () => page.getByRole('button', { name: 'Read CSV' }).click(),
    'broken.csv',
    'kind,value,count\nresistor,ten,3\n',
  );
  await expect(page.getByText('line 2, value')).toBeVisible();
  await page.getByRole('button', { name: 'Put the workshop’s drawer here' }).click();
  await expect(page.getByTestId('stock-row')).toHaveCount(16);
  await page.getByRole('button', { name: 'Remove from stock' }).last().click();
  await expect(page.getByTestId('stock-row')).toHaveCount(15);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('stock-row')).toHaveCount(16);
  await page.reload();
  await expect(page.getByTestId('stock-row')).toHaveCount(16);
  const file = await downloaded(page, () => page.getByRole('button', { name: 'Write CSV' }).click());
  expect(file.text.split('\n')).toHaveLength(18);

  await page.getByRole('link', { name: 'Jaunty Reed' }).click();
  await page.getByRole('link', { name: 'Swell-box band limiter' }).click();
  await task(page, 'Values');
  await choose(page, 'Capacitors from', 'in stock');
  await choose(page, 'Pairs', 'single parts');
  await page.getByRole('button', { name: 'Choose', exact: true }).click();
  await page.getByTestId('choices').getByRole('button', { name: /^Take/ }).first().click({ timeout: 60_000 });
  await task(page, 'Build');
  const list = page.getByTestId('parts-list');
  await expect(list).toContainText('have');
  await expect(page.getByTestId('shopping')).toContainText('to buy');
  // Every capacitor is one of the drawer’s.
  for (const row of await list
    .getByRole('row')
    .filter({ hasText: /[npµ]F/ })
    .all())
    await expect(row.getByRole('cell').nth(4)).not.toHaveText('–');
  await expect(page.getByTestId('packages')).toContainText('IC2');
  await page.getByTestId('packages').getByText('quad').click();
  await expect(page.getByTestId('packages')).toContainText('1 package a board');
});

test('poles and zeros of one’s own; a band-pass by centre and bandwidth', async ({ page }) => {
  await openWorkshop(page, 'Swell-box band limiter');
  await page
    .getByRole('button', { name: /^Remove the / })
    .first()
    .click();
  await choose(page, 'Alignment', 'Own poles and zeros');
  await expect(page.getByTestId('own-section')).toHaveCount(2);
  await type(page.getByTestId('own-zero-1'), '2.5');
  await expect(page.getByTestId('stage-card').nth(1)).toContainText('Bainter');
  await page.getByRole('button', { name: 'real pole' }).click();
  await expect(page.getByTestId('stage-card')).toHaveCount(3);
  await choose(page, 'Response', 'Band-pass');
  await choose(page, 'Alignment', 'Butterworth');
  await type(page.getByTestId('cutoff-bandpass'), '1k');
  await type(page.getByTestId('bandwidth'), '200');
  await expect.poll(async () => Math.abs((await cutoffShown(page)) / 904.99 - 1)).toBeLessThan(0.04);
});

test('a circuit from a deck, an op-amp of one’s own, and parts that track', async ({ page, baseURL }) => {
  const seen = watch(page, baseURL as string);
  await openWorkshop(page, 'Reed pickup rumble filter');
  await page.getByRole('button', { name: 'Add to the path' }).click();
  await page.getByText('Circuit of your own, from a deck').click();
  const text = page.getByTestId('deck-text');
  await text.fill('Bridge\nR1 in a 10k\nR2 a out ten\nC1 in out 10n\nC2 a 0 22n');
  await expect(page.getByRole('alert').filter({ hasText: 'Line 3' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Put it on the path' })).toBeDisabled();
  await text.fill('Bridge\nR1 in a 10k\nR2 a out 10k\nC1 in out 10n\nC2 a 0 22n');
  await page.getByRole('button', { name: 'Put it on the path' }).click();
  await expect(page.getByTestId('stage-card')).toHaveCount(3);
  await expect(page.getByRole('img', { name: /Circuit of Bridge/ })).toBeVisible();
  await task(page, 'Values');
  await type(page.getByTestId('use-R1'), '12k');
  await page.getByRole('button', { name: /^R\d02, .*take in hand/ }).click();
  await choose(page, 'Batch of R202', 'a new batch');
  await expect(page.getByTestId('batch-match')).toBeVisible();
  await saved(page);
  await page.reload();
  await page.getByTestId('stage-card').nth(2).getByRole('button').first().click();
  await task(page, 'Values');
  await expect(page.getByTestId('use-R1')).toHaveValue(/12\s?k/);

  await page.goto('/stock');
  await page.getByRole('button', { name: 'Add op-amp' }).click();
  await page.getByRole('textbox', { name: 'Name of the op-amp' }).fill('Bench amp');
  await page.keyboard.press('Tab');
  await page.goBack();
  await page.getByTestId('stage-card').nth(1).getByRole('button').first().click();
  await task(page, 'Circuit');
  await choose(page, 'Op-amp of this stage', 'Bench amp');
  await unfold(page, 'The same path with other op-amps');
  await expect(page.getByTestId('op-amps')).toContainText('Bench amp');
  expect(seen.complaints).toEqual([]);
});
