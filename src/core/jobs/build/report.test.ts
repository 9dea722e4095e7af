import { AcSolver } from '../../analysis/ac/solver';
import { demoDesigns } from '../../design/demo/demo';
import { reportBody, reportHtml } from '../../format/report-html';
import { countingIds, createPlan } from '../../design/making/create';
import { singlePath } from '../../design/making/single-path';
import { must } from '../../result';
import { runReport } from './report';

const reportOf = (title: string, change = (d: ReturnType<typeof demoDesigns>[number]) => d) => {
  const design = change(demoDesigns().find((d) => d.title.startsWith(title))!);
  return must(runReport({ kind: 'report', design, variantId: design.currentVariant }, new AcSolver()));
};
const rowsOf = (report: ReturnType<typeof reportOf>, heading: string) =>
  report.tables.find((t) => t.heading === heading)!.rows;

test('what the parts are called is the same in drawing, values, list and connections', () => {
  const report = reportOf('Swell-box');
  const called = rowsOf(report, 'Values').map(([name]) => name);
  expect(new Set(called).size).toBe(called.length);
  const listed = rowsOf(report, 'Parts').flatMap(([, where]) => where.split(' '));
  const [, drawing] = report.pictures;
  const soldered = rowsOf(report, 'What meets where')
    .map(([, pins]) => pins)
    .join(' ');
  for (const name of called) {
    expect(listed).toContain(name);
    expect(drawing.svg).toContain(`>${name}<`);
    expect(soldered).toContain(`${name} a`);
  }
  // Two limits, each with whether it is met.
  expect(report.brief.filter((line) => /: (met|missed) by [\d.]+\sdB at /.test(line))).toHaveLength(2);
});

test('a crossover is drawn whole, with its sum and its lowest load; a bank band by band', () => {
  const cabinet = reportOf('Tone cabinet, two-way');
  expect(cabinet.pictures.map((p) => p.says)).toEqual(['Every way and their sum', 'The whole circuit']);
  for (const way of ['Woofer', 'Tweeter']) expect(cabinet.pictures[1].svg).toContain(`>${way}<`);
  expect(cabinet.brief.some((line) => /never under [\d.]+\sΩ/.test(line))).toBe(true);
  const bank = reportOf('Formant bank');
  expect(bank.pictures[0].says).toMatch(/^Response of /);
  expect(bank.pictures.length).toBeGreaterThan(8);
  expect(new Set(bank.pictures.map((p) => p.svg)).size).toBe(bank.pictures.length);
});

test('whatever stands in a design, its report has no markup of its own, no script and nothing from elsewhere', () => {
  const hostile = '<img src=x onerror=alert(1)>&"quotes"';
  const report = reportOf('Reed pickup', (d) => ({
    ...d,
    title: hostile,
    brief: { ...d.brief, note: hostile, source: { ...d.brief.source, name: hostile } },
    log: [{ id: 'l', at: '2030-01-02T00:00:00.000Z', text: hostile, snapshot: null }],
  }));
  const html = reportHtml(report);
  expect(html).not.toMatch(/<(?:img|script|a|link|iframe|object|image|use)\b/);
  expect(html).not.toMatch(/<[^>]*\s(?:src|href|on\w+)=/);
  expect(html.match(/&lt;img src=x onerror=alert\(1\)&gt;&amp;&quot;quotes&quot;/g)?.length).toBeGreaterThan(4);
  expect(reportBody(report)).not.toContain('<?xml');
  expect(report.lists.find((l) => l.heading === 'Log')?.lines).toEqual([`2030-01-02  ${hostile}`]);
});

test('in a bank, whichever band is in hand, every part is called the same in values, list and connections', () => {
  for (const at of [0, 7]) {
    const report = reportOf('Formant bank', (d) => ({
      ...d,
      variants: d.variants.map((v) => ({ ...v, currentWay: v.ways[at].id })),
    }));
    const called = rowsOf(report, 'Values').map(([name]) => name);
    expect(new Set(called).size).toBe(called.length);
    const listed = new Set(rowsOf(report, 'Parts').flatMap(([, where]) => where.split(' ')));
    const soldered = new Set(rowsOf(report, 'What meets where').flatMap(([, pins]) => pins.split(/[ ·]+/)));
    for (const name of called) expect([name, listed.has(name), soldered.has(name)]).toEqual([name, true, true]);
  }
});

test('a limit is met or missed by what the filter has there: a fourth-order Butterworth, by its formula', () => {
  // 10 log10(1 + (f/fc)^8) at 4 fc is 48.16 dB; asked are 2 dB less and 2 dB more.
  const down = 10 * Math.log10(1 + 4 ** 8);
  for (const [asked, word] of [
    [down - 2, 'met'],
    [down + 2, 'missed'],
  ] as const) {
    const design = must(singlePath({ plan: createPlan('p', 'lowpass', 'butterworth', 4, 1000) }, countingIds('limit')));
    const limit = { id: 'l', kind: 'at-least' as const, side: 'above' as const, freqHz: 4000, db: asked };
    const exact = {
      ...design,
      brief: { ...design.brief, mask: [limit] },
      preferences: { ...design.preferences, resistorSeries: 'E192' as const, capacitorSeries: 'E192' as const },
    };
    const report = must(runReport({ kind: 'report', design: exact, variantId: exact.currentVariant }, new AcSolver()));
    const [, by] = new RegExp(`down above 4 kHz: ${word} by ([\\d.]+) dB at `).exec(report.brief.join('\n')) ?? [];
    expect(Number(by)).toBeGreaterThan(1.5);
    expect(Number(by)).toBeLessThan(2.5);
  }
});

test('a variant that there is not is refused', () => {
  const [design] = demoDesigns();
  expect(runReport({ kind: 'report', design, variantId: 'nobody' }, new AcSolver())).toMatchObject({
    code: 'no-such-variant',
  });
});
