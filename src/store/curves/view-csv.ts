import { figure, writeCsv } from '@/core/format/csv';
import type { DeskResult } from '@/core/jobs/desk/desk-types';
import type { TimeResult } from '@/core/jobs/desk/time';
import type { Acoustics } from '@/core/jobs/loudspeaker/acoustics-types';
import type { Angles, Decay } from '@/core/jobs/loudspeaker/speaker-views';
import type { Comparison } from './comparison';
import type { CurveView } from '../view';

/** What the views show, as far as it is there. */
export interface ViewAnswers {
  readonly desk: DeskResult | null;
  readonly acoustics: Acoustics | null;
  readonly time: TimeResult | null;
  readonly angles: Angles | null;
  readonly decay: Decay | null;
  readonly comparison: Comparison | null;
}

type Column = readonly [name: string, values: ArrayLike<number>];

/** A name as a column has it: small letters, with its unit. */
const columnName = (name: string, unit: string): string =>
  `${
    name
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, '_')
      .replace(/^_|_$/g, '') || 'way'
  }_${unit}`;

const optional = (name: string, values: ArrayLike<number> | null | undefined): Column[] =>
  values ? [[name, values]] : [];

function responseColumns({ freqHz, asBuilt, ideal, ghost }: DeskResult): Column[] {
  return [
    ['frequency_hz', freqHz],
    ['as_built_db', asBuilt.levelDb],
    ['as_built_deg', asBuilt.phaseDeg],
    ['as_built_delay_s', asBuilt.delayS],
    ['ideal_db', ideal.levelDb],
    ['ideal_deg', ideal.phaseDeg],
    ...(ghost
      ? ([
          ['ghost_db', ghost.levelDb],
          ['ghost_deg', ghost.phaseDeg],
        ] as const)
      : []),
  ];
}

/** Of a crossover everything over frequency: each way, what it gets, the sum, its target, and the load. */
function heardColumns({ freqHz, ways, sumDb, sumPhaseDeg, targetDb, ghost, load }: Acoustics): Column[] {
  return [
    ['frequency_hz', freqHz],
    ...ways.flatMap(({ name, levelDb, phaseDeg, voltsDb }): Column[] => [
      [columnName(name, 'db_spl'), levelDb],
      [columnName(name, 'deg'), phaseDeg],
      [columnName(name, 'volts_db'), voltsDb],
    ]),
    ['sum_db_spl', sumDb],
    ['sum_deg', sumPhaseDeg],
    ['target_db_spl', targetDb],
    ...optional('ghost_sum_db_spl', ghost?.sumDb),
    ...optional('load_ohm', load?.ohm),
    ...optional('load_deg', load?.phaseDeg),
  ];
}

function timeColumns({ timeS, drive, asBuilt, ideal, ghost, bare }: TimeResult): Column[] {
  return [
    ['time_s', timeS],
    ['input_v', drive],
    ['as_built_v', asBuilt],
    ...optional('ideal_v', ideal),
    ...optional('ghost_v', ghost),
    ...optional('without_capacitors_v', bare),
  ];
}

const angleColumns = ({ freqHz, up, across }: Angles): Column[] => [
  ['frequency_hz', freqHz],
  ...up.map(({ deg, sumDb }): Column => [`up_${deg}_deg_db_spl`, sumDb]),
  ...across.map(({ deg, sumDb }): Column => [`across_${deg}_deg_db_spl`, sumDb]),
];

const decayColumns = ({ freqHz, slices }: Decay): Column[] => [
  ['frequency_hz', freqHz],
  ...slices.map(({ ms, levelDb }): Column => [`after_${ms}_ms_db_spl`, levelDb]),
];

const differenceColumns = ({ freqHz, differenceDb, first, second }: Comparison): Column[] => [
  ['frequency_hz', freqHz],
  [columnName(`${first.name} less ${second.name}`, 'db'), differenceDb],
];

/** What a view is made of; what has none of its own is written as the response that lies under it. */
function columnsOf(
  view: CurveView,
  { desk, acoustics, time, angles, decay, comparison }: ViewAnswers,
): Column[] | null {
  switch (view) {
    case 'step':
    case 'wave':
      return time && timeColumns(time);
    case 'ways':
    case 'load':
      return acoustics && heardColumns(acoustics);
    case 'angles':
      return angles && angleColumns(angles);
    case 'difference':
      return comparison && differenceColumns(comparison);
    case 'decay':
      return decay && decayColumns(decay);
    default:
      return desk && responseColumns(desk);
  }
}

/** The view in front as a table; null while it has no answer. Two ways of one name are told apart by their place. */
export function csvOfView(view: CurveView, answers: ViewAnswers): string | null {
  const columns = columnsOf(view, answers);
  if (!columns) return null;
  const names = columns.map(([name]) => name);
  const header = names.map((name, i) => {
    const before = names.slice(0, i).filter((n) => n === name).length;
    return before > 0 ? `${name}_${before + 1}` : name;
  });
  return writeCsv(
    header,
    Array.from({ length: columns[0][1].length }, (_, i) => columns.map(([, values]) => figure(values[i]))),
  );
}
