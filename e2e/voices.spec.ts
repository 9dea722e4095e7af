import { expect, test, type Page } from '@playwright/test';
import { choose, downloaded, figureOf, openWorkshop, saved, shown, task, type, watch } from './bench-hands';

/** What is shown of the voice. */
const view = (page: Page, name: string): Promise<void> =>
  page.locator('.voice-views').getByText(name, { exact: true }).click();

test('a ladder is turned through its octaves, brought to sing, and asked how much it bears', async ({
  page,
  baseURL,
}) => {
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
  await expect(singing).toContainText('It starts to oscillate at R9');
  await type(page.getByRole('textbox', { name: 'feedback' }), '4.6');
  await expect(singing).toContainText('It oscillates.');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(singing).toContainText('It starts to oscillate');
  // What resonance takes, a part at the input gives back: the curve's low end rises by as much.
  await expect(page.getByTestId('lost')).toContainText('dB');
  const lost = figureOf(await page.getByTestId('lost').locator('b').innerText());
  expect(lost).toBeGreaterThan(10);
  await page.getByRole('button', { name: /^Make it up: R1/ }).click();
  await expect
    .poll(async () =>
      figureOf((await page.getByTestId('readout-peak').innerText()).split(' at ')[0].replace('peak', '')),
    )
    .toBeGreaterThan(lost - 2);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await view(page, 'Loop');
  await expect(page.getByTestId('loop-verdict')).toContainText('more and this loop oscillates');
  await view(page, 'Level');
  await page.getByRole('button', { name: 'Look for 1 %' }).click();
  await expect(page.getByTestId('bend-result')).toContainText('1 % of harmonics at', { timeout: 40_000 });
  // What to measure first: every node at rest, and hours of a battery.
  await view(page, 'Rest');
  await expect(page.getByTestId('battery')).toContainText('hours');
  expect(await page.getByTestId('at-rest').locator('.rest-nodes > span').count()).toBeGreaterThan(8);
  expect(seen.complaints).toEqual([]);
  expect(seen.outside).toEqual([]);
});

test('a gate keeps its lamp in every position, and each has the parts of its own', async ({ page, baseURL }) => {
  const seen = watch(page, baseURL as string);
  await openWorkshop(page, 'Plucked stop, optocoupler gate');
  await task(page, 'Circuit');
  for (const [form, there, gone] of [
    ['filter', 'Q as filter', 'shunt'],
    ['combined', 'Q as filter', 'shunt'],
    ['gate', 'shunt', null],
    ['compensated', 'shunt', null],
  ] as const) {
    await choose(page, 'Form of this circuit', form);
    await expect(page.getByRole('textbox', { name: there, exact: true })).toBeVisible();
    if (gone) await expect(page.getByRole('textbox', { name: gone, exact: true })).toHaveCount(0);
    await expect(page.getByRole('slider', { name: /Lamp/ })).toBeVisible();
    await expect(page.getByTestId('control-panel')).toBeVisible();
  }
  await view(page, 'Cell');
  // Opens in some milliseconds, closes in some hundreds; a gate shorter than that never opens it.
  const times = page.getByTestId('cell-times');
  await expect(times).toContainText(/Open after 1[12](\.\d)?\sms/);
  await type(page.getByRole('textbox', { name: 'lit for' }), '4m');
  await expect(times).toContainText('Put out before it is open');
  await saved(page);
  await page.reload();
  await task(page, 'Circuit');
  await expect(page.getByRole('textbox', { name: 'shunt', exact: true })).toBeVisible();
  expect(seen.complaints).toEqual([]);
});

