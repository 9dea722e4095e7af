import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import {
  addToPath,
  choose,
  cutoffShown,
  downloaded,
  figureOf,
  openWorkshop,
  shown,
  startNew,
  task,
  type,
} from './bench-hands';

test('two tabs on one design lose nothing: the idle one follows, of two that clash both are kept whole', async ({
  page,
  context,
}) => {
  await startNew(page);
  const other = await context.newPage();
  await other.goto(page.url());
  await expect(other.getByTestId('cutoff-lowpass')).toHaveValue(shown('1 kHz'));

  await type(page.getByTestId('cutoff-lowpass'), '1k5');
  await expect(other.getByTestId('cutoff-lowpass')).toHaveValue(shown('1.5 kHz'));

  // Both change within one breath: the second save finds the shelf moved on.
  await Promise.all([
    type(page.getByTestId('cutoff-lowpass'), '700'),
    type(other.getByTestId('cutoff-lowpass'), '2k2'),
  ]);
  const words = /yours lies whole on the shelf as “New low-pass \(from another tab\)”/;
  const late = async () => (await page.getByText(words).count()) + (await other.getByText(words).count());
  await expect.poll(late).toBe(1);
  await other.close();
  await page.goto('/');
  await expect(page.getByTestId('shelf-card')).toHaveCount(2);
  const seen = new Set<string>();
  for (const name of [/^New low-pass (?!\(from)/, /^New low-pass \(from another tab\)/]) {
    await page.getByRole('link', { name }).click();
    seen.add(await page.getByTestId('cutoff-lowpass').inputValue());
    await page.getByRole('link', { name: 'Jaunty Reed' }).click();
  }
  expect([...seen].sort()).toEqual(['2.2 kHz', '700 Hz'].map(shown));
});

test('variants: a second one, its ghost, and Q held to see it', async ({ page }) => {
  await openWorkshop(page, 'Swell-box band limiter');
  await expect(page.getByTestId('stage-card')).toHaveCount(4);
  await page.getByRole('radio', { name: /^B/ }).click();
  await expect(page.getByTestId('stage-card')).toHaveCount(2);
  await expect(page.getByTestId('trace-ghost')).toBeVisible();
  await expect(page.getByText('+12.0 / −12.0 dB/oct')).toBeVisible();
  const built = await page.getByTestId('trace-asBuilt').getAttribute('d');
  await page.keyboard.down('q');
  await expect(page.getByTestId('trace-asBuilt')).not.toHaveAttribute('d', built ?? '');
  await page.keyboard.up('q');
  await expect(page.getByTestId('trace-asBuilt')).toHaveAttribute('d', built ?? '');
  const variants = page.getByRole('radiogroup', { name: 'Variant' }).getByRole('radio');
  await page.getByRole('button', { name: 'Variants: more' }).click();
  await page.getByRole('menuitem', { name: 'New variant from this one' }).click();
  await expect(variants).toHaveCount(3);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(variants).toHaveCount(2);
});

test('stages are reordered, bypassed, retuned and added from the path', async ({ page }) => {
  await openWorkshop(page, 'Swell-box band limiter');
  const cards = page.getByTestId('stage-card');
  await page.getByRole('button', { name: 'High-pass 1: more' }).click();
  await page.getByRole('menuitem', { name: 'Move towards the load' }).click();
  await expect(cards.nth(0)).toContainText('Q 1.31');
  await cards.nth(0).getByRole('button').first().click();
  await task(page, 'Circuit');
  await type(page.getByTestId('stage-q'), '2');
  await expect(cards.nth(0)).toContainText('≠ 72 Hz Q 2');
  await page.getByRole('button', { name: 'follow the plan again' }).click();
  await expect(cards.nth(0)).toContainText('Q 1.31');
  await page.keyboard.press('Escape');
  await page.locator('#task-circuit').focus();
  await page.keyboard.press('b');
  await expect(cards.nth(0)).toContainText('bypassed');
  await addToPath(page, 'Buffer');
  await expect(cards).toHaveCount(5);
  await expect(cards.nth(4)).toContainText('Follower');
});

test('from the keyboard alone: a cutoff by arrow keys, a task by number, an action by name', async ({ page }) => {
  await startNew(page);
  await page.getByTestId('handle-lowpass').focus();
  for (let i = 0; i < 5; i++) await page.keyboard.press('Shift+ArrowRight');
  // Five times ten steps of one per cent.
  await expect(page.getByTestId('cutoff-lowpass')).toHaveValue(/^1\.64\d?\skHz$/);
  await page.keyboard.press('3');
  await expect(page.getByTestId('use-R1')).toBeVisible();
  await page.getByTestId('use-R1').focus();
  const before = await page.getByTestId('use-R1').inputValue();
  await page.keyboard.press('ArrowUp');
  await expect(page.getByTestId('use-R1')).not.toHaveValue(before);
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Find anything' }).fill('ideal');
  await page.keyboard.press('Enter');
  await task(page, 'Circuit');
  await expect(page.getByText('Ideal op-amp').first()).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByText('Ideal op-amp')).toHaveCount(0);
});

