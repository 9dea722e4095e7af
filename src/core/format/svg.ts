import { TEXT, type Drawing, type Point } from '../topology/kit/drawing';
import { pathThrough, schematicShapes, type SchematicOptions } from './schematic-shapes';
import type { SheetText, VariantSheet } from './variant-sheet';

/** Text for SVG and HTML. */
export const escapeMarkup = (text: string): string =>
  text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');
/** Pixels a drawing unit has, unless the page wants it otherwise. */
const UNIT = 12;
const INK = '#1d2823';
const QUIET = '#5a625c';
const LIVE = '#17594b';
const PAPER = '#fffef9';
const GRID = '#ebe7da';
const FONT = 'Atkinson Hyperlegible Mono, DejaVu Sans Mono, monospace';

/** A schematic as SVG elements, moved to its place. */
function schematicGroup(drawing: Drawing, options: SchematicOptions, [dx, dy]: Point = [0, 0]): string {
  const body = schematicShapes(drawing, options).map((shape) => {
    if (shape.kind === 'path') return `<path d="${shape.d}" fill="none" stroke="${INK}" stroke-width="0.13"/>`;
    if (shape.kind === 'dot') return `<circle cx="${shape.at[0]}" cy="${shape.at[1]}" r="0.28" fill="${INK}"/>`;
    return (
      `<text x="${shape.at[0]}" y="${shape.at[1]}" font-family="${FONT}" font-size="${TEXT}" ` +
      `text-anchor="${shape.anchor}" ` +
      `fill="${shape.rest ? LIVE : shape.strong ? INK : QUIET}">${escapeMarkup(shape.text)}</text>`
    );
  });
  return `<g transform="translate(${dx} ${dy})">${body.join('')}</g>`;
}

/** A whole variant as an SVG file: black on paper, to be printed or put into a text. */
export function sheetSvg({ title, width, height, stages, resistors, wires, dots, texts }: VariantSheet): string {
  const text = ({ at, text: words, anchor, strong }: SheetText) =>
    `<text x="${at[0]}" y="${at[1]}" font-family="${FONT}" font-size="${TEXT}" text-anchor="${anchor}" ` +
    `fill="${strong ? INK : QUIET}"${strong ? ' font-weight="bold"' : ''}>${escapeMarkup(words)}</text>`;
  const body = [
    ...stages.flatMap(({ frame: { x0, y0, x1, y1 }, at, drawing, options }) => [
      `<rect x="${x0}" y="${y0}" width="${x1 - x0}" height="${y1 - y0}" rx="0.6" fill="none" ` +
        `stroke="${QUIET}" stroke-width="0.07" stroke-dasharray="0.5 0.4"/>`,
      schematicGroup(drawing, options, at),
    ]),
    ...resistors.map(({ drawing, options }) => schematicGroup(drawing, options)),
    ...wires.map((points) => `<path d="${pathThrough(points)}" fill="none" stroke="${INK}" stroke-width="0.13"/>`),
    ...dots.map(([x, y]) => `<circle cx="${x}" cy="${y}" r="0.28" fill="${INK}"/>`),
    ...texts.map(text),
  ];
  return (
    `<?xml version="1.0" encoding="UTF-8"?>\n<svg xmlns="http://www.w3.org/2000/svg" width="${width * UNIT}" ` +
    `height="${height * UNIT}" viewBox="0 0 ${width} ${height}"><title>${escapeMarkup(title)}</title><rect ` +
    `width="100%" height="100%" fill="${PAPER}"/>${body.join('')}</svg>\n`
  );
}

/** An SVG file as it stands within a page. */
export const inlineSvg = (file: string): string => file.replace(/^<\?xml[^>]*\?>\s*/, '');

const PRINTED = `
@page { size: landscape; margin: 10mm; }
.printed-sheet svg { width: 100%; height: auto; max-height: 185mm; }
`;
/** A sheet to be printed alone, as large as paper that lies on its side lets it be. */
export const printedSheet = (sheet: VariantSheet): string =>
  `<style>${PRINTED}</style><div class="printed-sheet">${inlineSvg(sheetSvg(sheet))}</div>`;

