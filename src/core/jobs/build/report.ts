import type * as z from 'zod';
import { buildSheet } from '../../design/building/build-sheet';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import { calledIn, designatorsOf } from '../../design/stages/designators';
import { currentWayIn } from '../../design/document/current-way';
import type { Design, MaskLimit, Variant, Way } from '../../design/document/schema';
import { stageTopology } from '../../design/stages/stage-topology';
import type { Report } from '../../format/report-html';
import { curvesSvg, sheetSvg } from '../../format/svg';
import { partText } from '../../parts/parts-list';
import { upOf } from '../../filter/brief-mask';
import { failure, success, type Result } from '../../result';
import type { Topology } from '../../topology/kit/define-topology';
import { PART_UNITS } from '../../topology/kit/part-units';
import { formatQuantity, formatSigned } from '../../units/quantity';
import type { AcSolver } from '../../analysis/ac/solver';
import { defineJob, ofVariant, requestOf } from '../define-job';
import { deskStage, runDesk } from '../desk/desk';
import { sheetOf } from './sheet';
import { loadWords, supplyWords, variantWords } from './words';
import type { BriefVerdict, DeskStage } from '../desk/desk-types';
import { runAcoustics } from '../loudspeaker/acoustics';
import { soundSvg } from '../loudspeaker/sound-svg';

/** A variant as a report for people without the program, and for the printer. */
const reportRequest = requestOf('report', { ...ofVariant });
export type ReportRequest = z.infer<typeof reportRequest>;

const GRID = { fromHz: 10, toHz: 100e3, points: 401 };
const AUDIBLE = { fromHz: 20, toHz: 20e3, points: 401 };
const COLOURS = ['#17594b', '#33518f', '#94580c', '#7b3f8f', '#8f2f2f'];
/** dB that a report's curves show under their top. */
const SHOWN_DB = 70;

/** Fails as the design does, or with `no-such-variant`. */
export function runReport({ design, variantId }: ReportRequest, solver: AcSolver): Result<Report> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const read = variant.join === 'acoustic' ? heard(design, variant, solver) : asBuilt(design, variant, solver);
  if (!read.ok) return read;
  const sheet = buildSheet(design, variant);
  if (!sheet.ok) return sheet;
  const drawings = drawn(design, variant);
  if (!drawings.ok) return drawings;
  const { parts, connections, boards } = sheet.value;
  const { curves, stages, met } = read.value;
  const built = stages.map(({ way, facts }) => ({ way, facts, topology: topologyOf(way, facts) }));
  return success({
    title: design.title,
    subtitle: variantWords(variant),
    note: design.brief.note,
    brief: [...terms(design, variant), ...met],
    pictures: [curves, ...drawings.value],
    tables: [
      {
        heading: 'Values',
        columns: [
          { name: 'part' },
          { name: 'what it does' },
          { name: 'exact', figure: true },
          { name: 'used', figure: true },
          { name: 'off by', figure: true },
        ],
        rows: built.flatMap(({ facts }) =>
          facts.parts.map((p) => [
            calledIn(facts, p.name),
            p.leftOut ? `${p.role}; left out, ${p.leaveOut === 'open' ? 'place empty' : 'a wire there'}` : p.role,
            formatQuantity(p.exact, PART_UNITS[p.kind]),
            formatQuantity(p.chosen, PART_UNITS[p.kind]),
            formatSigned(100 * (p.chosen / p.exact - 1), 'percent', 1),
          ]),
        ),
      },
      {
        heading: boards === 1 ? 'Parts' : `Parts for ${boards} boards`,
        columns: [
          { name: 'part' },
          { name: 'where' },
          { name: 'on one', figure: true },
          { name: 'in all', figure: true },
        ],
        rows: parts.map((line) => [
          partText(line),
          line.references.join(' '),
          String(line.perBoard),
          String(line.total),
        ]),
      },
      {
        heading: 'What meets where',
        columns: [{ name: 'net' }, { name: 'soldered together' }],
        rows: connections.map(({ net, pins }) => [net, pins.join(' · ')]),
      },
    ],
    lists: [
      { heading: 'Cautions', lines: [...new Set(built.flatMap((s) => s.topology.cautions)), ...USUAL_CAUTIONS] },
      { heading: 'Log', lines: design.log.map(({ at, text }) => `${at.slice(0, 10)}  ${text}`) },
    ],
  });
}

/** Ways that one drawing can hold and still be read on paper. */
const MOST_WAYS = 4;

/** The whole circuit on one sheet, or where there are too many ways for that, each on its own. */
function drawn(design: Design, variant: Variant): Result<Report['pictures']> {
  const compiled = compile(design, variant, AS_BUILT);
  if (!compiled.ok) return compiled;
  const svgOf = (wayId?: string) => sheetSvg(sheetOf(design, variant, compiled.value, wayId));
  return success(
    variant.ways.length <= MOST_WAYS
      ? [{ says: 'The whole circuit', svg: svgOf() }]
      : variant.ways.map(({ id, name }) => ({ says: `Circuit of ${name}`, svg: svgOf(id) })),
  );
}

