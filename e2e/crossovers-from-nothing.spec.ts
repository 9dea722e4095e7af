import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { Hand, MOST_ACTIONS } from './hand';
import { choose, figureOf, saved, task, unfold, watch } from './bench-hands';

/** Jobs of a loudspeaker builder from an empty shelf, their actions counted. */
class BuilderHand extends Hand {
  readonly way = (at: number, name: string) => () =>
    this.page.getByTestId('way-row').nth(at).getByRole('button', { name, exact: true }).click();
  readonly files =
    (...names: string[]) =>
    async () => {
      const [chooser] = await Promise.all([
        this.page.waitForEvent('filechooser'),
        this.page.getByRole('button', { name: 'Measured files' }).click(),
      ]);
      await chooser.setFiles(
        names.map((name) => ({
          name,
          mimeType: 'text/plain',
          buffer: readFileSync(`public/drivers/${name}`),
        })),
      );
    };
}

const sumOff = async (page: Page): Promise<number> =>
  figureOf((await page.getByTestId('readout-sum').innerText()).replace('±', ''));

test('a two-way from two pairs of files: flat within 1.5 dB and above 4 ohm', async ({ page, baseURL }) => {
  const seen = watch(page, baseURL as string);
  await page.goto('/');
  const hand = new BuilderHand(page);
  await hand.does(hand.press('New design'), hand.press('Two-way crossover'));
  await hand.does(hand.files('alder-165-response.txt', 'alder-165-impedance.txt'));
  await expect(page.getByTestId('way-row').first()).toContainText('alder 165');
  await expect(page.getByTestId('driver-drop')).toContainText('has its response, its impedance');
  await hand.does(hand.press('Set an acoustic target of its own'), hand.way(1, 'Tweeter'));
  await hand.does(hand.files('finch-25-response.txt', 'finch-25-impedance.txt'));
  await expect(page.getByTestId('way-row').nth(1)).toContainText('finch 25');
  await hand.does(
    hand.press('Set an acoustic target of its own'),
    () => page.getByTestId('way-panel').getByRole('button', { name: 'reversed' }).click(),
    hand.press('Level them'),
    () => task(page, 'Values'),
    hand.press(/^Fit \d+ parts/),
  );
  // It is done when it can be asked for again.
  await expect(page.getByRole('button', { name: /^Fit \d+ parts/ })).toBeVisible();
  await hand.does(hand.press('Take these values'));
  await expect.poll(() => sumOff(page)).toBeLessThanOrEqual(1.5);
  expect(figureOf(await page.getByTestId('readout-load').innerText())).toBeGreaterThanOrEqual(4);
  expect(hand.actions).toBeLessThanOrEqual(MOST_ACTIONS);
  await saved(page);
  await page.reload();
  await expect.poll(() => sumOff(page)).toBeLessThanOrEqual(1.5);
  expect(seen.complaints).toEqual([]);
});

test('an active three-way, its levels trimmed to one another, and the same with a subwoofer', async ({
  page,
  baseURL,
}) => {
  const seen = watch(page, baseURL as string);
  await page.goto('/');
  const hand = new BuilderHand(page);
  await hand.does(hand.press('New design'), hand.press('Active three-way'));
  await expect(page.getByTestId('way-row')).toHaveCount(3);
  await expect(page.getByTestId('way-row').nth(1).getByTestId('stage-card')).toHaveCount(4);
  await expect(page.getByTestId('readout-load')).toContainText('own amplifiers');
  const before = await sumOff(page);
  await hand.does(hand.press('Level them'));
  await expect.poll(() => sumOff(page)).toBeLessThan(before);
  // Each that is louder has a trimmer of its own, a part to buy and a knob to turn.
  await expect(page.getByTestId('way-row').nth(2)).toContainText('Volume');
  await expect(page.getByRole('slider', { name: 'Level, Tweeter' })).toBeVisible();
  await hand.does(() => page.getByRole('checkbox', { name: 'and a subwoofer' }).click());
  await expect(page.getByTestId('way-row')).toHaveCount(4);
  await expect(page.getByTestId('way-row').first()).toContainText('Subwoofer');
  // What was trimmed stays trimmed, and the new way is brought in with the same button.
  await hand.does(hand.press('Level them'), () => task(page, 'Build'));
  await expect(page.getByRole('tabpanel').last()).toContainText(/op-amp/i);
  expect(hand.actions).toBeLessThanOrEqual(MOST_ACTIONS);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('way-row')).toHaveCount(3);
  expect(seen.complaints).toEqual([]);
});

