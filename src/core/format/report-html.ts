import { escapeMarkup as text, inlineSvg } from './svg';

/** A table of a report; figures stand to the right. */
export interface ReportTable {
  readonly heading: string;
  readonly columns: readonly { readonly name: string; readonly figure?: boolean }[];
  readonly rows: readonly (readonly string[])[];
}

/** What a report holds, in the order that it is read at the bench. */
export interface Report {
  readonly title: string;
  /** The variant, and what it is for. */
  readonly subtitle: string;
  readonly note: string;
  /** Wanted and met, supply, source and load: a line each. */
  readonly brief: readonly string[];
  /** Whole SVG files, each with what it shows. */
  readonly pictures: readonly { readonly says: string; readonly svg: string }[];
  readonly tables: readonly ReportTable[];
  readonly lists: readonly { readonly heading: string; readonly lines: readonly string[] }[];
}

/** How a report looks, wherever it stands: within `.report`, and nothing else on the page. */
const STYLE = `
.report { color: #111; background: #fff; font-size: 13px; line-height: 1.45; }
.report { font-family: 'Atkinson Hyperlegible Next Variable', 'DejaVu Sans', sans-serif; }
.report h1 { font-size: 20px; margin: 0; }
.report h2 { font-size: 15px; margin: 18px 0 6px; }
.report .quiet, .report figcaption { color: #444; }
.report figure { margin: 12px 0; break-inside: avoid; }
.report figure svg { max-width: 100%; height: auto; }
.report section { overflow-x: auto; }
.report table { border-collapse: collapse; width: 100%; }
.report tr { break-inside: avoid; }
.report th, .report td { border-bottom: 1px solid #bbb; padding: 2px 8px 2px 0; text-align: left; vertical-align: top; }
.report .figure { text-align: right; white-space: nowrap; }
.report .figure { font-family: 'Atkinson Hyperlegible Mono Variable', 'DejaVu Sans Mono', monospace; }
.report ul { margin: 0; padding-left: 18px; }
@page { margin: 14mm; @bottom-right { content: counter(page) ' / ' counter(pages); } }
@media print { .report { font-size: 11px; } .report figure svg { max-height: 230mm; } }
`;
/** Around a report that has a page to itself. */
const PAGE_STYLE = `
body.report { margin: 0 auto; max-width: 190mm; padding: 10mm; }
@media print { body.report { padding: 0; max-width: none; } }
`;

const table = ({ heading, columns, rows }: ReportTable): string => {
  const cell = (tag: string, content: string, at: number) =>
    `<${tag}${columns[at].figure ? ' class="figure"' : ''}>${text(content)}</${tag}>`;
  return (
    `<section><h2>${text(heading)}</h2><table><thead><tr>${columns.map((c, i) => cell('th', c.name, i)).join('')}` +
    `</tr></thead><tbody>${rows.map((row) => `<tr>${row.map((c, i) => cell('td', c, i)).join('')}</tr>`).join('')}` +
    '</tbody></table></section>'
  );
};

const bullets = (lines: readonly string[]): string =>
  `<ul>${lines.map((line) => `<li>${text(line)}</li>`).join('')}</ul>`;

/**
 * What stands in an element of the class `report`, with how it looks: no script, nothing from elsewhere, every text
 * escaped.
 */
export const reportBody = ({ title, subtitle, note, brief, pictures, tables, lists }: Report): string =>
  [
    `<style>${STYLE}</style>`,
    `<header><h1>${text(title)}</h1><p class="quiet">${text(subtitle)}</p></header>`,
    note && `<p>${text(note)}</p>`,
    brief.length > 0 && bullets(brief),
    ...pictures.map(({ says, svg }) => `<figure>${inlineSvg(svg)}<figcaption>${text(says)}</figcaption></figure>`),
    ...tables.filter((t) => t.rows.length > 0).map(table),
    ...lists
      .filter((l) => l.lines.length > 0)
      .map(({ heading, lines }) => `<section><h2>${text(heading)}</h2>${bullets(lines)}</section>`),
  ]
    .filter(Boolean)
    .join('\n');

/** A report as one page that needs nothing else: to be sent, kept, and printed on A4 or Letter. */
export const reportHtml = (report: Report): string =>
  [
    '<!doctype html>',
    `<html lang="en"><head><meta charset="utf-8"><title>${text(report.title)}</title>`,
    `<meta name="viewport" content="width=device-width"><style>${PAGE_STYLE}</style></head>`,
    '<body class="report">',
    reportBody(report),
    '</body></html>',
    '',
  ].join('\n');
