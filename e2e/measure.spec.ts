import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, expect, test, type Page } from '@playwright/test';
import { begin, choose, giveFile, openWorkshop, saved, task, type, unfold, watch } from './bench-hands';

const verdict = (page: Page) => page.getByTestId('verdict');

test('swept on the simulated card, a hidden fault is named and in the log, in six actions', async ({
  page,
  baseURL,
}) => {
  const seen = watch(page, baseURL as string);
  await openWorkshop(page, 'Swell-box band limiter');
  await task(page, 'Measure');
  await page.getByText('hide a fault in it').click();
  await page.getByRole('button', { name: 'Sweep', exact: true }).click();
  await page.getByRole('button', { name: 'Find what is wrong' }).click();
  await expect(verdict(page)).toContainText('Not as good as its parts');
  const first = page.getByRole('list', { name: 'Explanations, likeliest first' }).getByRole('listitem').first();
  // Behind the sentence stands the way to the part it names.
  const sentence = (await first.innerText()).replace(/^.*%\s*/, '').replace(/ show \w+$/, '');
  expect(sentence).toMatch(/^[RC]\d+ .*(measure it|joints|solder)/);
  await task(page, 'Log');
  await expect(page.getByTestId('log-entry').first().getByRole('textbox')).toHaveValue(`Board 1: ${sentence}`);
  await expect(page.getByTestId('log-entry').nth(1).getByRole('textbox')).toHaveValue(/^Board 1 measured at output/);
  // It stays, and one step takes a measurement and its note back together.
  await saved(page);
  await page.reload();
  await task(page, 'Measure');
  await expect(page.getByTestId('measurement')).toHaveCount(1);
  expect(seen.complaints).toEqual([]);
  expect(seen.outside).toEqual([]);
});

test('ten boards with one odd: a table, the odd one furthest off, the lot as CSV', async ({ page }) => {
  await openWorkshop(page, 'Reed pickup rumble filter');
  await task(page, 'Measure');
  const field = (name: string) => page.getByRole('textbox', { name, exact: true });
  await type(field('takes'), '0.5 s');
  const odd = 4;
  for (let board = 1; board <= 10; board++) {
    await type(field('board'), String(board));
    if (board === odd || board === odd + 1) await page.getByText('hide a fault in it').click();
    await page.getByRole('button', { name: 'Sweep', exact: true }).click();
    await expect(page.getByTestId('measurement')).toHaveCount(board);
  }
  const rows = page.getByTestId('batch').getByRole('row');
  await expect(rows).toHaveCount(11);
  const off = await Promise.all(
    Array.from({ length: 10 }, async (_, i) =>
      Number(
        (
          await rows
            .nth(i + 1)
            .getByRole('cell')
            .nth(3)
            .innerText()
        ).split(/\s/)[0],
      ),
    ),
  );
  expect(off.indexOf(Math.max(...off)) + 1).toBe(odd);
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Write CSV' }).click(),
  ]);
  expect(
    readFileSync(await file.path(), 'utf8')
      .trim()
      .split('\n'),
  ).toHaveLength(11);
});

test('a notch is trimmed while its sweep repeats: it says when it was better', async ({ page }) => {
  await page.goto('/');
  await begin(page, 'Twin-T notch');
  await task(page, 'Measure');
  await unfold(page, 'Trim while it sweeps');
  await choose(page, 'Part that is turned', 'R1');
  await page.getByRole('button', { name: 'Repeat the sweep' }).click();
  const said = page.getByTestId('trim');
  await expect(said).toContainText('The best so far');
  const slider = page.getByRole('slider', { name: 'R1, per cent of what it is' });
  await slider.focus();
  for (let i = 0; i < 30; i++) await page.keyboard.press('PageUp');
  await expect(said).toContainText('It was better: turn back');
  await expect(said).toContainText(/deepest [+−]?[\d.]+\sdB at/);
  await page.getByRole('button', { name: 'Stop repeating' }).click();
  await expect(page.getByTestId('measurement')).toHaveCount(0);
});

const folder = mkdtempSync(join(tmpdir(), 'reed-card-'));
const file = (name: string) => join(folder, name);
const reed = (...args: string[]) =>
  execFileSync(process.execPath, ['scripts/reed.mjs', ...args], { stdio: ['ignore', 'pipe', 'ignore'] });
const RATE_HZ = 48_000;
const SWEEP = { from: 20, to: 20_000, seconds: 1, level: -12 };

/**
 * 32-bit floats to the 16 bits that the browser's stand-in for a microphone reads over and over: so short that whatever
 * is recorded has one whole sweep, wherever it begins.
 */