test('a cabinet as it was found: its hump notched both ways with prices, and held against it', async ({
  page,
  baseURL,
}) => {
  const seen = watch(page, baseURL as string);
  await page.goto('/');
  const hand = new BuilderHand(page);
  await hand.does(hand.press('New design'), hand.press('Two-way crossover'));
  await hand.does(() => unfold(page, 'What is in the cabinet'));
  const found = (way: string, list: string) => () =>
    page.getByRole('textbox', { name: `Parts found before ${way}` }).fill(list);
  await hand.does(found('Woofer', '1 mH, across 10'));
  await expect(page.getByTestId('found-panel').getByRole('alert')).toContainText('“across 10”');
  await hand.does(found('Woofer', '1 mH, across 10 uF'), found('Tweeter', '4.7 uF, across 0.33 mH, 2R2, across 8R2'));
  await expect(page.getByRole('img', { name: 'What was found before Tweeter' })).toBeVisible();
  await hand.does(
    hand.press('Keep it as the one to beat'),
    () => page.getByRole('radio', { name: /^B/ }).click(),
    hand.press('Variants: more'),
    () => page.getByRole('menuitem', { name: 'New variant from this one' }).click(),
    () => task(page, 'Values'),
    hand.press('find it'),
  );
  const offers = page.getByTestId('notch-offers').getByRole('row');
  await expect(offers).toHaveCount(3);
  for (const at of [1, 2]) await expect(offers.nth(at)).toContainText(/mH.*µF.*Ω.*\d+\.\d\d/s);
  // Found on the driver as high as it is: the woofer's resonance has 5.2 dB at 1150 Hz.
  expect(Math.abs(figureOf(await page.getByTestId('hump-depth').inputValue()) - 5.2)).toBeLessThan(0.3);
  // Pulled by key: up by half a decibel is so much less of it.
  const depth = figureOf(await page.getByTestId('hump-depth').inputValue());
  await page.getByTestId('handle-hump').focus();
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowUp');
  await expect
    .poll(async () => figureOf(await page.getByTestId('hump-depth').inputValue()))
    .toBeCloseTo(depth - 0.5, 1);
  await hand.does(hand.press('Take the notch across the driver'));
  const beside = page.getByTestId('beside-panel');
  const prices = beside.getByRole('row').filter({ hasText: 'parts' }).getByRole('cell');
  await expect(prices).toHaveCount(3);
  await expect
    .poll(async () => {
      const [, now, then] = await prices.allInnerTexts();
      return Number(now) - Number(then);
    })
    .toBeGreaterThan(5);
  for (const figure of ['off level', 'least load', '15° above', 'after 3 ms'])
    await expect(beside).toContainText(figure);
  expect(hand.actions).toBeLessThanOrEqual(MOST_ACTIONS);
  expect(seen.complaints).toEqual([]);
});

test('a pad with an adjustable leg and a bypass: the pot begins where the resistor was', async ({ page, baseURL }) => {
  const seen = watch(page, baseURL as string);
  await page.goto('/');
  const hand = new BuilderHand(page);
  await hand.does(hand.press('New design'), hand.press('Two-way crossover'));
  await hand.does(hand.press('Add before the driver of Tweeter'), () =>
    page.getByRole('menuitem', { name: 'Level pad' }).click(),
  );
  await expect(page.getByRole('img', { name: /Circuit of Pad/ })).toBeVisible();
  await hand.does(() => choose(page, 'Form', 'two resistors, top lifted'));
  await expect(page.locator('.working')).toContainText(/lift at 20\skHz/);
  await hand.does(() => task(page, 'Values'), hand.press(/^R\d+, .*in line.*take in hand|^R\d+, .*take in hand/));
  const before = await page.getByTestId('readout-sum').innerText();
  await hand.does(() => page.getByTestId('part-in-hand').getByText('on a pot').click());
  await expect(page.getByTestId('control')).toHaveCount(1);
  await expect(page.getByTestId('readout-sum')).toHaveText(before);
  const slider = page.getByTestId('control').getByRole('slider');
  await hand.does(async () => {
    await slider.focus();
    await page.keyboard.press('End');
  });
  await expect(page.getByTestId('readout-sum')).not.toHaveText(before);
  expect(hand.actions).toBeLessThanOrEqual(10);
  await page.keyboard.press('Control+z');
  expect(seen.complaints).toEqual([]);
});
