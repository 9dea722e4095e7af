import { expect, test, type Page } from '@playwright/test';
import { choose, figureOf, saved, task, type, unfold, watch } from './bench-hands';
import { Hand, MOST_ACTIONS } from './hand';

/** Jobs of a synthesizer builder from an empty shelf, their actions counted. */

async function begun(page: Page, baseURL: string | undefined, entry: string) {
  const seen = watch(page, baseURL as string);
  await page.goto('/');
  const hand = new Hand(page);
  await hand.does(hand.press('New design'), hand.press(entry));
  return { hand, seen };
}
const heard = (page: Page) => page.getByTestId('heard');

test('a ladder calibrated in volts per octave', async ({ page, baseURL }) => {
  const { hand, seen } = await begun(page, baseURL, 'Transistor ladder, four poles');
  await hand.does(() => task(page, 'Circuit'));
  await expect(page.getByTestId('volts-per-octave')).toContainText(/An octave takes 1\.0\d+\sV/);
  await hand.does(
    () => unfold(page, 'How it is trimmed'),
    () => page.getByRole('button', { name: 'Set the trimmers there' }).click(),
  );
  const off = async (row: number) =>
    figureOf(await page.getByTestId('trim-readings').getByRole('row').nth(row).locator('td').last().innerText());
  for (const row of [1, 2, 3]) await expect.poll(async () => Math.abs(await off(row))).toBeLessThan(4);
  await hand.does(() => unfold(page, 'Warmth, the whole chain'));
  await expect(page.getByTestId('chain-drift').getByRole('row')).toHaveCount(6);
  expect(hand.actions).toBeLessThanOrEqual(MOST_ACTIONS);
  test.info().annotations.push({ type: 'actions', description: `${hand.actions}` });
  // A volt more at the jack is twice the frequency; it is all there again after a reload.
  const pitch = page.getByRole('slider', { name: 'Pitch CV' });
  await expect(pitch).toHaveAttribute('aria-valuetext', /^0\sV/);
  await saved(page);
  await page.reload();
  await task(page, 'Circuit');
  await expect.poll(async () => Math.abs(await off(2))).toBeLessThan(1);
  expect(seen.complaints).toEqual([]);
  expect(seen.outside).toEqual([]);
});

test('diode legs with the stage that makes up for them, and its input mended', async ({ page, baseURL }) => {
  const { hand, seen } = await begun(page, baseURL, 'Two sections on diode legs, with attenuator');
  await hand.does(hand.press('Add to the path'), () =>
    page.getByRole('dialog').getByRole('button', { name: 'Common emitter, one transistor', exact: true }).click(),
  );
  const loss = async () => {
    const text = await page.locator('.joint').nth(1).innerText();
    return text.includes('dB') ? figureOf(text.split('\n')[0]) : NaN;
  };
  await expect.poll(loss).toBeLessThan(-3);
  const before = await loss();
  await hand.does(() => page.getByTestId('joint-bad').first().click(), hand.press('Bootstrap the next stage’s bias'));
  await expect.poll(loss).toBeGreaterThan(before / 2);
  // Its control is a voltage, and what makes the current of it stands on the board.
  await hand.does(
    () =>
      page
        .getByRole('button', { name: /^Diode legs/ })
        .first()
        .click(),
    () => task(page, 'Circuit'),
  );
  await expect(page.getByTestId('volts-per-octave')).toContainText(/At 0\sV it gets/);
  expect(hand.actions).toBeLessThanOrEqual(MOST_ACTIONS);
  test.info().annotations.push({ type: 'actions', description: `${hand.actions}` });
  expect(seen.complaints).toEqual([]);
});

test('a gate in three forms, struck and heard', async ({ page, baseURL }) => {
  test.setTimeout(180_000);
  const { hand, seen } = await begun(page, baseURL, 'Optocoupler gate and filter');
  for (const form of ['filter', 'gate', 'combined']) {
    await hand.does(() => task(page, 'Circuit'));
    if (form !== 'filter') await hand.does(() => choose(page, 'Form of this circuit', form));
    await hand.does(() => task(page, 'Listen'), hand.press(/^Render it/));
    await expect(heard(page).getByRole('row')).toHaveCount(2, { timeout: 90_000 });
    expect(figureOf(await heard(page).getByRole('row').nth(1).locator('td').nth(1).innerText())).toBeGreaterThan(0);
  }
  expect(hand.actions).toBeLessThanOrEqual(MOST_ACTIONS);
  test.info().annotations.push({ type: 'actions', description: `${hand.actions}` });
  expect(seen.complaints).toEqual([]);
});

