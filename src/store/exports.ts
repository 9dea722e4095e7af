import { buildSheet } from '@/core/design/build-sheet';
import { AS_BUILT } from '@/core/design/compile';
import { writeDesign } from '@/core/design/migrate';
import type { Design } from '@/core/design/schema';
import { figure, writeCsv } from '@/core/format/csv';
import { curvesSvg, schematicSvg } from '@/core/format/svg';
import { drawingOf } from '@/core/design/stage-design';
import { designDeck } from '@/core/jobs/deck/deck-jobs';
import { success, type Failure, type Result } from '@/core/result';
import { stageTopology } from '@/core/design/stage-topology';
import { download, fileName } from '@/ui/download';
import { documentStore } from './document';
import { currentVariantOf, currentWayOf } from './edits';
import { resultsStore } from './results';

const openDesignNow = (): Design => {
  const { design } = documentStore.getState();
  if (!design) throw new Error('no design is open');
  return design;
};

export function exportDesign(): void {
  const design = openDesignNow();
  download(fileName(design.title, 'json'), writeDesign(design), 'application/json');
}

export function responseCsvOf(): string | null {
  const { desk } = resultsStore.getState();
  if (!desk) return null;
  const ghost = desk.ghost;
  const header = [
    'frequency_hz',
    'as_built_db',
    'as_built_deg',
    'as_built_delay_s',
    'ideal_db',
    'ideal_deg',
    ...(ghost ? ['ghost_db', 'ghost_deg'] : []),
  ];
  return writeCsv(
    header,
    Array.from(desk.freqHz, (f, i) => [
      figure(f),
      figure(desk.asBuilt.levelDb[i]),
      figure(desk.asBuilt.phaseDeg[i]),
      figure(desk.asBuilt.delayS[i]),
      figure(desk.ideal.levelDb[i]),
      figure(desk.ideal.phaseDeg[i]),
      ...(ghost ? [figure(ghost.levelDb[i]), figure(ghost.phaseDeg[i])] : []),
    ]),
  );
}

export function exportResponse(): void {
  const csv = responseCsvOf();
  if (csv) download(fileName(`${openDesignNow().title} response`, 'csv'), csv, 'text/csv');
}

export function partsCsvOf(design: Design): Result<string> {
  const sheet = buildSheet(design, currentVariantOf(design));
  if (!sheet.ok) return sheet;
  return success(
    writeCsv(
      ['kind', 'value_si', 'name', 'tolerance_pct', 'references', 'per_board', 'boards', 'total'],
      sheet.value.parts.map((line) => [
        line.kind,
        line.value === null ? '' : figure(line.value),
        line.name,
        line.tolerancePct ?? '',
        line.references.join(' '),
        line.perBoard,
        sheet.value.boards,
        line.total,
      ]),
    ),
  );
}

export function exportParts(): Failure | null {
  const design = openDesignNow();
  const csv = partsCsvOf(design);
  if (!csv.ok) return csv;
  download(fileName(`${design.title} parts`, 'csv'), csv.value, 'text/csv');
  return null;
}

export function exportDeck(): Failure | null {
  const design = openDesignNow();
  const deck = designDeck(design, { ...currentVariantOf(design), ways: [currentWayOf(design)] }, AS_BUILT);
  if (!deck.ok) return deck;
  download(fileName(design.title, 'cir'), deck.value.deck, 'text/plain');
  return null;
}

export function exportSchematic(): void {
  const design = openDesignNow();
  const { desk } = resultsStore.getState();
  if (!desk) return;
  const placed = new Map(currentWayOf(design).stages.map((s) => [s.id, s]));
  const stages = desk.stages
    .filter((s) => !s.bypassed && placed.has(s.id))
    .map((s, i) => {
      const values = Object.fromEntries(s.parts.map((p) => [p.name, p.chosen]));
      const topology = stageTopology(placed.get(s.id)!, currentWayOf(design));
      return {
        name: `${i + 1}  ${s.name}, ${topology.name}`,
        drawing: drawingOf(topology, s.form, values),
        options: {
          values,
          resistorSymbol: design.preferences.resistorSymbol,
          leftOut: Object.fromEntries(s.parts.filter((p) => p.leftOut).map((p) => [p.name, p.leaveOut])),
        },
      };
    });
  download(fileName(`${design.title} circuit`, 'svg'), schematicSvg({ title: design.title, stages }), 'image/svg+xml');
}

export function exportCurves(): void {
  const design = openDesignNow();
  const { desk } = resultsStore.getState();
  if (!desk) return;
  const topDb = 10 * Math.ceil((desk.askedDb + 5) / 10);
  const traces = [
    { name: 'ideal', freqHz: desk.freqHz, levelDb: desk.ideal.levelDb, colour: '#94580c', dash: '2 4' },
    ...(desk.ghost
      ? [{ name: 'ghost', freqHz: desk.freqHz, levelDb: desk.ghost.levelDb, colour: '#8c7f5f', dash: '7 5' }]
      : []),
    ...design.measurements.map((m) => ({ name: m.name, freqHz: m.freqHz, levelDb: m.levelDb, colour: '#7b3f8f' })),
    {
      name: `${currentVariantOf(design).name} as built`,
      freqHz: desk.freqHz,
      levelDb: desk.asBuilt.levelDb,
      colour: '#17594b',
    },
  ];
  download(
    fileName(`${design.title} curves`, 'svg'),
    curvesSvg({ title: design.title, freqHz: desk.freqHz, traces, topDb, bottomDb: topDb - 70 }),
    'image/svg+xml',
  );
}