test('supply, single or dual, and Bessel by delay or by half power', async ({ page }) => {
  await startNew(page);
  await choose(page, 'Alignment', 'Bessel');
  const half = await cutoffShown(page);
  await choose(page, 'What the cutoff means', 'delay');
  // Second order, delay-normalised: half power at 1.3617 of 1/(2πτ).
  await expect.poll(async () => (await cutoffShown(page)) / half).toBeGreaterThan(1.3);
  expect((await cutoffShown(page)) / half).toBeLessThan(1.43);
  await choose(page, 'Supply', 'single');
  await type(page.getByRole('textbox', { name: 'level, RMS' }), '5');
  await expect(page.getByTestId('checks')).toContainText('and clips');
});

test('the wall is dragged, moved by keys, kept, put back; one key gives the task the whole desk', async ({ page }) => {
  await openWorkshop(page, 'Swell-box band limiter');
  const wall = page.getByRole('separator', { name: 'Wall between curves and task' });
  const width = async () => (await page.locator('.tasks').boundingBox())?.width ?? 0;
  const natural = await width();
  const box = await wall.boundingBox();
  if (!box) throw new Error('no wall');
  await page.mouse.move(box.x + 6, box.y + 200);
  await page.mouse.down();
  await page.mouse.move(box.x - 144, box.y + 200, { steps: 5 });
  await page.mouse.up();
  await expect.poll(width).toBeGreaterThan(natural + 130);
  await wall.focus();
  await page.keyboard.press('ArrowRight');
  const moved = await width();
  await page.reload();
  await expect(page.getByTestId('readout-cutoff')).toContainText('Hz');
  await expect.poll(width).toBe(moved);
  await wall.focus();
  await page.keyboard.press('Home');
  await expect.poll(width).toBe(natural);
  await page.locator('#task-brief').focus();
  await page.keyboard.press('f');
  await expect(page.locator('.curves')).toBeHidden();
  expect(await width()).toBeGreaterThan(1200);
  await page.keyboard.press('f');
  await expect(page.locator('.curves')).toBeVisible();
});

test('curves are kept under what comes, of this design and others, hidden and forgotten one by one', async ({
  page,
}) => {
  await openWorkshop(page, 'Swell-box band limiter');
  const kept = page.getByTestId('trace-kept');
  await page.keyboard.press('k');
  await expect(page.getByRole('button', { name: 'Swell-box band limiter, A', exact: true })).toBeVisible();
  await expect(kept).toHaveCount(1);
  await page.getByRole('link', { name: 'Jaunty Reed' }).click();
  await page.getByRole('link', { name: 'Bellows microphone hiss filter' }).click();
  await expect(kept).toHaveCount(1);
  await page.getByRole('button', { name: '+ overlay' }).click();
  await expect(kept).toHaveCount(2);
  await page.getByRole('button', { name: 'Swell-box band limiter, A', exact: true }).click();
  await expect(kept).toHaveCount(1);
  await page.reload();
  await expect(kept).toHaveCount(1);
  await page.getByRole('button', { name: 'Forget Bellows microphone hiss filter, A' }).click();
  await page.getByRole('button', { name: 'Forget Swell-box band limiter, A' }).click();
  await expect(page.getByRole('button', { name: /^Forget/ })).toHaveCount(0);
});