/** Besides what the circuits themselves ask for. */
const USUAL_CAUTIONS = [
  'Measure every supply before the first part is put in, and current-limit the first power-up.',
  'Mains is for those who are qualified; local codes come first. The tool advises and does not certify.',
];

interface Read {
  readonly curves: Report['pictures'][number];
  readonly stages: readonly { readonly way: Way; readonly facts: DeskStage }[];
  readonly met: readonly string[];
}

/** What a circuit on a path, or the way in hand of a bank, does as built. */
function asBuilt(design: Design, variant: Variant, solver: AcSolver): Result<Read> {
  const inHand = currentWayIn(variant);
  // The desk's answer is about the first way.
  const first = { ...variant, ways: [inHand, ...variant.ways.filter((w) => w !== inHand)] };
  const alone = { ...design, variants: design.variants.map((v) => (v.id === variant.id ? first : v)) };
  const asked = { kind: 'desk' as const, design: alone, variantId: variant.id, ghostVariantId: null, grid: GRID };
  const front = runDesk(asked, solver);
  if (!front.ok) return front;
  const compiled = compile(design, variant, AS_BUILT);
  if (!compiled.ok) return compiled;
  const names = designatorsOf(compiled.value.ways);
  const stages = compiled.value.ways.flatMap(({ stages: designed }, w) =>
    designed.map((each) => ({
      way: variant.ways[w],
      facts: deskStage(design, variant.ways[w], each, names, solver),
    })),
  );
  const { freqHz, asBuilt: built, ideal, askedDb, brief } = front.value;
  const topDb = 10 * Math.ceil((askedDb + 5) / 10);
  return success({
    stages,
    met: brief.map((v) =>
      verdictWords(
        design.brief.mask.find((l) => l.id === v.limitId),
        v,
      ),
    ),
    curves: {
      says: variant.ways.length > 1 ? `Response of ${inHand.name}` : 'Response as built, and ideal',
      svg: curvesSvg({
        title: design.title,
        freqHz,
        traces: [
          { name: 'ideal', freqHz, levelDb: ideal.levelDb, colour: COLOURS[2], dash: '2 4' },
          { name: 'as built', freqHz, levelDb: built.levelDb, colour: COLOURS[0] },
        ],
        topDb,
        bottomDb: topDb - SHOWN_DB,
      }),
    },
  });
}

/** What is heard of a crossover. */
function heard(design: Design, variant: Variant, solver: AcSolver): Result<Read> {
  const asked = { kind: 'acoustics' as const, design, variantId: variant.id, ghostVariantId: null, grid: AUDIBLE };
  const sounded = runAcoustics(asked, solver);
  if (!sounded.ok) return sounded;
  const { ways, load } = sounded.value;
  return success({
    stages: ways.flatMap((w) => {
      const way = variant.ways.find((x) => x.id === w.wayId) as Way;
      return w.stages.map((facts) => ({ way, facts }));
    }),
    met: load
      ? [
          `Load: never under ${formatQuantity(load.lowestOhm, 'resistance', { digits: 3 })}, ` +
            `at ${formatQuantity(load.lowestHz, 'frequency', { digits: 3 })}`,
        ]
      : [],
    curves: {
      says: 'Every way and their sum',
      svg: soundSvg(design.title, sounded.value),
    },
  });
}

const topologyOf = (way: Way, { id }: DeskStage): Topology =>
  stageTopology(way.stages.find((s) => s.id === id) as Way['stages'][number], way);

function terms({ brief }: Design, { ways }: Variant): string[] {
  const { source, load, signalVolts } = brief;
  const driven = ways.some((w) => w.load.kind === 'driver');
  return [
    `From ${source.name || 'the source'}, ${formatQuantity(source.ohm, 'resistance')}, ` +
      `${formatQuantity(signalVolts, 'voltage')} RMS`,
    ...(driven ? [] : [`Into ${load.name || 'the load'}, ${loadWords(brief)}`, supplyWords(brief)]),
  ];
}

const verdictWords = (limit: MaskLimit | undefined, { met, byDb, atHz }: BriefVerdict): string =>
  limit
    ? `At ${limit.kind === 'at-most' ? 'most' : 'least'} ${formatQuantity(limit.db, 'decibel')} down` +
      (limit.kind === 'at-most' ? `, ${formatQuantity(upOf(limit), 'decibel')} up` : '') +
      ` ${limit.side} ` +
      `${formatQuantity(limit.freqHz, 'frequency')}: ${met ? 'met' : 'missed'} by ` +
      `${formatQuantity(Math.abs(byDb), 'decibel', { digits: 3 })} at ` +
      formatQuantity(atHz, 'frequency', { digits: 3 })
    : '';

export const reportJob = defineJob(reportRequest, (request, { solver }) => runReport(request, solver));
