import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { begin, choose, giveFile, openWorkshop, saved, shown, type, WORKSHOP } from './bench-hands';

const NOTE = { name: 'in words' };
const cutoff = (page: Page) => page.getByTestId('cutoff-lowpass');

test('two tabs: a cutoff in one and a note in the other are both kept; the same cutoff in both keeps both', async ({
  page,
  context,
}) => {
  await openWorkshop(page, 'Bellows microphone hiss filter');
  const other = await context.newPage();
  await other.goto(page.url());
  await expect(cutoff(other)).toBeVisible();
  // Both at once: neither has told the other yet.
  await Promise.all([type(cutoff(page), '7.7k'), other.getByRole('textbox', NOTE).fill('from the other tab')]);
  await other.getByRole('textbox', NOTE).blur();
  await expect(other.getByRole('textbox', NOTE)).toHaveValue('from the other tab');
  await expect(cutoff(other)).toHaveValue(shown('7.7 kHz'));
  await expect(page.getByRole('textbox', NOTE)).toHaveValue('from the other tab');
  await expect(cutoff(page)).toHaveValue(shown('7.7 kHz'));
  await other.close();
});

test('a design removed in another tab is said to be, and is put back or left', async ({ page, context }) => {
  await openWorkshop(page, 'Bellows microphone hiss filter');
  const other = await context.newPage();
  await other.goto('/');
  await other.getByRole('button', { name: 'Bellows microphone hiss filter: more' }).click();
  await other.getByRole('menuitem', { name: 'Remove' }).click();
  await other.getByRole('button', { name: 'Remove' }).click();
  await expect(page.getByText('was removed from the shelf in another tab')).toBeVisible();
  await page.getByRole('button', { name: 'Put it back' }).click();
  await expect(other.getByRole('link', { name: 'Bellows microphone hiss filter' })).toBeVisible();
  await other.close();
});

test('a design that was removed is brought back from the foot of the shelf', async ({ page }) => {
  await openWorkshop(page, 'Bellows microphone hiss filter');
  await page.getByRole('link', { name: 'Jaunty Reed' }).click();
  await page.getByRole('button', { name: 'Bellows microphone hiss filter: more' }).click();
  await page.getByRole('menuitem', { name: 'Remove' }).click();
  await page.getByRole('button', { name: 'Remove', exact: true }).click();
  await expect(page.getByTestId('shelf-card')).toHaveCount(WORKSHOP - 1);
  await page.reload();
  await page.getByText('One removed design can be brought back').click();
  await page.getByRole('button', { name: 'Bring back' }).click();
  await expect(page.getByTestId('shelf-card')).toHaveCount(WORKSHOP);
  await expect(page.getByTestId('removed')).toHaveCount(0);
  // Found by what it is made of, too.
  await page.getByRole('textbox', { name: 'Find a design' }).fill('vcvs');
  const found = await page.getByTestId('shelf-card').count();
  expect(found).toBeGreaterThan(0);
  expect(found).toBeLessThan(WORKSHOP);
});

test('what can be undone survives a reload', async ({ page }) => {
  await openWorkshop(page, 'Bellows microphone hiss filter');
  const before = await cutoff(page).inputValue();
  await type(cutoff(page), '5k');
  await saved(page);
  await page.reload();
  await expect(cutoff(page)).toHaveValue(shown('5 kHz'));
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(cutoff(page)).toHaveValue(before);
});

test('without a database everything works from memory, and that is said', async ({ page }) => {
  await page.addInitScript(() => Object.defineProperty(window, 'indexedDB', { value: undefined }));
  await page.goto('/');
  await expect(page.getByTestId('no-storage')).toContainText('gone with this tab');
  await begin(page, 'Low-pass');
  await expect(cutoff(page)).toBeVisible();
  await type(cutoff(page), '2k');
  await expect(cutoff(page)).toHaveValue(shown('2 kHz'));
  await expect(page.getByTestId('save-state')).toHaveText('in this tab alone');
  await page.getByRole('link', { name: 'Jaunty Reed' }).click();
  await expect(page.getByTestId('shelf-card')).toHaveCount(1);
});

