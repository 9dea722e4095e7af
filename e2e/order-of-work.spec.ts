import { expect, test } from '@playwright/test';
import { choose, cutoffShown, exportAs, figureOf, giveFile, saved, startNew, task, type, watch } from './bench-hands';

test('one filter from brief to log: empty storage, all tasks, out as files and back in', async ({ page, baseURL }) => {
  const seen = watch(page, baseURL as string);
  await page.goto('/');
  await expect(page.getByText('The shelf is empty.')).toBeVisible();
  await startNew(page);

  await test.step('Brief: an eighth-order low-pass at 2.4 kHz that must keep and lose', async () => {
    await page.getByRole('textbox', { name: 'Title of the design' }).fill('Bourdon tone filter');
    await type(page.getByTestId('cutoff-lowpass'), '2k4');
    await choose(page, 'Order', '(48 dB');
    await expect(page.getByTestId('stage-card')).toHaveCount(4);
    // Stage Qs of an eighth-order Butterworth, from the pole angles: 1/(2 sin((2k−1)π/16)).
    for (const [i, q] of ['0.51', '0.601', '0.9', '2.56'].entries())
      await expect(page.getByTestId('stage-card').nth(i)).toContainText(`Q ${q}`);
    await page.getByRole('button', { name: 'pass limit' }).click();
    await page.getByRole('button', { name: 'stop limit' }).click();
    const verdicts = page.getByTestId('brief-verdict');
    await expect(verdicts).toHaveCount(2);
    await expect(verdicts.first()).toContainText('met');
    await type(page.getByRole('textbox', { name: 'dB down' }).nth(1), '60');
    await expect(verdicts.nth(1)).toContainText('missed');
    await type(page.getByRole('textbox', { name: 'dB down' }).nth(1), '40');
    await expect(verdicts.nth(1)).toContainText('met');
  });

  await test.step('Circuit: candidates side by side; a change of circuit throughout, undone and redone', async () => {
    await task(page, 'Circuit');
    const table = page.getByRole('region', { name: 'Comparison of circuits' });
    await expect(table.getByRole('row')).toHaveCount(17);
    await table.getByRole('button', { name: 'Multiple feedback' }).click();
    await expect(page.getByTestId('stage-card').first()).toContainText('Multi-feedback');
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(page.getByTestId('stage-card').first()).toContainText('Sallen-Key');
    await page.getByRole('button', { name: 'Redo' }).click();
    await expect(page.getByTestId('stage-card').first()).toContainText('Multi-feedback');
    await page.getByRole('button', { name: 'Undo' }).click();
  });

  await test.step('Values: the cutoff lands near what was asked; a typed part moves it, and can be held', async () => {
    await task(page, 'Values');
    expect(Math.abs((await cutoffShown(page)) / 2400 - 1)).toBeLessThan(0.04);
    await page.getByTestId('stage-card').nth(3).getByRole('button').first().click();
    await expect(page.getByTestId('got-Q')).toContainText('2.');
    const before = figureOf(await page.getByTestId('got-cutoff').innerText());
    const used = figureOf(await page.getByTestId('use-C1').inputValue());
    await type(page.getByTestId('use-C1'), `${used * 1.44e9}n`);
    // In a unity-gain Sallen-Key the frequency goes with 1/√C1.
    await expect
      .poll(async () => figureOf(await page.getByTestId('got-cutoff').innerText()) / before)
      .toBeCloseTo(1 / 1.2, 2);
    await page.getByRole('button', { name: /^Hold C\d*1 and compute the others around it/ }).click();
    await expect
      .poll(async () => Math.abs(figureOf(await page.getByTestId('got-cutoff').innerText()) / 2400 - 1))
      .toBeLessThan(0.06);
    await page.getByTestId('use-C1').fill('');
    await page.getByTestId('use-C1').press('Enter');
    const box = page.getByRole('checkbox', { name: /Leave C\d*2 out/ });
    await box.check();
    await expect(page.getByRole('img', { name: /Circuit of Low-pass 4/ })).toContainText('empty');
    await box.uncheck();
  });

  await test.step('Curves: a cursor from the keyboard, a dragged cutoff, other views', async () => {
    await page.keyboard.press('c');
    await page.keyboard.press('PageUp');
    await expect(page.getByTestId('readout-cursor')).toContainText('as built −3.0');
    const handle = page.getByTestId('handle-lowpass');
    const at = await handle.locator('.knob').boundingBox();
    if (!at) throw new Error('no handle');
    await page.mouse.move(at.x + 6, at.y + 6);
    await page.mouse.down();
    await page.mouse.move(at.x - 60, at.y + 6, { steps: 12 });
    await page.mouse.up();
    await expect.poll(() => cutoffShown(page)).toBeLessThan(1900);
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect.poll(() => cutoffShown(page)).toBeGreaterThan(2250);
    for (const view of ['Group delay', 'Step', 'Wave', 'Response']) {
      await page.getByRole('tab', { name: view }).click();
      await expect(page.locator('.plot path.trace.asBuilt').first()).toBeVisible();
    }
  });

  await test.step('Checks: a heavy load through an output resistor turns a joint red; it is mended', async () => {
    await task(page, 'Values');
    await type(page.getByTestId('output-resistor'), '1k');
    await task(page, 'Brief');
    await type(page.getByTestId('load'), '2k2');
    const joint = page.getByTestId('joint-bad');
    // 2.2 k of 3.2 k: 20 log10(2.2/3.2) = −3.25 dB.
    await expect(joint).toContainText('−3.2');
    await joint.click();
    await page.locator('.joint-cure').getByRole('button').click();
    await expect(page.getByTestId('joint-bad')).toHaveCount(0);
  });

  await test.step('Spread: drawn in a worker, a band on the curve, a histogram', async () => {
    await task(page, 'Spread');
    await page.getByRole('button', { name: 'Run tolerances' }).click();
    await expect(page.getByTestId('cutoff-histogram')).toBeVisible();
    await expect(page.getByTestId('spread-band')).toBeAttached();
    await expect(page.getByText('Which part matters most')).toBeVisible();
  });

  await test.step('Live spread: dragged, the band goes along; undone, the full drawing is back', async () => {
    const band = page.getByTestId('spread-band').locator('path').last();
    const drawn = await band.getAttribute('d');
    const knob = await page.getByTestId('handle-lowpass').locator('.knob').boundingBox();
    if (!knob) throw new Error('no handle to drag');
    await page.mouse.move(knob.x + knob.width / 2, knob.y + knob.height / 2);
    await page.mouse.down();
    await page.mouse.move(knob.x - 60, knob.y, { steps: 12 });
    await expect.poll(() => band.getAttribute('d')).not.toBe(drawn);
    await expect(page.locator('.spread-band.stale')).toHaveCount(0);
    await page.mouse.up();
    await expect(page.getByTestId('spread-stale')).toBeVisible();
    await page.keyboard.press('Control+z');
    await expect(page.getByTestId('spread-stale')).toHaveCount(0);
  });

  await test.step('Build: parts for five boards, as a table and as CSV', async () => {
    await task(page, 'Build');
    await type(page.getByTestId('boards'), '5');
    await expect(page.getByTestId('parts-list')).toContainText('JFET-input audio');
    const parts = await exportAs(page, 'The parts list (CSV)');
    expect(parts.name).toBe('bourdon-tone-filter-parts.csv');
    const lines = parts.text
      .trim()
      .split('\n')
      .map((l) => l.split(','));
    expect(lines[0][0]).toBe('kind');
    const sum = (of: string[][]) => of.reduce((all, l) => all + Number(l.at(-1)), 0);
    const isBesides = (l: string[]) => l[0] === 'besides';
    const total = sum(lines.slice(1).filter((l) => !isBesides(l)));
    // Four stages of two resistors, two capacitors and an op-amp, one output resistor, five boards.
    expect(total).toBe(5 * (4 * 5 + 1));
    // Two packages with a capacitor at each of two pins, two where the rails come in, connector, switch, two jacks.
    expect(sum(lines.filter(isBesides))).toBe(5 * (2 * 2 + 2 + 1 + 1 + 2));
  });

  await test.step('Measure: the exported curve, 3 dB up, read back and aligned, differs by nothing', async () => {
    const response = await exportAs(page, 'The view in front (CSV)');
    const rows = response.text
      .trim()
      .split('\n')
      .slice(1)
      .map((l) => l.split(',').map(Number));
    await task(page, 'Measure');
    const file = `* sweep of the prototype\n${rows.map((r) => `${r[0]}\t${r[1] + 3}\t${r[2]}`).join('\n')}`;
    await giveFile(page, () => page.getByRole('button', { name: 'Read a file' }).click(), 'prototype.txt', file);
    await expect(page.getByTestId('measurement')).toContainText('−3.00 dB');
    await expect(page.getByTestId('worst-difference')).toContainText('0.00 dB');
    await page.getByRole('checkbox', { name: /align levels/ }).uncheck();
    await expect(page.getByTestId('worst-difference')).toContainText('+3.00 dB');
  });

  await test.step('Log: a note with the numbers', async () => {
    await task(page, 'Log');
    await page.getByRole('textbox', { name: 'Note', exact: true }).fill('Prototype swept; keeps 1 dB at 1.2 kHz.');
    await page.getByRole('button', { name: 'Write down' }).click();
    await expect(page.getByTestId('log-entry')).toContainText('kHz');
  });

  await test.step('Everything survives a reload', async () => {
    await saved(page);
    const cutoff = await page.getByTestId('readout-cutoff').innerText();
    await page.reload();
    await expect(page.getByTestId('readout-cutoff')).toHaveText(cutoff);
    await expect(page.getByTestId('stage-card')).toHaveCount(4);
    await expect(page.getByRole('textbox', { name: 'Title of the design' })).toHaveValue('Bourdon tone filter');
    await task(page, 'Log');
    await expect(page.getByTestId('log-entry')).toContainText('Prototype swept');
  });

  await test.step('Out as every format, removed, and back in from the file', async () => {
    const deck = await exportAs(page, 'A circuit deck (.cir)');
    expect(deck.text).toMatch(/^Bourdon tone filter\nVin in 0 AC 1 0\n/);
    expect((await exportAs(page, 'The drawing (SVG)')).text).toContain('<svg');
    await page.getByRole('tab', { name: 'Response' }).click();
    expect((await exportAs(page, 'The view in front (SVG)')).text).toContain('A as built');
    await page.getByRole('tab', { name: 'Wave' }).click();
    await expect(page.getByTestId('harmonics')).toBeVisible();
    expect((await exportAs(page, 'The view in front (SVG)')).text).toContain(
      'source and output once it has settled, V',
    );
    const design = await exportAs(page, 'The design (JSON)');
    expect(JSON.parse(design.text)).toMatchObject({
      format: 'jaunty-reed-design',
      version: 8,
      title: 'Bourdon tone filter',
    });
    const cutoff = await page.getByTestId('readout-cutoff').innerText();
    await page.getByRole('link', { name: 'Jaunty Reed' }).click();
    await page.getByRole('button', { name: 'Bourdon tone filter: more' }).click();
    await page.getByRole('menuitem', { name: 'Remove' }).click();
    await page.getByRole('button', { name: 'Remove', exact: true }).click();
    await expect(page.getByTestId('shelf-card')).toHaveCount(0);
    await giveFile(page, () => page.getByRole('button', { name: 'Import' }).click(), design.name, design.text);
    await page.getByRole('link', { name: 'Bourdon tone filter' }).click();
    await expect(page.getByTestId('readout-cutoff')).toHaveText(cutoff);
    await task(page, 'Log');
    await expect(page.getByTestId('log-entry')).toContainText('Prototype swept');
  });

  expect(seen.outside).toEqual([]);
  expect(seen.complaints).toEqual([]);
});