test(
  'a gate’s four forms are laid over one another, matched, and combined beside one after the other; ' +
    'its cell is a table that can be changed and taken back',
  async ({ page, baseURL }) => {
    const seen = watch(page, baseURL as string);
    await openWorkshop(page, 'Plucked stop, optocoupler gate');
    await task(page, 'Circuit');
    await view(page, 'Forms');
    const forms = page.getByTestId('forms');
    for (const k of [0, 1, 2, 3]) await expect(page.getByTestId(`forms-chart-${k}`)).toBeAttached();
    const path = () => page.getByTestId('forms-chart-0').getAttribute('d');
    const matched = await path();
    await page.getByRole('switch', { name: 'Levels matched' }).click();
    await expect.poll(path).not.toBe(matched);
    // The reduced circuit of each: the filter has no shunt, the gate no capacitor round.
    await forms.getByRole('button', { name: 'filter', exact: true }).click();
    await expect(page.getByRole('img', { name: 'Reduced circuit: filter' })).toContainText('C2');
    await expect(page.getByRole('img', { name: 'Reduced circuit: filter' })).not.toContainText('R3');
    await forms.getByRole('button', { name: 'gate', exact: true }).click();
    await expect(page.getByRole('img', { name: 'Reduced circuit: gate' })).toContainText('R3');
    await expect(page.getByTestId('combined')).toContainText(/lies \+\d+\.\d\sdB from the two in a row/);
    await expect(page.getByTestId('combined-chart-0')).toBeAttached();
    await view(page, 'Cell');
    const now = page.getByTestId('cell-now').locator('b');
    await expect(now).toHaveText('1.5 kΩ');
    await type(page.getByRole('textbox', { name: 'cell of point 3' }), '2k2');
    await expect(now).toHaveText('2.2 kΩ');
    // Warmer by ten degrees: four per cent. A value that breaks the table's order is not taken.
    await type(page.getByRole('textbox', { name: 'warmth, °C' }), '35');
    await expect(now).toHaveText('2.29 kΩ');
    await type(page.getByRole('textbox', { name: 'cell of point 2' }), '100');
    await expect(page.getByRole('textbox', { name: 'cell of point 2' })).toHaveValue(shown('11.9 kΩ'));
    await choose(page, 'The light it had before', 'lit for hours');
    await expect(now).toHaveText('2.64 kΩ');
    await saved(page);
    await page.reload();
    await task(page, 'Circuit');
    await view(page, 'Cell');
    await expect(now).toHaveText('2.64 kΩ');
    await page.getByRole('button', { name: 'a usual one again' }).click();
    await expect(now).toHaveText('1.5 kΩ');
    expect(seen.complaints).toEqual([]);
  },
);

test(
  'a diode filter’s make-up stage takes its level; bootstrapped or behind a follower it does not; ' +
    'level, attenuator and strip board follow',
  async ({ page, baseURL }) => {
    const seen = watch(page, baseURL as string);
    await openWorkshop(page, 'Stopped flute, diode legs');
    await task(page, 'Circuit');
    await expect(page.getByRole('img', { name: /Circuit of Diode legs/ })).toContainText(/d1 \d\.\d+\sV/);
    // A joint is empty for the moment in which its stages have changed and its figures have not.
    const loss = async (index: number) => {
      const text = await page.locator('.joint').nth(index).innerText();
      return text.includes('dB') ? figureOf(text.split('\n')[0]) : NaN;
    };
    await expect.poll(() => loss(1)).toBeLessThan(-3);
    const loaded = await loss(1);
    expect(loaded).toBeLessThan(-3);
    await page.getByTestId('joint-bad').click();
    await page.getByRole('button', { name: 'Bootstrap the next stage’s bias' }).click();
    await expect.poll(() => loss(1)).toBeGreaterThan(loaded / 2);
    await page.getByRole('button', { name: /^Undo/ }).click();
    await expect.poll(() => loss(1)).toBeCloseTo(loaded, 1);
    await page.getByTestId('joint-bad').click();
    await page.getByRole('button', { name: 'Put an emitter follower here' }).click();
    await expect(page.locator('.stage-card')).toHaveCount(3);
    await expect.poll(() => loss(1)).toBeGreaterThan(-1);
    // The circuit is read twice: DC passes no capacitor, the signal sees the supply as ground.
    await page.locator('.stage-card').last().click();
    const drawn = page.getByRole('img', { name: /Circuit of Common emitter/ });
    await expect(drawn).toContainText('c 5');
    await page.getByText('as DC sees it').click();
    await expect(drawn).not.toContainText('µF');
    await page.getByText('as the signal sees it').click();
    await expect(drawn).toContainText('ground');
    await page.getByTitle('as built', { exact: true }).click();
    // Attenuator and make-up at once, from the level that bends it.
    await view(page, 'Level');
    await page.getByRole('button', { name: 'Look for 1 %' }).click();
    await expect(page.getByTestId('bend-result')).toContainText('1 % of harmonics', { timeout: 40_000 });
    await page.getByTestId('make-up').getByRole('button').click();
    await page.locator('.stage-card').first().click();
    await expect(page.getByRole('textbox', { name: 'attenuator before it' })).not.toHaveValue(shown('−20 dB'));
    await page.getByRole('button', { name: 'Look for 25 cents' }).click();
    await expect(page.getByTestId('modulation-result')).toContainText('peak', { timeout: 40_000 });
    await view(page, 'Rest');
    await expect(page.getByTestId('sag').locator('tbody tr')).toHaveCount(5);
    await task(page, 'Build');
    await expect(page.getByTestId('parts-list')).toContainText('small NPN transistor');
    await expect(page.getByTestId('first-volts')).toContainText('V');
    await page.getByRole('button', { name: 'Plan it' }).click();
    await expect(page.getByTestId('strip-check')).toContainText('leads are where they belong');
    expect(seen.complaints).toEqual([]);
  },
);