function asCaptured(from: string, to: string, seconds: number): void {
  const bytes = readFileSync(from);
  const count = Math.round(seconds * RATE_HZ);
  const out = Buffer.alloc(44 + 2 * count);
  out.write('RIFF', 0);
  out.writeUInt32LE(out.length - 8, 4);
  out.write('WAVEfmt ', 8);
  out.writeUInt32LE(16, 16);
  out.writeUInt16LE(1, 20);
  out.writeUInt16LE(1, 22);
  out.writeUInt32LE(RATE_HZ, 24);
  out.writeUInt32LE(2 * RATE_HZ, 28);
  out.writeUInt16LE(2, 32);
  out.writeUInt16LE(16, 34);
  out.write('data', 36);
  out.writeUInt32LE(2 * count, 40);
  for (let i = 0; i < count; i++) out.writeInt16LE(Math.round(32_767 * bytes.readFloatLE(44 + 4 * i)), 44 + 2 * i);
  writeFileSync(to, out);
}

/** A filter's board with a resistor of ten times its value, recorded by the simulated card. */
function recorded(): { design: string; captured: string; wav: string } {
  const design = file('filter.json');
  const range = [
    '--from',
    `${SWEEP.from}`,
    '--to',
    `${SWEEP.to}`,
    '--seconds',
    `${SWEEP.seconds}`,
    '--level',
    `${SWEEP.level}`,
  ];
  reed(
    'design',
    '--response',
    'lowpass',
    '--alignment',
    'butterworth',
    '--order',
    '4',
    '--cutoff',
    '1k',
    '--out',
    design,
  );
  reed('sweep', ...range, '--out', file('sweep.wav'));
  reed('bench', design, '--seed', '2', '--fault', 'R101=x10', '--in', file('sweep.wav'), '--out', file('board.wav'));
  asCaptured(file('board.wav'), file('captured.wav'), SWEEP.seconds + 0.2);
  return { design, captured: file('captured.wav'), wav: file('board.wav') };
}

async function openFilter(page: Page, design: string): Promise<void> {
  await page.goto('/');
  await giveFile(
    page,
    () => page.getByRole('button', { name: 'Import' }).click(),
    'filter.json',
    readFileSync(design, 'utf8'),
  );
  await page.getByTestId('shelf-card').first().getByRole('link').click();
  await task(page, 'Measure');
  await choose(page, 'Instrument', 'This computer’s sound card');
  const field = (name: string) => page.getByRole('textbox', { name, exact: true });
  await type(field('from'), `${SWEEP.from}`);
  await type(field('to'), `${SWEEP.to}`);
  await type(field('takes'), `${SWEEP.seconds} s`);
  await type(field('peak'), `${SWEEP.level}`);
}

test(
  'the computer’s own card: through the browser’s stand-in for it, to the part that is wrong',
  {
    tag: '@alone',
  },
  async ({ baseURL }) => {
    const { design, captured } = recorded();
    const browser = await chromium.launch({
      executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--use-fake-ui-for-media-stream',
        '--use-fake-device-for-media-stream',
        `--use-file-for-fake-audio-capture=${captured}`,
      ],
    });
    const page = await browser.newPage({ baseURL, viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' });
    await openFilter(page, design);
    await expect(page.getByText('Never a power amplifier’s output into a card')).toBeVisible();
    await page.getByRole('button', { name: 'Sweep', exact: true }).click();
    // The stand-in keeps time by a clock of its own: on some machines it loses blocks at every try. That is said, and
    // nothing is measured.
    const measured = page.getByTestId('measurement');
    const stop = page.getByRole('button', { name: 'Stop', exact: true });
    await expect(stop).toHaveCount(1);
    await expect(async () => {
      // Twice: between one try and the next it is gone for a moment.
      expect(await stop.count()).toBe(0);
      await page.waitForTimeout(1000);
      expect(await stop.count()).toBe(0);
    }).toPass({ timeout: 200_000 });
    if ((await measured.count()) === 0) {
      await expect(page.getByRole('alert').filter({ hasText: 'samples were lost on the way' })).toBeVisible();
      test.info().annotations.push({ type: 'lost', description: 'samples were lost at every try' });
    } else {
      await page.getByRole('button', { name: 'Find what is wrong' }).click();
      await expect(verdict(page)).toContainText('R101 is about');
    }
    await browser.close();
  },
);

test('a recording from a file says the same, and one that is none says why', async ({ page }) => {
  const { design, wav } = recorded();
  await openFilter(page, design);
  await page.getByRole('button', { name: 'Recorded elsewhere', expanded: false }).click();
  const read = () => page.getByRole('button', { name: 'Read a recording' }).click();
  await giveFile(page, read, 'holiday.wav', 'no sound at all');
  await expect(page.getByText('holiday.wav was not read')).toBeVisible();
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), read()]);
  await chooser.setFiles(wav);
  await expect(page.getByTestId('measurement')).toHaveCount(1);
  await page.getByRole('button', { name: 'Find what is wrong' }).click();
  await expect(verdict(page)).toContainText('R101 is about');
});

