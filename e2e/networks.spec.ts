import { expect, test } from '@playwright/test';
import { choose, figureOf, openWorkshop, saved, task, type, watch } from './bench-hands';

test('one RC in four views: its wave dragged from far below the cutoff to far above', async ({ page, baseURL }) => {
  const seen = watch(page, baseURL as string);
  await openWorkshop(page, 'Tremulant lag');
  await page.getByRole('tab', { name: 'Four views' }).click();
  const views = page.getByTestId('four-views');
  await expect(views).toContainText('63 % of the way after 1 ms');
  await expect(views).toContainText('Half power (−3.01 dB, 0.707 of the voltage) at 159 Hz');
  await expect(views).toContainText('half voltage (−6.02 dB, a quarter of the power) only at 276 Hz');

  const passes = async (): Promise<number> =>
    figureOf(/passes at ([−+\d.]+\s?)dB/.exec(await views.innerText())?.[1] ?? 'none');
  const handle = page.getByTestId('wave-handle');
  const drag = async (byX: number): Promise<void> => {
    const box = (await handle.locator('.knob').boundingBox())!;
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width / 2 + byX, box.y + box.height / 2, { steps: 6 });
    await page.mouse.up();
  };
  const before = await passes();
  expect(before).toBeGreaterThan(-1);
  await drag(160);
  await expect.poll(passes).toBeLessThan(-8);
  await expect(page.getByTestId('parts-at-work')).toContainText('C1');
  // The same from the keyboard: Home is far below the cutoff, End far above.
  await handle.focus();
  await page.keyboard.press('Home');
  await expect.poll(passes).toBeGreaterThan(-0.1);
  await page.keyboard.press('End');
  await expect.poll(passes).toBeLessThan(-35);
  await page.keyboard.press('Shift+ArrowLeft');
  await expect.poll(passes).toBeGreaterThan(-41);

  await choose(page, 'Wave', 'saw');
  await expect(views).toContainText('A saw through it');
  await type(page.getByTestId('discharge'), '2k2');
  await expect(views).toContainText('down after 221 µs');
  await page.getByRole('tab', { name: 'Impedance' }).click();
  await expect(page.getByTestId('readout-cursor')).toContainText('share the voltage');
  expect(seen.complaints).toEqual([]);
});

test(
  'a shaped amplifier with both capacitors against none: shelves, nuisances, difference, and the other ' + 'way round',
  async ({ page }) => {
    await openWorkshop(page, 'Horn preamplifier, shaped');
    await task(page, 'Circuit');
    const shelves = page.getByTestId('shelves');
    await expect(shelves.getByRole('row')).toHaveCount(3);
    // Rule of thumb against exact: off by one part in the gain.
    await expect(shelves).toContainText('−4.9 %');
    await expect(page.getByRole('region', { name: 'Shelves' })).toContainText('The op-amp’s own top');
    const nuisances = page.getByTestId('nuisance');
    await expect(nuisances).toHaveCount(2);
    await expect(nuisances.first()).toContainText('without');

    await page.getByRole('button', { name: 'without C' }).click();
    await expect(page.getByTestId('trace-bare')).toBeVisible();
    await page.getByRole('tab', { name: 'Difference' }).click();
    await expect(page.getByTestId('trace-difference')).toBeVisible();
    await page.getByRole('tab', { name: 'Response' }).click();
    await page.getByRole('button', { name: 'straight lines' }).click();
    await expect(page.getByTestId('trace-straight')).toBeVisible();

    await type(page.getByTestId('lose-db'), '30');
    await expect(page.getByTestId('shaping-answer')).toContainText('One capacitor cannot');
    await type(page.getByTestId('lose-db'), '15');
    await expect(page.getByTestId('shaping-answer')).toContainText('A corner at');
    await page.getByRole('button', { name: 'Set it so' }).click();
    const corner = figureOf(/corner at ([\d.]+\sk?)Hz/.exec(await page.getByTestId('shaping-answer').innerText())![1]);
    await expect
      .poll(async () => figureOf(await page.getByTestId('parameter-topHz').inputValue()) / corner)
      .toBeCloseTo(1, 1);

    await choose(page, 'Form of this circuit', 'no capacitor');
    await expect(page.getByRole('region', { name: 'Shelves' })).toContainText('No capacitor shapes it');
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(shelves.getByRole('row')).toHaveCount(3);
  },
);

