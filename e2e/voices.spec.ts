import { expect, test } from '@playwright/test';
import { choose, downloaded, figureOf, openWorkshop, saved, task, type, watch } from './bench-hands';

test('a ladder is turned through its octaves, brought to sing, and asked how much it bears', async ({ page, baseURL }) => {
  const seen = watch(page, baseURL as string);
  await openWorkshop(page, 'Reed voice, ladder filter');
  await task(page, 'Circuit');
  const law = page.getByTestId('control-law');
  await expect(law).toContainText('octaves');
  expect(figureOf(await law.locator('b').first().innerText())).toBeGreaterThan(7.8);
  // The control moves the curve: a fifth of eight octaves up is about a factor of three.
  const peakHz = async () => figureOf((await page.getByTestId('readout-peak').innerText()).split(' at ')[1]);
  const before = await peakHz();
  const slider = page.getByRole('slider', { name: /Cutoff CV/ });
  await slider.focus();
  for (let i = 0; i < 20; i++) await page.keyboard.press('ArrowRight');
  await expect.poll(peakHz).toBeGreaterThan(2.7 * before);
  expect((await peakHz()) / before).toBeLessThan(3.3);
  // It sings below a resistor that it names; with that resistor halved it does, and the desk says so.
  const singing = page.getByTestId('singing');
  await expect(singing).toContainText('It starts to sing at R9');
  await type(page.getByRole('textbox', { name: 'feedback' }), '4.6');
  await expect(singing).toContainText('It sings.');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(singing).toContainText('It starts to sing');
  await page.getByRole('button', { name: 'Look for 1 %' }).click();
  await expect(page.getByTestId('bend-result')).toContainText('1 % of harmonics at', { timeout: 40_000 });
  // What to measure first: every node at rest, and hours of a battery.
  await expect(page.getByTestId('at-rest')).toContainText('hours');
  expect(await page.getByTestId('at-rest').locator('.rest-nodes > span').count()).toBeGreaterThan(8);
  expect(seen.complaints).toEqual([]);
  expect(seen.outside).toEqual([]);
});

test('a gate in its three forms keeps its lamp, and each form has the parts of its own', async ({ page, baseURL }) => {
  const seen = watch(page, baseURL as string);
  await openWorkshop(page, 'Plucked stop, optocoupler gate');
  await task(page, 'Circuit');
  for (const [form, there, gone] of [['filter', 'Q', 'shunt'], ['gate', 'shunt', 'Q'], ['both at once', 'shunt', null]] as const) {
    await choose(page, 'Form of this circuit', form);
    await expect(page.getByRole('textbox', { name: there, exact: true })).toBeVisible();
    if (gone) await expect(page.getByRole('textbox', { name: gone, exact: true })).toHaveCount(0);
    await expect(page.getByRole('slider', { name: /Lamp/ })).toBeVisible();
    await expect(page.getByTestId('control-panel')).toBeVisible();
  }
  await saved(page);
  await page.reload();
  await task(page, 'Circuit');
  await expect(page.getByRole('textbox', { name: 'shunt', exact: true })).toBeVisible();
  expect(seen.complaints).toEqual([]);
});

test('two variants are rendered, saved as sound, told apart blind, and the verdict goes into the log', async ({ page, baseURL }) => {
  const seen = watch(page, baseURL as string);
  await openWorkshop(page, 'Reed voice, ladder filter');
  await task(page, 'Listen');
  await choose(page, 'Notes', 'one long note');
  await type(page.getByRole('textbox', { name: 'each lasts' }), '300m');
  await page.getByRole('button', { name: 'Render every variant' }).click();
  const heard = page.getByTestId('heard');
  await expect(heard.getByRole('row')).toHaveCount(3, { timeout: 60_000 });
  const { name, text } = await downloaded(page, () => heard.getByRole('button', { name: /^Save A .* as WAV$/ }).click());
  expect(name).toMatch(/\.wav$/);
  expect(text.slice(0, 4)).toBe('RIFF');
  const blind = page.getByTestId('blind');
  await blind.getByRole('button', { name: 'Play the first' }).click();
  await blind.getByRole('button', { name: 'Play the second' }).click();
  await blind.getByRole('button', { name: 'I prefer the second' }).click();
  await expect(blind).toContainText(/You preferred [AB] · .* It is in the log\./);
  await task(page, 'Log');
  await expect(page.getByText(/Heard blind and at one level \(saw\): .* preferred to/)).toBeVisible();
  await saved(page);
  await page.reload();
  await task(page, 'Log');
  await expect(page.getByText(/Heard blind and at one level/)).toBeVisible();
  expect(seen.complaints).toEqual([]);
  expect(seen.outside).toEqual([]);
});