test('a row that does not read is named on the shelf, exported as it lies, and the others open', async ({ page }) => {
  await openWorkshop(page, 'Bellows microphone hiss filter');
  await page.getByRole('link', { name: 'Jaunty Reed' }).click();
  await expect(page.getByTestId('shelf-card').first()).toBeVisible();
  await page.evaluate(
    () =>
      new Promise<void>((resolve, reject) => {
        const open = indexedDB.open('jaunty-reed');
        open.onerror = () => reject(open.error);
        open.onsuccess = () => {
          const write = open.result.transaction('designs', 'readwrite');
          write.objectStore('designs').put({
            id: '\ud800',
            title: 'Odd one',
            updatedAt: '2030-01-01T00:00:00.000Z',
            revision: 1,
            design: { format: 'jaunty-reed-design', version: 6, id: '\ud800', title: 'Odd one' },
          });
          write.oncomplete = () => {
            open.result.close();
            resolve();
          };
        };
      }),
  );
  await page.reload();
  await expect(page.getByTestId('storage')).toContainText('lies in this browser');
  const unread = page.getByTestId('unread-card');
  await expect(unread).toContainText('Odd one');
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    unread.getByRole('button', { name: 'Export as it is' }).click(),
  ]);
  expect(JSON.parse(readFileSync(await file.path(), 'utf8'))).toMatchObject({ title: 'Odd one' });
  await page.getByRole('link', { name: 'Bellows microphone hiss filter' }).click();
  await expect(cutoff(page)).toBeVisible();
});

test('a backup over a shelf that has moved on asks, and names what it cannot take', async ({ page }) => {
  await openWorkshop(page, 'Bellows microphone hiss filter');
  await page.getByRole('link', { name: 'Jaunty Reed' }).click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Back up' }).click(),
  ]);
  const bytes = readFileSync(await file.path());
  await page.getByRole('link', { name: 'Bellows microphone hiss filter' }).click();
  await type(cutoff(page), '5k');
  await saved(page);
  await page.getByRole('link', { name: 'Jaunty Reed' }).click();
  await giveFile(page, () => page.getByRole('button', { name: 'Import' }).click(), 'shelf.zip', bytes);
  const designs = page.getByTestId('restore-designs');
  await expect(designs).toContainText(`1 older than on the shelf, ${WORKSHOP - 1} as on the shelf`);
  await expect(page.getByRole('button', { name: 'Nothing to restore' })).toBeDisabled();
  await designs.getByRole('button').first().click();
  await choose(page, 'What becomes of Bellows microphone hiss filter', 'take it beside');
  await page.getByRole('button', { name: 'Restore 1', exact: true }).click();
  await expect(page.getByTestId('shelf-card')).toHaveCount(WORKSHOP + 1);
  await page.getByRole('alert').getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('shelf-card')).toHaveCount(WORKSHOP);
});

test('a database that is deleted under an open design is said at once, and the design can be put back', async ({
  page,
}) => {
  await openWorkshop(page, 'Bellows microphone hiss filter');
  await expect(cutoff(page)).toBeVisible();
  await page.evaluate(() => void indexedDB.deleteDatabase('jaunty-reed'));
  await expect(page.getByTestId('storage-deleted')).toContainText('was deleted');
  await type(cutoff(page), '2k');
  await expect(page.getByTestId('save-state')).toHaveText('not saved');
  await page.getByRole('button', { name: 'Put it back' }).click();
  await page.reload();
  await expect(cutoff(page)).toHaveValue(shown('2 kHz'));
});

test('workers that end without a word are replaced, and what is asked of them is answered', async ({ page }) => {
  await openWorkshop(page, 'Bellows microphone hiss filter');
  const readout = page.getByTestId('readout-cutoff');
  await expect(readout).toContainText('Hz');
  expect(page.workers().length).toBeGreaterThan(0);
  for (const worker of page.workers()) await worker.evaluate(() => self.close());
  await type(cutoff(page), '2k');
  await expect(readout).toContainText(/[12]\.?\d*\skHz/);
});