export interface CurveSheet {
  readonly title: string;
  readonly freqHz: ArrayLike<number>;
  readonly traces: readonly {
    readonly name: string;
    readonly freqHz: ArrayLike<number>;
    readonly levelDb: ArrayLike<number>;
    readonly colour: string;
    readonly dash?: string;
  }[];
  /** What its axes are; the level at the source's volt when absent. */
  readonly says?: string;
  readonly topDb: number;
  readonly bottomDb: number;
}

const SOURCE_AXES = 'level, dB re 1 V at the source; frequency, Hz';

/** Level curves as an SVG file, with axes and a key. */
export function curvesSvg({ title, freqHz, traces, topDb, bottomDb, says = SOURCE_AXES }: CurveSheet): string {
  const [width, height, left, right, top, bottom] = [960, 540, 60, 20, 60, 50];
  const [low, high] = [freqHz[0], freqHz[freqHz.length - 1]];
  const px = (f: number) => left + ((width - left - right) * Math.log(f / low)) / Math.log(high / low);
  const py = (db: number) => top + ((height - top - bottom) * (topDb - db)) / (topDb - bottomDb);
  const out: string[] = [];
  const line = (x1: number, y1: number, x2: number, y2: number, colour: string) =>
    out.push(
      `<path d="M${x1.toFixed(1)} ${y1.toFixed(1)}L${x2.toFixed(1)} ${y2.toFixed(1)}" stroke="${colour}" fill="none"/>`,
    );
  const text = (x: number, y: number, anchor: string, what: string, colour = QUIET) =>
    out.push(
      `<text x="${x.toFixed(1)}" y="${y.toFixed(1)}" text-anchor="${anchor}" font-family="${FONT}" ` +
        `font-size="12" fill="${colour}">${escapeMarkup(what)}</text>`,
    );
  for (let d = Math.floor(Math.log10(low)); d <= Math.ceil(Math.log10(high)); d++)
    for (const n of [1, 2, 5]) {
      const f = n * 10 ** d;
      if (f < low * 0.999 || f > high * 1.001) continue;
      line(px(f), top, px(f), height - bottom, GRID);
      text(px(f), height - bottom + 18, 'middle', formatHz(f));
    }
  for (let db = topDb; db >= bottomDb; db -= 10) {
    line(left, py(db), width - right, py(db), GRID);
    text(left - 8, py(db) + 4, 'end', `${db}`.replace('-', '−'));
  }
  out.push(
    `<clipPath id="plot"><rect x="${left}" y="${top}" width="${width - left - right}" ` +
      `height="${height - top - bottom}"/></clipPath>`,
  );
  traces.forEach((trace, i) => {
    const points = Array.from(
      trace.freqHz,
      (f, k) => `${px(f).toFixed(1)} ${py(Math.max(bottomDb - 200, trace.levelDb[k])).toFixed(1)}`,
    );
    out.push(
      `<path d="M${points.join('L')}" fill="none" stroke="${trace.colour}" ` +
        `stroke-width="2"${trace.dash ? ` stroke-dasharray="${trace.dash}"` : ''} clip-path="url(#plot)"/>`,
    );
    text(left + 8 + 170 * i, 46, 'start', trace.name, trace.colour);
  });
  text(left, height - 12, 'start', says);
  return (
    `<?xml version="1.0" encoding="UTF-8"?>\n<svg xmlns="http://www.w3.org/2000/svg" width="${width}" ` +
    `height="${height}" viewBox="0 0 ${width} ${height}"><title>${escapeMarkup(title)}</title><rect ` +
    `width="100%" height="100%" fill="${PAPER}"/><text x="${left}" y="26" font-family="${FONT}" ` +
    `font-size="16" font-weight="bold" fill="${INK}">${escapeMarkup(title)}</text>${out.join('')}</svg>\n`
  );
}

const formatHz = (f: number): string =>
  f >= 1000 ? `${Number((f / 1000).toPrecision(3))}k` : `${Number(f.toPrecision(3))}`;