test('a filter on LEDs brought to sing, heard, and its board planned', async ({ page, baseURL }) => {
  test.setTimeout(180_000);
  const { hand, seen } = await begun(page, baseURL, 'One op-amp with a pair of diodes');
  await hand.does(
    () => task(page, 'Circuit'),
    () => choose(page, 'Form of this circuit', 'LED pair'),
  );
  await expect(page.getByTestId('singing')).toContainText('It starts to oscillate at R6');
  await hand.does(
    () => task(page, 'Values'),
    () => type(page.getByRole('textbox', { name: 'R6, value to use' }), '39k'),
    () => task(page, 'Circuit'),
  );
  await expect(page.getByTestId('singing')).toContainText('It oscillates.');
  await hand.does(() => task(page, 'Listen'), hand.press(/^Render it/));
  await expect(heard(page).getByRole('row')).toHaveCount(2, { timeout: 120_000 });
  await hand.does(() => task(page, 'Build'), hand.press('Plan it'));
  await expect(page.getByTestId('strip-check')).toContainText('leads are where they belong', { timeout: 60_000 });
  expect(hand.actions).toBeLessThanOrEqual(MOST_ACTIONS);
  test.info().annotations.push({ type: 'actions', description: `${hand.actions}` });
  expect(seen.complaints).toEqual([]);
});

test('a wah from heel to toe, heard', async ({ page, baseURL }) => {
  test.setTimeout(120_000);
  const { hand, seen } = await begun(page, baseURL, 'Wah with a coil, two transistors');
  await hand.does(
    () => task(page, 'Listen'),
    () => choose(page, 'Source of the sound', 'plucked string'),
    hand.press('A slow oscillation on a control'),
    () => type(page.getByTestId('moves').getByRole('textbox', { name: 'by, of travel' }), '50'),
    () => choose(page, 'Control that is moved', 'nothing'),
    hand.press(/^Render it/),
  );
  await expect(heard(page).getByRole('row')).toHaveCount(2, { timeout: 90_000 });
  await hand.does(() => unfold(page, 'Spectrogram'));
  await expect(page.getByTestId('spectrogram')).toBeAttached();
  expect(hand.actions).toBeLessThanOrEqual(MOST_ACTIONS);
  test.info().annotations.push({ type: 'actions', description: `${hand.actions}` });
  // What moves it is the design's: it is there after a reload, and undo takes it back.
  await saved(page);
  await page.reload();
  await task(page, 'Listen');
  await expect(page.getByTestId('moves').getByRole('textbox', { name: 'by, of travel' })).toHaveValue(/50/);
  expect(seen.complaints).toEqual([]);
});

test('a sequence and keys are played live on a voice', { tag: '@alone' }, async ({ page, baseURL }) => {
  const { hand, seen } = await begun(page, baseURL, 'OTA cascade, four poles');
  await hand.does(
    () => task(page, 'Listen'),
    () => choose(page, 'How it is played', 'a sequence'),
    hand.press('Play the sequence'),
  );
  await expect(page.getByTestId('live-seconds')).toHaveText(/^[1-9]/, { timeout: 30_000 });
  const first = page.getByRole('button', { name: /^Step 1:/ });
  await first.focus();
  await page.keyboard.press('ArrowUp');
  await expect(first).toHaveAccessibleName('Step 1: A♯1');
  await page.getByRole('button', { name: 'Accent on step 2' }).click();
  await expect(page.getByRole('button', { name: 'Accent on step 2' })).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(page.getByRole('button', { name: 'Accent on step 2' })).toHaveAttribute('aria-pressed', 'false');
  await choose(page, 'How it is played', 'from keys');
  const keys = page.getByRole('group', { name: /^Keys from/ });
  await keys.focus();
  await page.keyboard.down('g');
  await expect(page.getByRole('button', { name: 'Key G' })).toHaveClass(/down/);
  await page.keyboard.up('g');
  await expect(page.getByRole('button', { name: 'Key G' })).not.toHaveClass(/down/);
  await page.getByRole('button', { name: 'Use a MIDI keyboard' }).click();
  await expect(page.getByTestId('keys').getByRole('status')).toContainText(/MIDI/);
  // What is played is kept as a file.
  await page.getByRole('button', { name: 'Record', exact: true }).click();
  await page.waitForTimeout(500);
  const [kept] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Stop and save WAV' }).click(),
  ]);
  expect(kept.suggestedFilename()).toMatch(/played\.wav$/);
  await page.getByRole('button', { name: 'Silence', exact: true }).click();
  expect(seen.complaints).toEqual([]);
});