test('a resistor on a pot: swept, its family of curves, a better taper, a second gang; it survives a reload', async ({
  page,
}) => {
  await openWorkshop(page, 'Tremulant lag');
  await task(page, 'Values');
  await page.getByRole('button', { name: /^R1, .*take in hand/ }).click();
  await page.getByTestId('part-in-hand').getByText('on a pot').click();
  const turn = page.getByTestId('turn');
  await expect(turn).toBeVisible();
  await expect(page.getByTestId('turn-range')).toContainText('octaves');
  const cutoff = async (): Promise<number> => figureOf(await page.getByTestId('readout-cutoff').innerText());
  const slider = page.getByTestId('control').getByRole('slider');
  await slider.focus();
  await page.keyboard.press('Home');
  await expect.poll(cutoff).toBeGreaterThan(1000);
  await page.keyboard.press('End');
  await expect.poll(cutoff).toBeLessThan(40);
  await expect(turn.getByRole('row').nth(1)).toContainText('evenest');
  await turn.getByRole('button', { name: 'log', exact: true }).click();
  await expect(
    page.getByRole('radiogroup', { name: 'Taper' }).getByRole('radio', { name: 'log', exact: true }),
  ).toBeChecked();
  await page.getByTestId('part-in-hand').getByText('measured').click();
  await type(page.getByTestId('taper-table'), '0 0; 50 70; 40 80');
  await expect(page.getByRole('alert').first()).toContainText('The old table stays');
  await saved(page);
  await page.reload();
  await expect(page.getByTestId('control')).toHaveCount(1);
  await task(page, 'Values');
  await page.getByRole('button', { name: /^R1, .*take in hand/ }).click();
  await page.getByTestId('part-in-hand').getByText('fixed').click();
  await expect(page.getByTestId('control')).toHaveCount(0);
});

test('a tone control: bass and treble turned at the desk', async ({ page }) => {
  await openWorkshop(page, 'Tone cabinet, bass and treble');
  await expect(page.getByTestId('control')).toHaveCount(2);
  await expect(page.getByTestId('family')).toHaveCount(1);
  const at = async (freq: string): Promise<number> => {
    const plot = page.locator('#plot');
    await plot.focus();
    await page.keyboard.press(freq);
    return figureOf(/as built ([−+\d.]+\s)/.exec(await page.getByTestId('readout-cursor').innerText())![1]);
  };
  const bass = page.getByRole('slider', { name: 'Bass', exact: true });
  await bass.focus();
  await page.keyboard.press('Home');
  await expect.poll(() => at('Home')).toBeLessThan(-30);
  await bass.focus();
  await page.keyboard.press('End');
  await expect.poll(() => at('Home')).toBeGreaterThan(-6);
  const treble = page.getByRole('slider', { name: 'Treble', exact: true });
  await treble.focus();
  await page.keyboard.press('End');
  await expect.poll(() => at('End')).toBeGreaterThan(-4);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(() => at('End')).toBeLessThan(-10);
});

test('a calculator’s result is dropped into the part in hand, from the keyboard alone', async ({ page }) => {
  await openWorkshop(page, 'Tremulant lag');
  await page.keyboard.press('3');
  const part = page.getByRole('button', { name: /^R1, .*take in hand/ });
  await part.focus();
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('part-in-hand')).toContainText('R1');
  await page.keyboard.press('Control+k');
  await page.keyboard.type('parallel pair');
  await page.keyboard.press('Enter');
  const wanted = page.getByTestId('calculator-R');
  await wanted.focus();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('11.25k');
  await page.keyboard.press('Enter');
  const put = page.getByRole('button', { name: 'Put into R1' }).last();
  await put.focus();
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('calculator')).toHaveCount(0);
  await expect(page.getByText('R1 is now 11.2')).toBeVisible();
  await expect.poll(async () => figureOf(await page.getByTestId('readout-cutoff').innerText())).toBeCloseTo(141.4, 0);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => figureOf(await page.getByTestId('readout-cutoff').innerText())).toBeCloseTo(159.2, 0);
});

test(
  'a lesson from the keyboard alone: a circuit added by name, its form, its figures, four views, ' + 'cursor and marks',
  async ({ page }) => {
    await openWorkshop(page, 'Tremulant lag');
    await page.keyboard.press('Control+k');
    await page.keyboard.type('equal sections loaded');
    await page.keyboard.press('Enter');
    await expect(page.getByTestId('stage-card')).toHaveCount(2);
    await expect(page.getByRole('tab', { name: 'Circuit' })).toHaveAttribute('aria-selected', 'true');
    const corner = page.getByTestId('parameter-cutoffHz');
    await corner.focus();
    await page.keyboard.press('Control+a');
    await page.keyboard.type('1.2k');
    await page.keyboard.press('Enter');
    await expect(page.getByTestId('stage-card').nth(1)).toContainText('1.15 kHz');
    await page.getByRole('combobox', { name: 'Form of this circuit' }).focus();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await expect(page.getByTitle('three low-pass').first()).toBeVisible();
    // 26x² + 13x⁴ + x⁶ = 1 for three loaded sections: x = 0.1943.
    await expect(page.getByText(/0\.194/).first()).toBeVisible();
    await page.keyboard.press('Escape');
    await page.locator('body').click({ position: { x: 2, y: 2 } });
    await page.keyboard.press('Shift+5');
    await expect(page.getByTestId('four-views')).toBeVisible();
    await page.keyboard.press('Shift+1');
    await page.keyboard.press('c');
    await page.keyboard.press('PageDown');
    await expect(page.getByTestId('readout-cursor')).toContainText('as built');
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await expect(page.getByTestId('stage-card')).toHaveCount(1);
  },
);
