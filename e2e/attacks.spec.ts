import { expect, test, type Locator, type Page } from '@playwright/test';
import { begin, openWorkshop, shown, task, type, watch } from './bench-hands';
import { told } from './tally';

/** Attacks by number: a few in every run, and as many as a day's work in `npm run long`. */
const LONG = process.env.JAUNTY_REED_LONG === '1';
const orLong = <T>(every: T, long: T): T => (LONG ? long : every);

/** Repeatable numbers in [0, 1) (Park and Miller, Comm. ACM 31, 1988). */
function random(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647;
}

/** Nothing waits to be saved. */
const stored = (page: Page) => expect(page.getByTestId('save-state')).toContainText(/^saved/);
const home = (page: Page) => page.getByRole('link', { name: 'Jaunty Reed' }).click();

const SWITCHED = [
  { title: 'Bellows microphone hiss filter', figure: 'readout-cutoff', task: 'Spread', begin: 'Run tolerances' },
  { title: 'Swell-box band limiter', figure: 'readout-cutoff', task: 'Spread', begin: 'Run tolerances' },
  { title: 'Tone cabinet, two-way', figure: 'readout-sum', task: 'Values', begin: /^Fit \d+ parts/ },
  { title: 'Chapel cabinet, three-way active', figure: 'readout-sum', task: 'Spread', begin: 'Run tolerances' },
  { title: 'Stopped flute, diode legs', figure: 'readout-cutoff', task: 'Build', begin: 'Plan it' },
] as const;

const SWITCHES = orLong(10, 300);
test(`${SWITCHES} quick switches with jobs running: every design shows its own figure`, async ({ page, baseURL }) => {
  test.setTimeout(120_000 + SWITCHES * 12_000);
  const seen = watch(page, baseURL as string);
  const next = random(29);
  await openWorkshop(page, SWITCHED[0].title);
  const open = async (title: string) => {
    await home(page);
    await page.getByRole('link', { name: title }).click();
  };
  const own = new Map<string, string>();
  for (const { title, figure } of SWITCHED) {
    await open(title);
    await expect(page.getByTestId(figure)).toContainText(/\d/);
    await page.waitForTimeout(500);
    own.set(title, await page.getByTestId(figure).innerText());
  }
  const failed: string[] = [];
  for (let k = 0; k < SWITCHES; k++) {
    const from = SWITCHED[Math.floor(next() * SWITCHED.length)];
    const to = SWITCHED[Math.floor(next() * SWITCHED.length)];
    await open(from.title);
    if (next() < 0.6) {
      await task(page, from.task);
      await page.getByRole('button', { name: from.begin }).first().click();
    }
    await page.waitForTimeout(400 * next());
    await open(to.title);
    const figure = page.getByTestId(to.figure);
    await expect(figure).toContainText(/\d/);
    await expect
      .poll(() => figure.innerText(), { message: `${k}: ${from.title}, then ${to.title}` })
      .toBe(own.get(to.title));
    // A late answer of the design before would come now.
    await page.waitForTimeout(300);
    const late = await figure.innerText();
    if (late !== own.get(to.title)) failed.push(`${k}: ${from.title}, then ${to.title}: ${late}`);
  }
  failed.push(...seen.complaints);
  told('quick switches with jobs running', SWITCHES, failed);
});

const STEPS = orLong(18, 1500);
test(`three tabs edit one design ${STEPS} times at random: all come to the same, and the last word is kept`, async ({
  page,
  context,
}) => {
  test.setTimeout(120_000 + STEPS * 6000);
  const next = random(1972);
  await openWorkshop(page, 'Bellows microphone hiss filter');
  const tabs = [page, await context.newPage(), await context.newPage()];
  for (const tab of tabs.slice(1)) {
    await tab.goto(page.url());
    await expect(tab.getByTestId('cutoff-lowpass')).toBeVisible();
  }
  const fields: Record<string, (tab: Page) => Locator> = {
    cutoff: (tab) => tab.getByTestId('cutoff-lowpass'),
    note: (tab) => tab.getByRole('textbox', { name: 'in words' }),
  };
  const word: Record<string, (k: number) => string> = {
    cutoff: (k) => shown(`${(1.01 + (k % 800) / 100).toFixed(2).replace(/0$/, '').replace(/\.0$/, '')} kHz`),
    note: (k) => `step ${k}`,
  };
  /** The last word of every tab on a field since all agreed. */
  let since: Record<string, string[]> = { cutoff: [], note: [] };
  const failed: string[] = [];
  for (let k = 1; k <= STEPS; k++) {
    const tab = tabs[Math.floor(next() * 3)];
    const name = next() < 0.5 ? 'cutoff' : 'note';
    const field = fields[name](tab);
    const value = word[name](k);
    await field.fill(value);
    await (name === 'cutoff' ? field.press('Enter') : field.blur());
    since[name].push(value);
    await tab.waitForTimeout(700 * next());
    if (k % 6 > 0) continue;
    for (const each of tabs) await stored(each);
    for (const [of, locator] of Object.entries(fields)) {
      const all = () => Promise.all(tabs.map((t) => locator(t).inputValue()));
      await expect
        .poll(async () => new Set(await all()).size, { message: `after step ${k} the tabs agree on the ${of}` })
        .toBe(1);
      const [agreed] = await all();
      if (since[of].length > 0 && !since[of].includes(agreed)) failed.push(`${k}: ${of} is ${agreed}, of ${since[of]}`);
    }
    since = { cutoff: [], note: [] };
  }
  told('edits in three tabs', STEPS, failed);
});