test('the frequency axis is set, zoomed by wheel and keys, and put back; the figures stay what they are', async ({
  page,
}) => {
  await openWorkshop(page, 'Swell-box band limiter');
  const cutoff = await page.getByTestId('readout-cutoff').innerText();
  const shown = page.getByRole('button', { name: /^Frequencies shown:/ });
  await expect(shown).toHaveText('5 Hz – 50 kHz');
  const surface = page.getByTestId('cursor-surface').first();
  const box = (await surface.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + 80);
  await page.mouse.wheel(0, -300);
  await expect(shown).not.toHaveText('5 Hz – 50 kHz');
  // One turn of the wheel is one, and stays one: 300 px of 500 for a factor of e, about the middle of the range.
  const decades = 2 * Math.exp(-300 / 500);
  await page.waitForTimeout(500);
  const [from, to] = (await shown.innerText()).split('–').map(figureOf);
  expect(Math.abs(from / (500 / 10 ** decades) - 1)).toBeLessThan(0.02);
  expect(Math.abs(to / (500 * 10 ** decades) - 1)).toBeLessThan(0.02);
  await page.keyboard.press('a');
  await expect(shown).toHaveText('20 Hz – 20 kHz');
  await page.keyboard.press('c');
  await page.keyboard.press('+');
  await expect(shown).not.toHaveText('20 Hz – 20 kHz');
  await shown.click();
  const fields = page.getByRole('group', { name: 'Frequencies shown' });
  await type(fields.getByRole('textbox', { name: 'from' }), '100');
  await type(fields.getByRole('textbox', { name: 'to' }), '1k2');
  await expect(shown).toHaveText('100 Hz – 1.2 kHz');
  // What is read does not hang on what is shown.
  await expect(page.getByTestId('readout-cutoff')).toHaveText(cutoff);
  await type(fields.getByRole('textbox', { name: 'to' }), '50');
  await expect(fields.getByRole('alert').or(page.getByRole('tooltip')).first()).toBeVisible();
  await expect(shown).toHaveText('100 Hz – 1.2 kHz');
  await fields.getByRole('button', { name: 'all of the circuit' }).click();
  await expect(shown).toHaveText('5 Hz – 50 kHz');
});

test('a wave in volts on an offset, its harmonics under it, out over in; the difference of any two curves', async ({
  page,
}) => {
  await openWorkshop(page, 'Swell-box band limiter');
  await page.getByRole('tab', { name: 'Wave' }).click();
  // The brief's 1 V RMS.
  await expect(page.getByTestId('wave-peak')).toHaveValue(shown('1.414 V'));
  await expect(page.getByTestId('harmonics')).toBeVisible();
  await expect(page.getByTestId('readout-cursor')).toContainText('fundamental');
  const wave = page.getByTestId('trace-time');
  const drawn = await wave.getAttribute('d');
  await type(page.getByTestId('wave-offset'), '2');
  await expect.poll(() => wave.getAttribute('d')).not.toBe(drawn);
  await page.getByText('x-y', { exact: true }).click();
  await expect(page.getByTestId('trace-xy')).toBeVisible();
  await page.getByRole('tab', { name: 'Difference' }).click();
  const difference = page.getByTestId('trace-difference');
  await expect(difference).toBeVisible();
  await choose(page, 'Curve that is taken away', 'ideal');
  await expect(page.getByText('A as built less ideal, dB')).toBeAttached();
  await choose(page, 'Curve that is taken away', 'B as built');
  await expect(page.getByText('A as built less B ghost, dB')).toBeAttached();
});

test('the view in front becomes a picture, twice as fine as the screen: curves, a map, the schematic', async ({
  page,
}) => {
  await openWorkshop(page, 'Tone cabinet, two-way');
  const picture = async () => {
    await page.getByRole('button', { name: 'Export' }).click();
    const { name, path } = await downloaded(page, () =>
      page.getByRole('menuitem', { name: 'The view in front (PNG)' }).click(),
    );
    const bytes = readFileSync(path);
    expect(bytes.subarray(1, 4).toString('latin1')).toBe('PNG');
    return { name, bytes: bytes.length, width: bytes.readUInt32BE(16), height: bytes.readUInt32BE(20) };
  };
  await expect(page.getByTestId('trace-sum')).toBeVisible();
  const room = (await page.locator('[data-view-in-front]').boundingBox())!;
  const ways = await picture();
  expect(ways.name).toBe('tone-cabinet-two-way-ways.png');
  expect(Math.abs(ways.width - 2 * room.width)).toBeLessThanOrEqual(2);
  expect(Math.abs(ways.height - 2 * room.height)).toBeLessThanOrEqual(2);
  // Curves, grid and lettering, not bare paper.
  expect(ways.bytes).toBeGreaterThan(20_000);
  await page.getByRole('tab', { name: 'Schematic' }).click();
  await expect(page.getByTestId('sheet-view').locator('svg').first()).toBeVisible();
  expect((await picture()).bytes).toBeGreaterThan(10_000);
});