/** Source and board as a scope has them: times and two voltages, in steps of eight bits. */
function asScoped(design: string): string {
  reed('bench', design, '--of', 'cable', '--in', file('sweep.wav'), '--out', file('cable.wav'));
  const [sweep, board] = ['cable.wav', 'board.wav'].map((name) => readFileSync(file(name)));
  const volts = (of: Buffer, i: number) => (Math.round(of.readFloatLE(44 + 4 * i) * 128) / 128).toFixed(5);
  const count = Math.floor((Math.min(sweep.length, board.length) - 44) / 4);
  const rows = Array.from(
    { length: count },
    (_, i) => `${(i / RATE_HZ).toFixed(8)},${volts(sweep, i)},${volts(board, i)}`,
  );
  return `Time (s),CH1,CH2\n${rows.join('\n')}\n`;
}

test('a scope’s capture of both channels names the same part', async ({ page }) => {
  const { design } = recorded();
  await openFilter(page, design);
  await page.getByRole('button', { name: 'Recorded elsewhere', expanded: false }).click();
  const read = () => page.getByRole('button', { name: 'Read a recording' }).click();
  await giveFile(page, read, 'scope.csv', 'Time,CH1\n0,1\n');
  await expect(page.getByText('The capture has 1 rows')).toBeVisible();
  await giveFile(page, read, 'scope.csv', asScoped(design));
  await expect(page.getByTestId('measurement')).toHaveCount(1);
  await page.getByRole('button', { name: 'Find what is wrong' }).click();
  await expect(verdict(page)).toContainText('R101 is about');
});

test('without permission, and with a card that goes away, it says so and works again', async ({ page }) => {
  const { design } = recorded();
  await openFilter(page, design);
  const sweep = page.getByRole('button', { name: 'Sweep', exact: true });
  const answer = (how: string) =>
    page.evaluate((kind) => {
      const audio = new AudioContext();
      navigator.mediaDevices.getUserMedia = () => {
        if (kind === 'refused') return Promise.reject(new DOMException('no', 'NotAllowedError'));
        const { stream } = audio.createMediaStreamDestination();
        setTimeout(() => stream.getTracks()[0].dispatchEvent(new Event('ended')), 600);
        return Promise.resolve(stream);
      };
    }, how);
  await answer('refused');
  await sweep.click();
  await expect(page.getByRole('alert').filter({ hasText: 'not allowed to listen' })).toBeVisible();
  await answer('gone');
  await sweep.click();
  await expect(page.getByRole('alert').filter({ hasText: 'went away' })).toBeVisible();
  await choose(page, 'Instrument', 'Workshop’s sound card, simulated');
  await sweep.click();
  await expect(page.getByTestId('measurement')).toHaveCount(1);
});

test('first power: volts read on the simulated board, one of them wrong, and the part named from them alone', async ({
  page,
}) => {
  await openWorkshop(page, 'Swell pedal wah');
  await task(page, 'Measure');
  await unfold(page, 'First power');
  const power = page.getByTestId('first-power');
  await power.getByRole('button', { name: 'Read the simulated board' }).click();
  await expect(power.getByRole('row').filter({ hasText: 'fits' })).toHaveCount(9);
  // The collector at its rail: Q1 draws nothing.
  await type(power.getByRole('textbox', { name: 'Volts at Q1 collector' }), '8.9 V');
  await expect(power.getByText('Not as expected: Q1 collector. Power off.')).toBeVisible();
  await expect(power.getByRole('row').filter({ hasText: 'too high' })).toHaveCount(1);
  await page.getByRole('button', { name: 'Find what is wrong' }).click();
  await expect(verdict(page)).toContainText('Not as good as its parts');
  await saved(page);
  await page.reload();
  await task(page, 'Measure');
  await expect(page.getByTestId('first-power')).toContainText('too high');
});

test('a driver from nothing to its curves: impedance, far response, near response, in eleven actions', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Drivers' }).click();
  await page.getByRole('button', { name: 'Add a driver' }).click();
  await unfold(page, 'Measure it');
  const sweep = () => page.getByRole('button', { name: 'Sweep the driver' }).click();
  await sweep();
  await expect(page.getByTestId('fit-off')).toContainText('fitted as a circuit');
  await choose(page, 'What is measured', 'far response');
  await sweep();
  await expect(page.getByText(/Heard from 1\.\d+\sm; \d+ points from 2\d\d\sHz/)).toBeVisible();
  await choose(page, 'What is measured', 'near response');
  await sweep();
  await expect(page.getByText(/Joined at 588\sHz/)).toBeVisible();
  await page.reload();
  await expect(page.getByTestId('driver-form')).toContainText('Response from a measurement');
});