/** What cannot be meant, or is more than can be. */
const BAD = [
  '',
  ' ',
  'abc',
  '-1',
  '0',
  'NaN',
  'Infinity',
  '1e999',
  '-1e308',
  '1e-308',
  '=1+1',
  '1,,2',
  '💥',
  '<b>1</b>',
  '9'.repeat(400),
];
const NONE = /\b(?:NaN|Infinity|undefined)\b|\de[+-]?\d/;

const FIELDS = orLong(
  [['Bellows microphone hiss filter', ['Brief']]] as const,
  [
    ['Bellows microphone hiss filter', ['Brief', 'Circuit', 'Values', 'Spread', 'Build', 'Measure', 'Listen']],
    ['Tone cabinet, two-way', ['Brief', 'Circuit', 'Values', 'Spread', 'Build', 'Measure', 'Listen']],
    ['Plucked stop, optocoupler gate', ['Brief', 'Circuit', 'Values', 'Spread', 'Build', 'Measure', 'Listen']],
    ['Stopped flute, diode legs', ['Brief', 'Circuit', 'Values', 'Listen']],
    ['Drone in tune', ['Brief', 'Circuit', 'Values']],
    ['Formant bank, half octaves', ['Brief', 'Values']],
  ] as const,
);
for (const [title, tasks] of FIELDS)
  for (const name of tasks)
    test(`${title}, ${name}: no field takes what cannot be`, async ({ page, baseURL }) => {
      test.setTimeout(orLong(300_000, 3_600_000));
      const seen = watch(page, baseURL as string);
      await openWorkshop(page, title);
      await task(page, name);
      await page.waitForTimeout(800);
      const fields = page.locator('input[inputmode=text]:enabled:visible');
      const labels = await fields.evaluateAll((all) =>
        all.map(
          (el, i) => el.getAttribute('aria-label') ?? (el as HTMLInputElement).labels?.[0]?.textContent ?? `${i}`,
        ),
      );
      let tried = 0;
      const failed: string[] = [];
      for (const [i, label] of labels.entries()) {
        for (const bad of BAD) {
          // What is taken may take a field away: then the rest of them are still tried.
          if (i >= (await fields.count())) break;
          const field = fields.nth(i);
          const before = await field.inputValue();
          await field.fill(bad);
          await field.press('Enter');
          tried++;
          const said = `${label}: '${bad.slice(0, 20)}'`;
          if (await page.getByRole('heading', { name: /went wrong|could not be shown/ }).count())
            failed.push(`${said}: the page failed`);
          await field.press('Escape').catch(() => undefined);
          const figures = (await page.locator('body').innerText()).split('\n').filter((line) => NONE.test(line));
          if (figures.length > 0) failed.push(`${said}: ${figures.slice(0, 2).join(' | ')}`);
          if (i < (await fields.count()) && (await fields.nth(i).inputValue()) !== before) {
            await fields.nth(i).fill(before);
            await fields.nth(i).press('Enter');
          }
          if (seen.complaints.length > 0) failed.push(`${said}: ${seen.complaints.splice(0).join(' | ')}`);
        }
      }
      told(`fields of ${title}, ${name}`, tried, failed);
    });

const DESIGNS = orLong(10, 200);
test(`a day's work, ${DESIGNS} designs begun, edited and left: memory, listeners and workers do not grow`, async ({
  page,
}) => {
  test.setTimeout(120_000 + DESIGNS * 15_000);
  const session = await page.context().newCDPSession(page);
  await session.send('Performance.enable');
  const held = async () => {
    await session.send('HeapProfiler.collectGarbage');
    const { metrics } = await session.send('Performance.getMetrics');
    const of = (name: string) => metrics.find((m) => m.name === name)?.value ?? NaN;
    return {
      heap: of('JSHeapUsedSize'),
      nodes: of('Nodes'),
      listeners: of('JSEventListeners'),
      workers: page.workers().length,
    };
  };
  await page.goto('/');
  const work = async (k: number) => {
    await begin(page, k % 2 === 0 ? 'Low-pass' : 'High-pass');
    await expect(page.getByTestId('readout-cutoff')).toContainText('Hz');
    await type(page.getByTestId(/^cutoff-(low|high)pass$/), `${1 + (k % 9)}.${k % 10}k`);
    await task(page, ['Circuit', 'Values', 'Build', 'Log'][k % 4]);
    await stored(page);
    await home(page);
    await expect(page.getByTestId('shelf-card').first()).toBeVisible();
  };
  const settled = Math.ceil(DESIGNS / 4);
  for (let k = 0; k < settled; k++) await work(k);
  const early = await held();
  for (let k = settled; k < DESIGNS; k++) await work(k);
  const late = await held();
  // The list has a card more for each: it grows with what is kept, and by no more.
  const cards = (DESIGNS - settled) / settled;
  const failed = (['heap', 'nodes', 'listeners'] as const)
    .filter((what) => late[what] > early[what] * (1.3 + cards))
    .map((what) => `${what}: ${early[what]} at ${settled}, ${late[what]} at ${DESIGNS}`);
  if (late.workers > early.workers) failed.push(`workers: ${early.workers}, then ${late.workers}`);
  told('designs of a day’s work', DESIGNS, failed);
});
