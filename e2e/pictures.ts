import { test, type Page } from '@playwright/test';
import { openWorkshop, task } from './bench-hands';

const shoot = async (page: Page, name: string): Promise<void> => {
  await page.waitForTimeout(700);
  await page.screenshot({ path: `docs/screenshots/${name}.png` });
};
const home = (page: Page): Promise<void> => page.getByRole('link', { name: 'Jaunty Reed' }).click();

test('pictures of the main views', async ({ page }) => {
  await openWorkshop(page, 'Swell-box band limiter');
  await home(page);
  await page.getByTestId('shelf-card').first().waitFor();
  await shoot(page, 'shelf');

  await page.getByRole('link', { name: 'Swell-box band limiter' }).click();
  await page
    .getByTestId('cursor-surface')
    .first()
    .hover({ position: { x: 420, y: 120 } });
  await shoot(page, 'desk-brief');
  await page.getByTestId('stage-card').nth(3).getByRole('button').first().click();
  await task(page, 'Circuit');
  await shoot(page, 'desk-circuit');
  await task(page, 'Values');
  await shoot(page, 'desk-values');
  await page.getByRole('tab', { name: 'Schematic' }).click();
  await page.getByRole('button', { name: 'Dark evening bench' }).click();
  await page.getByRole('button', { name: /^R102, / }).click();
  await shoot(page, 'desk-evening-bench');
  await page.getByRole('button', { name: 'Light paper' }).click();

  await home(page);
  await page.getByRole('link', { name: 'Bellows microphone hiss filter' }).click();
  await task(page, 'Spread');
  await page.getByRole('button', { name: 'Run tolerances' }).click();
  await page.getByTestId('cutoff-histogram').first().waitFor();
  await shoot(page, 'desk-spread');
  await page.getByRole('tab', { name: 'Step' }).click();
  await task(page, 'Build');
  await page
    .getByTestId('cursor-surface')
    .first()
    .hover({ position: { x: 300, y: 200 } });
  await shoot(page, 'desk-build');

  await home(page);
  await page.getByRole('link', { name: 'Tremulant lag' }).click();
  await page.getByRole('tab', { name: 'Four views' }).click();
  await task(page, 'Circuit');
  await shoot(page, 'desk-four-views');
  await home(page);
  await page.getByRole('link', { name: 'Horn preamplifier, shaped' }).click();
  await task(page, 'Circuit');
  await page.getByRole('button', { name: 'without C' }).click();
  await page.getByRole('button', { name: 'straight lines' }).click();
  await page.getByRole('region', { name: 'Nuisances' }).scrollIntoViewIfNeeded();
  await shoot(page, 'desk-shaped-amplifier');

  await home(page);
  await page.getByRole('link', { name: 'Heterodyne stop, elliptic' }).click();
  await page.getByRole('button', { name: 'Match this brief' }).click();
  await page.locator('.matches tbody tr').first().waitFor();
  await page.getByTestId('matches').scrollIntoViewIfNeeded();
  await page.locator('.matches tbody tr').nth(2).hover();
  await shoot(page, 'desk-match');
  await home(page);
  await page.getByRole('link', { name: 'Krummhorn formant' }).click();
  await task(page, 'Circuit');
  await page.getByRole('button', { name: 'other outputs' }).click();
  await page.getByTestId('blocks').getByRole('button').nth(3).hover();
  await shoot(page, 'desk-loop');
  await home(page);
  await page.getByRole('link', { name: 'Formant bank, half octaves' }).click();
  await task(page, 'Values');
  await page.getByRole('button', { name: 'Choose all' }).click();
  await page.getByText('No band is off').waitFor({ timeout: 40_000 });
  await shoot(page, 'desk-bank');
  await home(page);
  await page.getByRole('link', { name: 'New design' }).click();
  await page.getByTestId('gallery-card').first().waitFor();
  await shoot(page, 'new-design');
  await page.getByRole('link', { name: 'Stock' }).click();
  await page.getByRole('button', { name: 'Put the workshop’s drawer here' }).click();
  await page.getByTestId('stock-row').first().waitFor();
  await shoot(page, 'stock');

  await home(page);
  await page.getByRole('link', { name: 'Reed pickup rumble filter' }).click();
  await task(page, 'Measure');
  await page.getByText('hide a fault in it').click();
  await page.getByRole('button', { name: 'Sweep', exact: true }).click();
  await page.getByRole('button', { name: 'Find what is wrong' }).click();
  await page.getByTestId('verdict').waitFor();
  await shoot(page, 'desk-measure');

  await home(page);
  await page.getByRole('link', { name: 'Tone cabinet, two-way' }).click();
  await page.keyboard.press('v');
  await page.getByTestId('readout-sum').waitFor();
  await task(page, 'Values');
  await page.getByRole('button', { name: /^Fit \d+ parts/ }).click();
  await page.getByRole('button', { name: /^Fit \d+ parts/ }).waitFor();
  await page.getByTestId('fit-result').waitFor();
  await shoot(page, 'desk-crossover');
  await home(page);
  await page.getByRole('link', { name: 'Drone in tune, volts an octave' }).click();
  await task(page, 'Circuit');
  await page.getByTestId('volts-per-octave').scrollIntoViewIfNeeded();
  await page.waitForTimeout(1500);
  await shoot(page, 'desk-voice');
  await home(page);
  await page.getByRole('link', { name: 'Drone in tune, volts an octave' }).click();
  await task(page, 'Listen');
  await page.getByRole('combobox', { name: 'How it is played' }).click();
  await page.locator('.ant-select-item-option').filter({ hasText: 'a sequence' }).click();
  await page.getByRole('button', { name: /^Render it/ }).click();
  await page.getByTestId('heard').waitFor({ timeout: 60_000 });
  await page.getByRole('button', { name: /^Spectrogram/ }).click();
  await page.getByTestId('sequencer').scrollIntoViewIfNeeded();
  await shoot(page, 'desk-listen');
  await home(page);
  await page.getByRole('link', { name: 'Drivers' }).click();
  await page.getByTestId('driver-entry').first().waitFor();
  await shoot(page, 'drivers');
});
