import type { Drawing } from '../topology/kit/drawing';
import { schematicShapes, type SchematicOptions } from './schematic-shapes';
import { TEXT } from '../topology/kit/drawing';

const escape = (text: string): string =>
  text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');
const UNIT = 12;
const FONT = 'Atkinson Hyperlegible Mono, DejaVu Sans Mono, monospace';

/** One stage's schematic as SVG elements, with the upper left corner at an offset in pixels. */
function schematicGroup(drawing: Drawing, options: SchematicOptions, dx: number, dy: number): string {
  const body = schematicShapes(drawing, options).map((shape) => {
    if (shape.kind === 'path') return `<path d="${shape.d}" fill="none" stroke="#1d2823" stroke-width="0.13"/>`;
    if (shape.kind === 'dot') return `<circle cx="${shape.at[0]}" cy="${shape.at[1]}" r="0.28" fill="#1d2823"/>`;
    return `<text x="${shape.at[0]}" y="${shape.at[1]}" font-family="${FONT}" font-size="${TEXT}" text-anchor="${shape.anchor}" fill="${shape.rest ? '#17594b' : shape.strong ? '#1d2823' : '#5a625c'}">${escape(shape.text)}</text>`;
  });
  return `<g transform="translate(${dx} ${dy}) scale(${UNIT})">${body.join('')}</g>`;
}

export interface SchematicSheet {
  readonly title: string;
  readonly stages: readonly { readonly name: string; readonly drawing: Drawing; readonly options: SchematicOptions }[];
}

/** All stages of a path under each other as an SVG file. */
export function schematicSvg({ title, stages }: SchematicSheet): string {
  const margin = 24;
  let y = 48;
  const groups = stages.map(({ name, drawing, options }) => {
    const heading = `<text x="${margin}" y="${y}" font-family="${FONT}" font-size="14" fill="#17594b">${escape(name)}</text>`;
    const group = schematicGroup(drawing, options, margin, y + 8);
    y += drawing.height * UNIT + 48;
    return heading + group;
  });
  const width = margin * 2 + UNIT * Math.max(20, ...stages.map((s) => s.drawing.width));
  return `<?xml version="1.0" encoding="UTF-8"?>\n<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${y}" viewBox="0 0 ${width} ${y}"><title>${escape(title)}</title><rect width="100%" height="100%" fill="#fffef9"/><text x="${margin}" y="26" font-family="${FONT}" font-size="16" font-weight="bold" fill="#1d2823">${escape(title)}</text>${groups.join('')}</svg>\n`;
}

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
  readonly topDb: number;
  readonly bottomDb: number;
}

/** Level curves as an SVG file, with axes and a key. */
export function curvesSvg({ title, freqHz, traces, topDb, bottomDb }: CurveSheet): string {
  const [width, height, left, right, top, bottom] = [960, 540, 60, 20, 60, 50];
  const [low, high] = [freqHz[0], freqHz[freqHz.length - 1]];
  const px = (f: number) => left + ((width - left - right) * Math.log(f / low)) / Math.log(high / low);
  const py = (db: number) => top + ((height - top - bottom) * (topDb - db)) / (topDb - bottomDb);
  const out: string[] = [];
  const line = (x1: number, y1: number, x2: number, y2: number, colour: string) =>
    out.push(
      `<path d="M${x1.toFixed(1)} ${y1.toFixed(1)}L${x2.toFixed(1)} ${y2.toFixed(1)}" stroke="${colour}" fill="none"/>`,
    );
  const text = (x: number, y: number, anchor: string, what: string, colour = '#5a625c') =>
    out.push(
      `<text x="${x.toFixed(1)}" y="${y.toFixed(1)}" text-anchor="${anchor}" font-family="${FONT}" font-size="12" fill="${colour}">${escape(what)}</text>`,
    );
  for (let d = Math.floor(Math.log10(low)); d <= Math.ceil(Math.log10(high)); d++)
    for (const n of [1, 2, 5]) {
      const f = n * 10 ** d;
      if (f < low * 0.999 || f > high * 1.001) continue;
      line(px(f), top, px(f), height - bottom, '#ebe7da');
      text(px(f), height - bottom + 18, 'middle', formatHz(f));
    }
  for (let db = topDb; db >= bottomDb; db -= 10) {
    line(left, py(db), width - right, py(db), '#ebe7da');
    text(left - 8, py(db) + 4, 'end', `${db}`.replace('-', '−'));
  }
  out.push(
    `<clipPath id="plot"><rect x="${left}" y="${top}" width="${width - left - right}" height="${height - top - bottom}"/></clipPath>`,
  );
  traces.forEach((trace, i) => {
    const points = Array.from(
      trace.freqHz,
      (f, k) => `${px(f).toFixed(1)} ${py(Math.max(bottomDb - 200, trace.levelDb[k])).toFixed(1)}`,
    );
    out.push(
      `<path d="M${points.join('L')}" fill="none" stroke="${trace.colour}" stroke-width="2"${trace.dash ? ` stroke-dasharray="${trace.dash}"` : ''} clip-path="url(#plot)"/>`,
    );
    text(left + 8 + 170 * i, 46, 'start', trace.name, trace.colour);
  });
  text(left, height - 12, 'start', 'level, dB re 1 V at the source; frequency, Hz');
  return `<?xml version="1.0" encoding="UTF-8"?>\n<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}"><title>${escape(title)}</title><rect width="100%" height="100%" fill="#fffef9"/><text x="${left}" y="26" font-family="${FONT}" font-size="16" font-weight="bold" fill="#1d2823">${escape(title)}</text>${out.join('')}</svg>\n`;
}

const formatHz = (f: number): string =>
  f >= 1000 ? `${Number((f / 1000).toPrecision(3))}k` : `${Number(f.toPrecision(3))}`;