test(
  'a wah from heel to toe: the peak follows the pedal as its capacitor seems to shrink, with a coil ' + 'and without',
  async ({ page, baseURL }) => {
    const seen = watch(page, baseURL as string);
    await openWorkshop(page, 'Swell pedal wah');
    await task(page, 'Circuit');
    const peakHz = async () => figureOf((await page.getByTestId('readout-peak').innerText()).split(' at ')[1]);
    const pedal = page.getByRole('slider', { name: /Pedal/ });
    for (const variant of ['with a coil', 'without a coil']) {
      await page.getByText(variant, { exact: false }).first().click();
      await expect(page.getByTestId('control-law')).toContainText('octaves');
      await pedal.focus();
      await page.keyboard.press('Home');
      await expect.poll(peakHz).toBeLessThan(490);
      const heel = await peakHz();
      await page.keyboard.press('End');
      await expect.poll(peakHz).toBeGreaterThan(3.5 * heel);
      expect((await peakHz()) / heel).toBeLessThan(6);
      if (variant === 'with a coil')
        expect(figureOf(await page.getByTestId('capacitor-range').locator('b').innerText())).toBeGreaterThan(15);
    }
    await view(page, 'Loop');
    await expect(page.getByTestId('loop-steps').locator('tbody tr').nth(2)).toContainText('−');
    await expect(page.getByTestId('loop-verdict')).toContainText('helps');
    expect(seen.complaints).toEqual([]);
  },
);

test('two variants are rendered, saved as sound, told apart blind, and the verdict goes into the log', async ({
  page,
  baseURL,
}) => {
  const seen = watch(page, baseURL as string);
  await openWorkshop(page, 'Reed voice, ladder filter');
  await task(page, 'Listen');
  await choose(page, 'Notes', 'one long note');
  await type(page.getByRole('textbox', { name: 'each lasts' }), '300m');
  await page.getByRole('button', { name: 'Render every variant' }).click();
  const heard = page.getByTestId('heard');
  await expect(heard.getByRole('row')).toHaveCount(3, { timeout: 60_000 });
  const { name, text } = await downloaded(page, () =>
    heard.getByRole('button', { name: /^Save A .* as WAV$/ }).click(),
  );
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

test('a voice’s panels are asked for by name, from any task, and come into sight', async ({ page }) => {
  await openWorkshop(page, 'Drone in tune');
  const find = async (words: string) => {
    await page.keyboard.press('Control+k');
    await page.getByRole('dialog').getByRole('combobox').fill(words);
    await page.keyboard.press('Enter');
    await expect(page.getByRole('dialog')).toHaveCount(0);
  };
  for (const [words, name] of [
    ['trim its volts', 'Trim'],
    ['oscillation level', 'The oscillation'],
    ['walk the signal', 'Walk'],
    ['operating point', 'At rest'],
  ]) {
    await task(page, 'Brief');
    await find(words);
    await expect(page.getByRole('region', { name, exact: true })).toBeInViewport({ ratio: 0.1 });
  }
  await find('walk the signal');
  await expect(page.getByRole('button', { name: 'Walk the signal', expanded: true })).toBeFocused();
  await find('play a sequence');
  await expect(page.getByRole('button', { name: 'Play the sequence' })).toBeVisible();
});

test('a rendering is heard as it comes, and silenced while it goes on', async ({ page }) => {
  await page.addInitScript(() => {
    // What is begun on the output, by when it starts and how long it is.
    const begun: { at: number; seconds: number }[] = ((window as never as { begun: object[] }).begun = []) as never;
    const start = AudioBufferSourceNode.prototype.start;
    AudioBufferSourceNode.prototype.start = function (at = 0) {
      begun.push({ at, seconds: this.buffer?.duration ?? 0 });
      return start.call(this, at);
    };
  });
  const begun = () => page.evaluate(() => (window as never as { begun: { at: number; seconds: number }[] }).begun);
  await openWorkshop(page, 'Reed voice, ladder filter');
  await task(page, 'Listen');
  await choose(page, 'Notes', 'one long note');
  await type(page.getByRole('textbox', { name: 'each lasts' }), '4');
  await page.getByRole('button', { name: 'Render every variant' }).click();
  await page.getByRole('button', { name: 'Hear it as it comes' }).click();
  await expect.poll(async () => (await begun()).length, { timeout: 60_000 }).toBeGreaterThan(0);
  const [first] = await begun();
  expect(first.seconds).toBeGreaterThanOrEqual(1);
  expect(first.seconds).toBeLessThan(4);
  await page.getByRole('button', { name: 'Silence' }).click();
  await expect(page.getByTestId('heard').getByRole('row')).toHaveCount(3, { timeout: 60_000 });
  await expect(page.getByRole('button', { name: /Hear it as it comes|Silence/ })).toHaveCount(0);
});
