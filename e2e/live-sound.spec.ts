import { expect, test, type Page } from '@playwright/test';
import { addToPath, openWorkshop, startNew, task, watch } from './bench-hands';

/**
 * Sounds the circuit on the desk for a while, turning its control up and down all along. Returns how often the audio
 * thread found nothing to play, of how many times it looked.
 */
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
  const [gaps, seconds] = [
    Number(await page.getByTestId('live-gaps').innerText()),
    Number(await page.getByTestId('live-seconds').innerText()),
  ];
  await page.getByRole('button', { name: 'Silence the circuit' }).click();
  await expect(page.getByTestId('live-seconds')).toHaveCount(0);
  return { gaps, looks: (seconds * 48_000) / 128 };
}

test(
  'the ladder, the gate, the state variable and the one-op-amp filter sound while they are turned, ' +
    'without drop-outs',
  { tag: '@alone' },
  async ({ page, baseURL }) => {
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
      await addToPath(page, name);
      sounded.push([name, await soundedWhileTurned(page, /Cutoff/)]);
    }
    for (const [name, { gaps, looks }] of sounded) {
      test.info().annotations.push({ type: `gaps, ${name}`, description: `${gaps} of ${Math.round(looks)}` });
      expect(gaps / looks, name).toBeLessThan(0.01);
    }
    expect(seen.complaints).toEqual([]);
    expect(seen.outside).toEqual([]);
  },
);
