import type { Design } from '@/core/design/document/schema';
import { curvesSvg, printedSheet, sheetSvg } from '@/core/format/svg';
import { compareWithPrediction } from '@/core/measure/compare';
import { thinned } from '@/core/measure/thinned';
import type { DeskResult } from '@/core/jobs/desk/desk-types';
import { soundSvg } from '@/core/jobs/loudspeaker/sound-svg';
import { failure } from '@/core/result';
import { download, fileName } from '@/ui/download';
import { pngOf, svgOfView } from '@/ui/view-picture';
import { reportBody, reportHtml } from '@/core/format/report-html';
import type { JobAnswers } from '@/core/jobs/run-job';
import { startJob } from '@/workers/job-client';
import { openDesignNow } from '../document';
import { tellFailure } from '../failures';
import { currentVariantOf } from '../edits/edits';
import { ACOUSTICS, ANGLES, DECAY, DESK, TIME } from '../questions/live';
import { requestOf, type Asked } from '../questions/question';
import { viewStore } from '../view';
import { comparisonNow } from '../curves/comparison';
import { csvOfView } from '../curves/view-csv';
import { deckOf, partsCsvOf } from './circuit-exports';

/** dB that a picture of a response shows under its top. */
const SHOWN_DB = 70;

/** The view in front as a table: a crossover's holds its ways, their sum and the load. */
export function exportView(): void {
  const { curveView } = viewStore.getState();
  const csv = csvOfView(curveView, {
    desk: DESK.current().value,
    acoustics: ACOUSTICS.current().value,
    time: TIME.current().value,
    angles: ANGLES.current().value,
    decay: DECAY.current().value,
    comparison: comparisonNow(),
  });
  if (csv) download(fileName(`${openDesignNow().title} ${curveView}`, 'csv'), csv, 'text/csv');
}

export function exportParts(): void {
  const design = openDesignNow();
  const csv = partsCsvOf(design);
  if (csv.ok) download(fileName(`${design.title} parts`, 'csv'), csv.value, 'text/csv');
  else tellFailure('The parts list was not written', csv);
}

export function exportDeck(): void {
  const design = openDesignNow();
  const deck = deckOf(design);
  if (deck.ok) download(fileName(design.title, 'cir'), deck.value, 'text/plain');
  else tellFailure('The deck was not written', deck);
}

/** What a job says of the variant in front; what keeps it from being made is told. */
async function made<K extends 'sheet' | 'report'>(kind: K, title: string): Promise<JobAnswers[K] | null> {
  const design = openDesignNow();
  const answer = await startJob<K>(requestOf(kind, design, {} as Asked<K>)).answer;
  if (answer.ok) return answer.value;
  tellFailure(title, answer);
  return null;
}

export async function exportSheet(): Promise<void> {
  const sheet = await made('sheet', 'The drawing was not written');
  if (sheet) download(fileName(`${sheet.title} circuit`, 'svg'), sheetSvg(sheet), 'image/svg+xml');
}

/** Prints the drawing alone, on paper that lies on its side. */
export async function printSheet(): Promise<void> {
  const sheet = await made('sheet', 'Nothing was printed');
  if (sheet) printMarkup(printedSheet(sheet));
}

/** The view in front as it is seen; null where nothing is drawn. */
function seenSvg(): string | null {
  const view = document.querySelector('[data-view-in-front]');
  return view && svgOfView(view);
}

/** The view in front as points, in the colours it is seen in. */
export async function exportPicture(): Promise<void> {
  const svg = seenSvg();
  const png = svg ? await pngOf(svg) : failure('no-picture');
  const { curveView } = viewStore.getState();
  if (png.ok) download(fileName(`${openDesignNow().title} ${curveView}`, 'png'), png.value, 'image/png');
  else tellFailure('No picture was made', png);
}

/**
 * The view in front as lines: response, ways and sum drawn anew as for paper, any other as it is seen.
 */
export function exportCurves(): void {
  const design = openDesignNow();
  const { curveView } = viewStore.getState();
  const [desk, heard] = [DESK.current().value, ACOUSTICS.current().value];
  const svg =
    curveView === 'ways' && heard
      ? soundSvg(design.title, heard)
      : curveView === 'response' && desk
        ? responseSvg(design, desk)
        : seenSvg();
  if (svg) download(fileName(`${design.title} curves`, 'svg'), svg, 'image/svg+xml');
  else tellFailure('No picture was made', failure('no-picture'));
}

function responseSvg(design: Design, desk: DeskResult): string {
  const topDb = 10 * Math.ceil((desk.askedDb + 5) / 10);
  const traces = [
    { name: 'ideal', freqHz: desk.freqHz, levelDb: desk.ideal.levelDb, colour: '#94580c', dash: '2 4' },
    ...(desk.ghost
      ? [{ name: 'ghost', freqHz: desk.freqHz, levelDb: desk.ghost.levelDb, colour: '#8c7f5f', dash: '7 5' }]
      : []),
    ...design.measurements.map((m) => {
      // As it lies on the desk: shifted to the prediction where that is asked for.
      const predicted = { freqHz: desk.freqHz, levelDb: desk.asBuilt.levelDb };
      const { offsetDb } = compareWithPrediction(m, predicted, { aligned: m.aligned });
      const { freqHz, levelDb } = thinned(m);
      return { name: m.name, freqHz, levelDb: levelDb.map((v) => v + offsetDb), colour: '#7b3f8f' };
    }),
    {
      name: `${currentVariantOf(design).name} as built`,
      freqHz: desk.freqHz,
      levelDb: desk.asBuilt.levelDb,
      colour: '#17594b',
    },
  ];
  return curvesSvg({ title: design.title, freqHz: desk.freqHz, traces, topDb, bottomDb: topDb - SHOWN_DB });
}

/** Everything for the bench on one page that needs nothing else. */
export async function exportReport(): Promise<void> {
  const report = await made('report', 'The report was not written');
  if (report) download(fileName(`${report.title} report`, 'html'), reportHtml(report), 'text/html');
}

/** The sheet that stands on the page only while it is printed. */
const SHEET = 'report-to-print';

/** Prints the report of the variant in front, black on white, in place of the page. */
export async function printReport(): Promise<void> {
  const report = await made('report', 'Nothing was printed');
  if (report) printMarkup(reportBody(report));
}

/** Prints what is marked up in place of the page. Every text in it is escaped where it is made. */
function printMarkup(markup: string): void {
  document.getElementById(SHEET)?.remove();
  const sheet = document.createElement('div');
  sheet.id = SHEET;
  sheet.className = 'report';
  sheet.innerHTML = markup;
  document.body.append(sheet);
  window.addEventListener('afterprint', () => sheet.remove(), { once: true });
  window.print();
}
