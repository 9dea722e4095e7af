'use client';

import { Button } from 'antd';
import { DownloadOutlined } from '@ant-design/icons';
import { useDeferredValue, useMemo } from 'react';
import equal from 'fast-deep-equal';
import { settingOf } from '@/core/design/document/setting';
import { figure, writeCsv } from '@/core/format/csv';
import { judgeBatch, type BoardRow } from '@/core/measure/batch';
import { formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { UNNAMED_BOARD } from '@/store/measuring';
import { DESK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { download, fileName } from '@/ui/download';
import { LongList } from '@/ui/fold';

/** The boards of the variant in front that were measured at their output; null while they are fewer than two. */
function useBatch(): ReturnType<typeof judgeBatch> | null {
  const desk = useDeferredValue(useAnswer(DESK));
  const variant = useDesign(currentVariantOf);
  const measurements = useDesign((d) => d.measurements);
  const limits = useDesign((d) => d.brief.mask);
  return useMemo(() => {
    // Boards whose controls stood otherwise are held against another curve, each by itself.
    const setting = settingOf(variant);
    const own = measurements.filter(
      (m) =>
        m.board !== undefined &&
        (m.place ?? 'out') === 'out' &&
        (m.variant ?? variant.id) === variant.id &&
        (!m.setting || equal(m.setting, setting)),
    );
    // Of a board that was measured again the last counts.
    const boards = [...new Map(own.map((m) => [m.board ?? UNNAMED_BOARD, m])).values()];
    if (!desk || boards.length < 2) return null;
    return judgeBatch(
      boards.map((m) => ({ ...m, board: m.board ?? UNNAMED_BOARD })),
      { freqHz: desk.freqHz, levelDb: desk.asBuilt.levelDb, referenceDb: desk.passLevelDb },
      limits,
    );
  }, [desk, limits, measurements, variant]);
}

/** Every board of the batch that was measured at its output, against the prediction and the brief. */
export function Boards() {
  const batch = useBatch();
  const title = useDesign((d) => d.title);
  const limited = useDesign((d) => d.brief.mask.length > 0);
  if (!batch) return null;
  const { rows, alike } = batch;
  const passed = rows.filter((r) => r.roomDb === null || r.roomDb >= 0).length;
  return (
    <section className="panel" aria-label="Boards of the batch" data-testid="batch">
      <header>
        <h2>Boards</h2>
        <Button
          size="small"
          icon={<DownloadOutlined />}
          onClick={() => download(fileName(`${title} boards`, 'csv'), csvOf(rows), 'text/csv')}
        >
          Write CSV
        </Button>
      </header>
      <p className="reason">
        {limited ? (
          <>
            <b className="figures">
              {passed} of {rows.length}
            </b>{' '}
            meet the brief.
          </>
        ) : (
          <>{rows.length} boards; the brief has no limits to meet.</>
        )}
      </p>
      {alike && (
        <p className="reason warn" data-testid="alike">
          All boards lie {formatSigned(alike.db, 'decibel', 1)} off at{' '}
          {formatQuantity(alike.freqHz, 'frequency', { digits: 3 })} and differ little among themselves: probably the
          same wrong part on every one of them.
        </p>
      )}
      {rows.some((r) => r.odd) && (
        <p className="reason warn" data-testid="odd-boards">
          {rows
            .flatMap((r) => (r.odd ? [`Board ${r.board} differs from the others: ${oddWords(r.odd)}.`] : []))
            .join(' ')}
        </p>
      )}
      <BoardTable rows={rows} />
    </section>
  );
}

function BoardTable({ rows }: { rows: readonly BoardRow[] }) {
  return (
    <LongList label="Boards that were measured">
      <table className="sheet">
        <thead>
          <tr>
            <th>board</th>
            <th className="number">worst</th>
            <th className="number">at</th>
            <th className="number">rms</th>
            <th className="number">brief</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.board} className={r.odd ? 'lit' : undefined}>
              <td>{r.board}</td>
              <td className="number">{r.worst ? formatSigned(r.worst.db, 'decibel') : '–'}</td>
              <td className="number">{r.worst ? formatQuantity(r.worst.freqHz, 'frequency', { digits: 3 }) : '–'}</td>
              <td className="number">{formatFixed(r.rmsDb, 2)}&#8239;dB</td>
              <td className="number">{briefWords(r)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </LongList>
  );
}

const oddWords = ({ freqHz, db }: NonNullable<BoardRow['odd']>): string =>
  `${formatSigned(db, 'decibel', 1)} at ${formatQuantity(freqHz, 'frequency', { digits: 3 })}`;

const briefWords = ({ roomDb }: BoardRow): string =>
  roomDb === null
    ? '–'
    : roomDb >= 0
      ? `met by ${formatFixed(roomDb, 1)}\u202fdB`
      : `missed by ${formatFixed(-roomDb, 1)}\u202fdB`;

const csvOf = (rows: readonly BoardRow[]): string =>
  writeCsv(
    ['board', 'worst_db', 'at_hz', 'rms_db', 'room_to_limits_db'],
    rows.map((r) => [
      r.board,
      figure(r.worst?.db ?? NaN, 5),
      figure(r.worst?.freqHz ?? NaN, 6),
      figure(r.rmsDb, 5),
      figure(r.roomDb ?? NaN, 5),
    ]),
  );
