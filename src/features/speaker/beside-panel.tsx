'use client';

import { Button } from 'antd';
import type { SpeakerFigures } from '@/core/jobs/loudspeaker/compare-speakers';
import { figure, writeCsv } from '@/core/format/csv';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useDesign } from '@/store/document';
import { BESIDE } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { download, fileName } from '@/ui/download';

interface Row {
  readonly name: string;
  readonly column: string;
  readonly value: (of: SpeakerFigures) => number | null;
  readonly words: (value: number, of: SpeakerFigures) => string;
  /** Whether more of it is better. */
  readonly more: boolean;
}
const hz = (v: number) => formatQuantity(v, 'frequency', { digits: 3 });
const db = (v: number) => `±${formatFixed(v, 2)}\u202fdB`;
const ROWS: readonly Row[] = [
  { name: 'sum, off level', column: 'flat_db', value: (f) => f.flatDb, words: db, more: false },
  { name: 'sum, off its target', column: 'aligned_db', value: (f) => f.alignedDb, words: db, more: false },
  { name: '15° above and below, off', column: 'aside_db', value: (f) => f.asideDb, words: db, more: false },
  {
    name: 'least load',
    column: 'lowest_ohm',
    value: (f) => f.lowestOhm,
    words: (v, f) => `${formatQuantity(v, 'resistance', { digits: 3 })} at ${hz(f.lowestHz ?? 0)}`,
    more: true,
  },
  {
    name: 'still there after 3 ms',
    column: 'decay_db',
    value: (f) => f.decayDb,
    words: (v) => `${formatFixed(v, 1)}\u202fdB`.replace('-', '−'),
    more: false,
  },
  { name: 'parts', column: 'price', value: (f) => f.price, words: (v) => formatFixed(v, 2), more: false },
];

/** The crossover on the desk beside the one under it: response, off the axis, load, decay and price in one report. */
export function BesidePanel() {
  const all = useAnswer(BESIDE);
  const title = useDesign((d) => d.title);
  if (!all || all.length < 2) return null;
  const called = (f: SpeakerFigures) => (f.label ? `${f.name}, ${f.label}` : f.name);
  const csv = () =>
    download(
      fileName(`${title} ${all.map((f) => f.name).join(' against ')}`, 'csv'),
      writeCsv(
        ['figure', ...all.map(called)],
        ROWS.map(({ column, value }) => [
          column,
          ...all.map((f) => (value(f) === null ? '' : figure(value(f) as number))),
        ]),
      ),
      'text/csv',
    );
  return (
    <section className="panel" aria-label="Beside the other" data-testid="beside-panel">
      <header>
        <h2>Beside {called(all[1])}</h2>
        <Button size="small" onClick={csv}>
          as CSV
        </Button>
      </header>
      <table className="sheet speaker-figures">
        <thead>
          <tr>
            <th />
            {all.map((f) => (
              <th key={f.variantId} className="number">
                {called(f)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {ROWS.map((row) => (
            <FigureRow key={row.column} row={row} all={all} />
          ))}
        </tbody>
      </table>
    </section>
  );
}

function FigureRow({ row, all }: { row: Row; all: readonly SpeakerFigures[] }) {
  const values = all.map(row.value);
  const known = values.filter((v) => v !== null);
  const best = row.more ? Math.max(...known) : Math.min(...known);
  const tells = known.length > 1 && known.some((v) => v !== best);
  return (
    <tr>
      <td>{row.name}</td>
      {all.map((f, i) => {
        const value = values[i];
        return (
          <td key={f.variantId} className="number">
            {value === null ? '–' : tells && value === best ? <b>{row.words(value, f)}</b> : row.words(value, f)}
          </td>
        );
      })}
    </tr>
  );
}
