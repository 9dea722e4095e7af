import { expect, test, type Page } from '@playwright/test';
import { choose, downloaded, figureOf, openWorkshop, saved, startNew, task, type, watch } from './bench-hands';

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
  // Opens in some milliseconds, closes in some hundreds; a gate shorter than that never opens it.
  const times = page.getByTestId('cell-times');
  await expect(times).toContainText(/Open after 1[12](\.\d)? ms/);
  await type(page.getByRole('textbox', { name: 'lit for' }), '4m');
  await expect(times).toContainText('Put out before it is open');
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

/** Sounds the circuit on the desk for a while, turning its control up and down all along. Returns how often the audio thread found nothing to play, of how many times it looked. */
async function soundedWhileTurned(page: Page, control: RegExp): Promise<{ gaps: number; looks: number }> {
  await task(page, 'Listen');
  await page.getByRole('button', { name: 'Sound it while I turn' }).click();
  await expect(page.getByTestId('live-seconds')).toHaveText(/^[1-9]/, { timeout: 20_000 });
  const slider = page.getByRole('slider', { name: control });
  await slider.focus();
  for (let i = 0; i < 30; i++) {
    await page.keyboard.press(i % 10 < 5 ? 'ArrowRight' : 'ArrowLeft');
    await page.waitForTimeout(50);
  }
  // It goes on while other panes are looked at, and can be silenced from there.
  await task(page, 'Circuit');
  await expect(page.getByRole('button', { name: 'Silence the circuit' })).toBeVisible();
  await task(page, 'Listen');
  const [gaps, seconds] = [Number(await page.getByTestId('live-gaps').innerText()), Number(await page.getByTestId('live-seconds').innerText())];
  await page.getByRole('button', { name: 'Silence the circuit' }).click();
  await expect(page.getByTestId('live-seconds')).toHaveCount(0);
  return { gaps, looks: (seconds * 48_000) / 128 };
}

test('the ladder, the gate, the state variable and the one-op-amp filter sound while they are turned, without drop-outs', async ({ page, baseURL }) => {
  const seen = watch(page, baseURL as string);
  const sounded: [string, { gaps: number; looks: number }][] = [];
  await openWorkshop(page, 'Reed voice, ladder filter');
  sounded.push(['ladder', await soundedWhileTurned(page, /Cutoff CV/)]);
  await page.getByRole('link', { name: 'Jaunty Reed' }).click();
  await page.getByRole('link', { name: 'Plucked stop, optocoupler gate' }).click();
  await expect(page.getByTestId('readout-cutoff')).toContainText('Hz');
  sounded.push(['gate', await soundedWhileTurned(page, /Lamp/)]);
  for (const name of ['OTA state variable', 'One op-amp with a pair of diodes']) {
    await startNew(page);
    await page.getByRole('button', { name: 'Add to the path' }).click();
    await page.getByText('Voltage controlled').hover();
    await page.getByRole('menuitem', { name }).click();
    sounded.push([name, await soundedWhileTurned(page, /current/)]);
  }
  for (const [name, { gaps, looks }] of sounded) {
    test.info().annotations.push({ type: `gaps, ${name}`, description: `${gaps} of ${Math.round(looks)}` });
    expect(gaps / looks, name).toBeLessThan(0.01);
  }
  expect(seen.complaints).toEqual([]);
  expect(seen.outside).toEqual([]);
});