test('bad addresses are pages that say so, and other methods are refused, each with its headers', async ({
  request,
}) => {
  for (const path of ['/desk/%E0%A4%A', '/desk/%', '/nothing/here']) {
    const answer = await request.get(path);
    expect([path, answer.status()]).toEqual([path, 404]);
    expect(answer.headers()['content-security-policy']).toContain("default-src 'none'");
  }
  for (const method of ['POST', 'PUT', 'DELETE', 'PATCH', 'TRACE']) {
    const answer = await request.fetch('/', { method });
    expect([method, answer.status()]).toEqual([method, 405]);
    expect(answer.headers()['x-content-type-options']).toBe('nosniff');
  }
  const options = await request.fetch('/', { method: 'OPTIONS' });
  expect([options.status(), options.headers().allow]).toEqual([204, 'GET, HEAD, OPTIONS']);
  const elsewhere = await request.get('/stock/', { maxRedirects: 0 });
  expect(elsewhere.status()).toBe(308);
  expect(elsewhere.headers()['x-content-type-options']).toBe('nosniff');
  expect(elsewhere.headers()['content-security-policy']).toBeTruthy();
});

test('with the disk full an edit is said not to be kept, and it is saved when there is room', async ({ page }) => {
  // What the browser does when it has no more room: the write fails.
  await page.addInitScript(() => {
    const put = IDBObjectStore.prototype.put;
    IDBObjectStore.prototype.put = function (...args: Parameters<typeof put>) {
      if (document.documentElement.dataset.full) throw new DOMException('The quota is used up.', 'QuotaExceededError');
      return put.apply(this, args);
    };
  });
  const fill = (full: boolean) =>
    page.evaluate(
      (is) => (is ? (document.documentElement.dataset.full = '1') : delete document.documentElement.dataset.full),
      full,
    );
  await openWorkshop(page, 'Bellows microphone hiss filter');
  await fill(true);
  await type(cutoff(page), '5k');
  await expect(page.getByText(/Saving failed: The browser has no more room\. It is tried again/)).toBeVisible();
  await expect(page.getByTestId('save-state')).toContainText('not saved');
  await expect(cutoff(page)).toHaveValue(shown('5 kHz'));
  // Left for the shelf it asks; left all the same, the edits stay in the tab, and are there when it is opened again.
  await page.getByRole('link', { name: 'Jaunty Reed' }).click();
  const question = page.getByRole('dialog', { name: 'The last edits are not stored' });
  await question.getByRole('button', { name: 'Stay' }).click();
  await expect(cutoff(page)).toHaveValue(shown('5 kHz'));
  await page.getByRole('link', { name: 'Jaunty Reed' }).click();
  await question.getByRole('button', { name: 'Leave', exact: true }).click();
  await expect(page.getByTestId('unsaved')).toContainText('Bellows microphone hiss filter');
  // What is not needed can be deleted with no room left.
  await page.getByRole('button', { name: 'Reed pickup rumble filter: more' }).click();
  await page.getByRole('menuitem', { name: 'Remove' }).click();
  await page.getByRole('button', { name: 'Remove', exact: true }).click();
  await page.getByRole('button', { name: 'Delete for good' }).click();
  await expect(page.getByTestId('shelf-card')).toHaveCount(WORKSHOP - 1);
  await page.getByTestId('unsaved').getByRole('link').click();
  await expect(cutoff(page)).toHaveValue(shown('5 kHz'));
  await fill(false);
  await saved(page);
  await page.reload();
  await expect(cutoff(page)).toHaveValue(shown('5 kHz'));
  // New from the shelf with no room: said there too, and the shelf is as it was.
  await page.getByRole('link', { name: 'Jaunty Reed' }).click();
  await expect(page.getByTestId('shelf-card').first()).toBeVisible();
  const cards = await page.getByTestId('shelf-card').count();
  await fill(true);
  await begin(page, 'Low-pass');
  await expect(page.getByText('The browser did not keep it')).toBeVisible();
  await page.goto('/');
  await expect(page.getByTestId('shelf-card')).toHaveCount(cards);
});
