import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, expect, test, type BrowserContext } from '@playwright/test';
import { openWorkshop, shown, type, WORKSHOP } from './bench-hands';
import { told } from './tally';

/** How often something is killed: `npm run long` does it three hundred times. */
const KILLS = Number(process.env.KILLS ?? 20);
/** Every so many times it is the whole browser, not the tab alone. */
const WHOLE = 5;

test(`killed in mid-edit ${KILLS} times, every design opens, and none is older than what was called saved`, async ({
  launchOptions,
  baseURL,
}) => {
  test.setTimeout(60_000 + KILLS * 15_000);
  const shelf = mkdtempSync(join(tmpdir(), 'reed-kills-'));
  const open = (): Promise<BrowserContext> =>
    chromium.launchPersistentContext(shelf, { ...launchOptions, baseURL, viewport: { width: 1280, height: 800 } });
  let context = await open();
  let page = context.pages()[0] ?? (await context.newPage());
  await openWorkshop(page, 'Bellows microphone hiss filter');
  const address = page.url();
  /** The last cutoff that was said to be saved, and those typed since: either may lie on the shelf. */
  let known: string[] = [await page.getByTestId('cutoff-lowpass').inputValue()];
  const lost: string[] = [];
  for (let kill = 1; kill <= KILLS; kill++) {
    // Between no pause and one longer than saving takes.
    for (let k = 0; k < 3; k++) {
      const typed = `${2 + kill}.${k + 1} kHz`;
      await type(page.getByTestId('cutoff-lowpass'), typed);
      known.push(shown(typed));
      await page.waitForTimeout((kill * 97 + k * 41) % 530);
      if (/^saved \d/.test(await page.getByTestId('save-state').innerText()))
        known = [await page.getByTestId('cutoff-lowpass').inputValue()];
    }
    if (kill % WHOLE === 0) {
      execFileSync('pkill', ['-9', '-f', shelf]);
      await context.close().catch(() => undefined);
      context = await open();
      page = context.pages()[0] ?? (await context.newPage());
    } else {
      const session = await context.newCDPSession(page);
      // The tab dies in the middle of the call, so it is never answered.
      void session.send('Page.crash').catch(() => undefined);
      await page.waitForEvent('crash');
      await page.close();
      page = await context.newPage();
    }
    await page.goto(address);
    await expect(page.getByTestId('readout-cutoff')).toContainText('Hz');
    const found = await page.getByTestId('cutoff-lowpass').inputValue();
    if (!known.includes(found)) lost.push(`${kill}: ${found}, of ${known.join(', ')}`);
    known = [found];
  }
  told('kills in mid-edit', KILLS, lost);
  await page.goto('/');
  await expect(page.getByTestId('shelf-card')).toHaveCount(WORKSHOP);
  await expect(page.getByTestId('unread-card')).toHaveCount(0);
  await context.close();
  rmSync(shelf, { recursive: true, force: true });
});
