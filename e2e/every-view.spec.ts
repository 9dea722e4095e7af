import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { openWorkshop, task, watch, WORKSHOP } from './bench-hands';

const TASKS = ['Brief', 'Circuit', 'Values', 'Spread', 'Build', 'Measure', 'Listen', 'Log'];

/** What is turned to while all round it stays: the page is audited whole where it is come to. */
const TASK = '#task-pane';
const VIEW = '[aria-label=Curves]';

/** Faults of what is on the page, or in a part of it, by the rules of accessibility. */
async function auditOf(page: Page, where: string, part = 'html'): Promise<void> {
  // No figure is shown that is none.
  expect((await page.locator('body').innerText()).match(/.*\b(?:NaN|Infinity|undefined)\b.*/g) ?? [], where).toEqual(
    [],
  );
  const { violations } = await new AxeBuilder({ page })
    .include(part)
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .analyze();
  expect(
    violations.map(
      (v) =>
        `${where}: ${v.id}: ${v.nodes
          .map((n) => n.target.join(' '))
          .slice(0, 3)
          .join(' | ')}`,
    ),
  ).toEqual([]);
}

/** What is folded is looked at too. */
async function unfoldAll(page: Page): Promise<void> {
  const folded = page.locator('#task-pane button[aria-expanded=false][aria-controls]');
  while ((await folded.count()) > 0) await folded.first().click();
}

type Audit = (where: string, part?: string) => Promise<void>;

/** Every place of the application, by the views that are audited in it. */
const PLACES: Record<string, (page: Page, audit: Audit) => Promise<void>> = {
  shelf: async (page, audit) => {
    await page.goto('/');
    await audit('empty shelf');
    await openWorkshop(page, 'Swell-box band limiter');
    await page.getByRole('link', { name: 'Jaunty Reed' }).click();
    await expect(page.getByTestId('shelf-card')).toHaveCount(WORKSHOP);
    await audit('shelf');
  },
  'desk, tasks': async (page, audit) => {
    await openWorkshop(page, 'Swell-box band limiter');
    for (const name of TASKS) {
      await task(page, name);
      if (name === 'Spread') {
        await page.getByRole('button', { name: 'Run tolerances' }).click();
        await expect(page.getByTestId('cutoff-histogram').first()).toBeVisible();
      }
      await unfoldAll(page);
      await page.waitForTimeout(300);
      await audit(name, name === TASKS[0] ? undefined : TASK);
    }
  },
  'desk, views': async (page, audit) => {
    await openWorkshop(page, 'Swell-box band limiter');
    for (const view of ['Group delay', 'Step', 'Wave', 'Four views', 'Impedance', 'Difference', 'Schematic']) {
      await page.getByRole('tab', { name: view }).click();
      await audit(view, VIEW);
    }
  },
  bank: async (page, audit) => {
    await openWorkshop(page, 'Formant bank, half octaves');
    for (const name of ['Brief', 'Circuit', 'Values']) {
      await task(page, name);
      await page.waitForTimeout(300);
      await audit(name, name === 'Brief' ? undefined : TASK);
    }
  },
  crossover: async (page, audit) => {
    await openWorkshop(page, 'Tone cabinet, two-way');
    await expect(page.getByTestId('readout-sum')).toContainText('dB');
    for (const name of TASKS) {
      await task(page, name);
      await unfoldAll(page);
      await page.waitForTimeout(300);
      await audit(name, name === TASKS[0] ? undefined : TASK);
    }
    for (const view of ['Load', 'Off axis', 'Decay', 'Schematic']) {
      await page.getByRole('tab', { name: view }).click();
      await page.waitForTimeout(300);
      await audit(view, VIEW);
    }
  },
  'drivers and stock': async (page, audit) => {
    await page.goto('/drivers');
    await page.getByRole('button', { name: 'Add a driver' }).click();
    await expect(page.getByTestId('driver-form')).toBeVisible();
    await audit('drivers');
    await page.getByRole('link', { name: 'Jaunty Reed' }).click();
    await page.getByRole('link', { name: 'Stock' }).click();
    await page.getByRole('button', { name: 'Put the workshop’s drawer here' }).click();
    await expect(page.getByTestId('stock-row').first()).toBeVisible();
    await audit('stock');
  },
};

for (const theme of ['paper', 'bench'])
  for (const [place, visit] of Object.entries(PLACES))
    test(`${place}, ${theme}: readable by all, clean console, nothing from elsewhere`, async ({ page, baseURL }) => {
      const seen = watch(page, baseURL as string);
      await page.addInitScript((name) => localStorage.setItem('jaunty-reed-theme', name), theme);
      await visit(page, (where, part) => auditOf(page, `${place}, ${where}`, part));
      expect(seen.outside).toEqual([]);
      expect(seen.complaints).toEqual([]);
    });

for (const [theme, title, views] of [
  ['paper', 'Plucked stop, optocoupler gate', ['Control', 'Forms', 'Loop', 'Level', 'Rest', 'Cell']],
  ['bench', 'Plucked stop, optocoupler gate', ['Control', 'Forms', 'Loop', 'Level', 'Rest', 'Cell']],
  ['bench', 'Stopped flute, diode legs', ['Level', 'Rest']],
] as const)
  test(`every view of ${title}, ${theme}: readable by all, clean console`, async ({ page, baseURL }) => {
    const seen = watch(page, baseURL as string);
    await page.addInitScript((name) => localStorage.setItem('jaunty-reed-theme', name), theme);
    await openWorkshop(page, title);
    await task(page, 'Circuit');
    for (const view of views) {
      await page.locator('.voice-views').getByText(view, { exact: true }).click();
      await page.waitForTimeout(600);
      await auditOf(page, view, view === views[0] ? undefined : TASK);
    }
    await task(page, 'Build');
    await page.getByRole('button', { name: 'Plan it' }).click();
    await expect(page.getByTestId('strip-check')).toContainText('where they belong');
    await auditOf(page, 'strip board', TASK);
    expect(seen.outside).toEqual([]);
    expect(seen.complaints).toEqual([]);
  });

test('pages carry a strict content security policy and their isolation headers', async ({ request }) => {
  const page = await request.get('/');
  const policy = page.headers()['content-security-policy'];
  expect(policy).toContain("default-src 'none'");
  expect(policy).toMatch(/script-src 'self' 'nonce-[^']+' 'strict-dynamic' 'wasm-unsafe-eval'/);
  expect(policy).not.toContain("'unsafe-eval'");
  expect(policy).not.toMatch(/script-src[^;]*unsafe-inline/);
  expect(page.headers()).toMatchObject({
    'x-content-type-options': 'nosniff',
    'referrer-policy': 'no-referrer',
    'cross-origin-opener-policy': 'same-origin',
    'cross-origin-embedder-policy': 'require-corp',
  });
  const again = await request.get('/');
  expect(again.headers()['content-security-policy']).not.toBe(policy);
  const health = await request.get('/health');
  expect(await health.json()).toMatchObject({ status: 'ok', version: expect.stringMatching(/^\d+\.\d+\.\d+$/) });
  expect(health.headers()).toMatchObject({ 'cache-control': 'no-store', 'x-content-type-options': 'nosniff' });
  const schema = await request.get('/schema/design-8.json');
  expect((await schema.json()).properties.format.const).toBe('jaunty-reed-design');
});
