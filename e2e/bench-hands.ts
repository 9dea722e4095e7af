import { readFileSync } from 'node:fs';
import { expect, type BrowserContext, type Locator, type Page } from '@playwright/test';

/** Things every journey does, by the names that people see. */

/** Watches that nothing leaves the page's own origin and that the console stays clean. Returns what was seen. */
export function watch(page: Page, origin: string): { outside: string[]; complaints: string[] } {
  const seen = { outside: [] as string[], complaints: [] as string[] };
  page.on('request', (request) => {
    const url = request.url();
    if (!url.startsWith(origin) && !url.startsWith('data:') && !url.startsWith('blob:')) seen.outside.push(url);
  });
  page.on('console', (message) => {
    if (message.type() === 'error') seen.complaints.push(message.text());
  });
  page.on('pageerror', (error) => seen.complaints.push(String(error)));
  return seen;
}

/** From the shelf: a new design that begins with something of the gallery. */
export async function begin(page: Page, entry: string): Promise<void> {
  await page.getByRole('button', { name: 'New design' }).first().click();
  await page.getByRole('button', { name: entry, exact: true }).click();
}

/** Adds something of the gallery to the path. */
export async function addToPath(page: Page, entry: string): Promise<void> {
  await page.getByRole('button', { name: 'Add to the path' }).click();
  await page.getByRole('dialog').getByRole('button', { name: entry, exact: true }).click();
}

export async function startNew(page: Page): Promise<void> {
  await page.goto('/');
  await begin(page, 'Low-pass');
  await expect(page.getByTestId('readout-cutoff')).toContainText('Hz');
}

/** How many designs the workshop has. */
export const WORKSHOP = 17;

/** Where the shelf with them is kept while journeys run. */
export const WORKSHOP_SHELF = 'test-results/workshop-shelf.json';
/** A shelf as a browser has it, and the addresses of its designs by what their cards say. */
export interface KeptShelf {
  readonly paths: Readonly<Record<string, string>>;
  readonly state: Exclude<Parameters<BrowserContext['setStorageState']>[0], string>;
}

/** A browser whose shelf has the workshop's designs, with one of them open; what else it held is gone. */
export async function openWorkshop(page: Page, title: string): Promise<void> {
  const { paths, state } = JSON.parse(readFileSync(WORKSHOP_SHELF, 'utf8')) as KeptShelf;
  const card = Object.keys(paths).find((text) => text.includes(title));
  if (!card) throw new Error(`the workshop has no “${title}”`);
  await page.context().setStorageState(state);
  await page.goto(paths[card]);
  await expect(page.getByTestId('readout-cutoff')).toContainText('Hz');
}

export async function type(field: Locator, text: string): Promise<void> {
  await field.fill(text);
  await field.press('Enter');
}

export const task = (page: Page, name: string): Promise<void> => page.getByRole('tab', { name }).click();

/** Opens a panel that is a line with its outcome. */
export const unfold = (page: Page, title: string): Promise<void> =>
  page.getByRole('button', { name: title, expanded: false }).click();

export async function choose(page: Page, label: string, option: string): Promise<void> {
  await page.getByRole('combobox', { name: label }).first().click();
  await page.locator('.ant-select-item-option').filter({ hasText: option }).filter({ visible: true }).first().click();
}

/** A value as a field has it: with the narrow space before its unit. */
export const shown = (text: string): string => text.replace(' ', '\u202f');

/** A figure with its prefix as a number: `4.03 kHz` → 4030. */
export function figureOf(text: string): number {
  const match = /([−-]?[\d.]+)\s*([kMµnpm]?)/.exec(text);
  if (!match) throw new Error(`no figure in “${text}”`);
  const scale: Record<string, number> = {
    '': 1,
    k: 1e3,
    M: 1e6,
    m: 1e-3,
    µ: 1e-6,
    n: 1e-9,
    p: 1e-12,
  };
  return Number(match[1].replace('−', '-')) * scale[match[2]];
}

export async function cutoffShown(page: Page): Promise<number> {
  return figureOf(await page.getByTestId('readout-cutoff').innerText());
}

export const saved = (page: Page): Promise<void> => expect(page.getByTestId('save-state')).toContainText(/^saved \d/);

/** The text of a file that a click downloads, and its name. */
export async function downloaded(
  page: Page,
  click: () => Promise<void>,
): Promise<{ name: string; text: string; path: string }> {
  const [download] = await Promise.all([page.waitForEvent('download'), click()]);
  const path = await download.path();
  const { readFile } = await import('node:fs/promises');
  return { name: download.suggestedFilename(), text: await readFile(path, 'utf8'), path };
}

export async function exportAs(page: Page, entry: string): Promise<{ name: string; text: string; path: string }> {
  await page.getByRole('button', { name: 'Export' }).click();
  return downloaded(page, () => page.getByRole('menuitem', { name: entry, exact: true }).click());
}

/** Gives a file to the next file chooser that a click opens. */
export async function giveFile(
  page: Page,
  click: () => Promise<void>,
  name: string,
  content: string | Buffer,
): Promise<void> {
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), click()]);
  await chooser.setFiles({
    name,
    mimeType: 'application/octet-stream',
    buffer: Buffer.from(content),
  });
}