test(
  'alignments: a fourth-order Linkwitz-Riley is 6.02 dB down at its cutoff, and its stages are two ' + 'Butterworths',
  async ({ page }) => {
    await startNew(page);
    await choose(page, 'Alignment', 'Linkwitz-Riley');
    await choose(page, 'Order', '(24 dB');
    await expect(page.getByTestId('stage-card')).toHaveCount(2);
    for (const i of [0, 1]) await expect(page.getByTestId('stage-card').nth(i)).toContainText('Q 0.707');
    await page.keyboard.press('Escape');
    // Near the handle the cursor snaps to the mark: where the circuit as built is 6 dB under its pass band, which is
    // what this alignment calls its cutoff.
    await expect(page.getByTestId('readout-reference')).toContainText('−6 dB under the pass band');
    const surface = page.getByTestId('cursor-surface').first();
    const box = await surface.boundingBox();
    const knob = await page.getByTestId('handle-lowpass').locator('.knob').boundingBox();
    if (!box || !knob) throw new Error('no plot');
    await surface.hover({ position: { x: knob.x + knob.width / 2 - box.x, y: 20 } });
    await expect(page.getByTestId('readout-cursor')).toContainText(/at cursor\s*9\d\d/);
    const built = await page.getByTestId('readout-cursor').locator('.ink-asBuilt').innerText();
    expect(figureOf(built.replace('A as built', ''))).toBeCloseTo(-6.02, 1);
  },
);
