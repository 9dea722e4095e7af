'use client';

import { Button, Progress, Select } from 'antd';
import { Fragment, useEffect, useMemo, useRef, useState } from 'react';
import type { FaultRanking, LikelyValue, RankedFault } from '@/core/jobs/measure/fault-bench';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import type { QuantityKind } from '@/core/units/quantity';
import { calledIn } from '@/core/design/stages/designators';
import { useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { measurementsOf, RANK, rankBoard, readingsOf, setMeasuring, SOUND, UNNAMED_BOARD } from '@/store/measuring';
import { DESK } from '@/store/questions/live';
import { useLongJob } from '@/store/questions/long-job';
import { useAnswer } from '@/store/questions/question';
import { setView } from '@/store/view';
import { decibelAxis, logAxis, SmallChart } from '@/ui/chart/small-chart';
import { tickHz } from '@/ui/chart/ticks';
import { Fold, LongList } from '@/ui/fold';
import { failureWords } from '@/ui/words/failures';
import styles from './measure.module.css';

/** Under this a chance is not worth a line. */
const LEAST_CHANCE = 0.005;
const MOST_LINES = 6;
const SETTLED = 0.98;
/** Boards that were measured or read on the variant on the desk, the last one first. */
const boardsOf = (
  all: readonly { readonly variant?: string; readonly board?: string; readonly at: string }[],
  variantId: string,
): string[] => [
  ...new Set(
    all
      .filter((m) => (m.variant ?? variantId) === variantId)
      .sort((a, b) => b.at.localeCompare(a.at))
      .map((m) => m.board ?? UNNAMED_BOARD),
  ),
];
const counted = (count: number, one: string): string => (count === 1 ? `one ${one}` : `${count} ${one}s`);

/**
 * What may be wrong with a board that was measured, likeliest first, what its parts seem to be, and what to do next.
 */
export function Faults() {
  const variantId = useDesign((d) => currentVariantOf(d).id);
  const measurements = useDesign((d) => d.measurements);
  const { progress, result, failure, stale } = useLongJob(RANK);
  const readings = useDesign((d) => d.readings);
  const verdict = useRef<HTMLDivElement>(null);
  const seen = useRef(result);
  // What was just found is brought into sight; what was found before stays where it is.
  useEffect(() => {
    if (result && result !== seen.current) verdict.current?.scrollIntoView({ block: 'nearest' });
    seen.current = result;
  }, [result]);
  const boards = boardsOf([...measurements, ...(readings ?? [])], variantId);
  const [wanted, setWanted] = useState<string | null>(null);
  const board = wanted !== null && boards.includes(wanted) ? wanted : boards[0];
  if (boards.length === 0) return null;
  const own = measurementsOf(measurements, variantId, board);
  const read = readingsOf(readings, variantId, board);
  const kept = [
    ...(own.length > 0 ? [counted(own.length, 'measurement')] : []),
    ...(read.length > 0 ? [counted(read.length, 'reading')] : []),
  ];
  return (
    <section className="panel" aria-label="What is wrong">
      <header>
        <h2>What is wrong</h2>
        {boards.length > 1 && (
          <Select
            size="small"
            aria-label="Board"
            value={board}
            options={boards.map((value) => ({ value, label: value }))}
            popupMatchSelectWidth={false}
            onChange={setWanted}
          />
        )}
      </header>
      <div className={styles.start}>
        {progress === null ? (
          <Button type="primary" onClick={() => void rankBoard(board)}>
            Find what is wrong
          </Button>
        ) : (
          <Button onClick={RANK.cancel}>Stop</Button>
        )}
        {progress !== null && (
          <Progress percent={Math.round(100 * progress)} size="small" aria-label="Explanations weighed" />
        )}
        <span className="quiet">
          {board}, {kept.join(', ')}
        </span>
      </div>
      {failure && (
        <p className="failure" role="alert">
          {failureWords(failure)}
        </p>
      )}
      {stale && (
        <p className="reason quiet" role="status">
          The circuit has changed since: find it again.
        </p>
      )}
      <div ref={verdict}>{result && <Verdict ranking={result.value} measured={result.asked.measured} />}</div>
    </section>
  );
}

const percent = (share: number): string => (share > 0.995 ? '>\u202f99' : formatFixed(100 * share, 0));

function Verdict({
  ranking,
  measured,
}: {
  ranking: FaultRanking;
  measured: readonly { readonly freqHz: ArrayLike<number>; readonly levelDb: ArrayLike<number> }[];
}) {
  const { healthy, ranked, values, next } = ranking;
  const sound = healthy >= SOUND;
  // With one explanation left there is nothing more to tell apart.
  const settled = Math.max(healthy, ranked[0]?.probability ?? 0) > SETTLED;
  const lines = ranked.filter((f) => f.probability >= LEAST_CHANCE).slice(0, MOST_LINES);
  return (
    <div data-testid="verdict">
      <p className="reason">
        {sound ? (
          <b>As good as its parts: nothing lies outside what their tolerances allow.</b>
        ) : (
          <>Not as good as its parts: within their tolerances nothing gives what was measured.</>
        )}{' '}
        <span className="quiet">Sound with {percent(healthy)}&#8239;%.</span>
      </p>
      <ol className={styles.chances} aria-label="Explanations, likeliest first">
        {lines.map((fault) => (
          <Line key={`${fault.kind} ${fault.parts.join()}`} fault={fault} />
        ))}
      </ol>
      {!sound && ranked[0] && measured.length > 0 && <Laid fault={ranked[0]} measured={measured[0]} />}
      {next && !settled && (
        <p className="reason" data-testid="next-measurement">
          To tell the first two apart, measure at <b>{next.name}</b> from{' '}
          {formatQuantity(next.fromHz, 'frequency', { digits: 2 })} to{' '}
          {formatQuantity(next.toHz, 'frequency', { digits: 2 })}: they lie up to {formatFixed(next.apartDb, 1)}
          &#8239;dB apart there.{' '}
          <button type="button" className="link" onClick={() => setMeasuring({ place: next.probe })}>
            measure there
          </button>
        </p>
      )}
      <Likely values={values} />
    </div>
  );
}

interface PartPlace {
  readonly stageId: string;
  readonly part: string;
}

/** Stages and parts of the path in front by what they are called. */
function usePlaces(): ReadonlyMap<string, PartPlace> {
  const stages = useAnswer(DESK, (d) => d.stages);
  return useMemo(
    () =>
      new Map(
        (stages ?? []).flatMap((s) => s.parts.map(({ name }) => [calledIn(s, name), { stageId: s.id, part: name }])),
      ),
    [stages],
  );
}

const showInSchematic = ({ stageId, part }: PartPlace): void =>
  setView({ curveView: 'sheet', selectedStage: stageId, selectedPart: part });

function Line({ fault: { sentence, parts, probability, sameAs, likewise } }: { fault: RankedFault }) {
  const places = usePlaces();
  const same = [
    ...sameAs.map((part) => `the same of ${part}`),
    ...likewise.map((words) => words.replace(/[:.].*$/, '')),
  ];
  return (
    <li>
      <b className={`figures ${styles.chance}`}>{percent(probability)}&#8239;%</b>
      <span>
        {sentence}
        {parts
          .filter((part) => places.has(part))
          .map((part) => (
            <Fragment key={part}>
              {' '}
              <button type="button" className="link" onClick={() => showInSchematic(places.get(part)!)}>
                show {part}
              </button>
            </Fragment>
          ))}
      </span>
      {same.length > 0 && (
        <span className={`quiet ${styles.same}`}>This curve cannot be told from: {same.join('; ')}.</span>
      )}
    </li>
  );
}

/** The curve that an explanation gives over the one that was measured. */
function Laid({
  fault,
  measured,
}: {
  fault: RankedFault;
  measured: { readonly freqHz: ArrayLike<number>; readonly levelDb: ArrayLike<number> };
}) {
  const [curve] = fault.curves;
  const [from, to] = [curve.freqHz[0], curve.freqHz[curve.freqHz.length - 1]];
  return (
    <SmallChart
      testId="explained"
      title="level, dB"
      xUnit="Hz"
      lines={[
        { name: 'explained so', x: curve.freqHz, y: curve.levelDb },
        { name: 'measured', x: measured.freqHz, y: measured.levelDb },
      ]}
      x={logAxis(from, to, tickHz)}
      y={decibelAxis([Array.from(measured.levelDb), curve.levelDb], 60)}
    />
  );
}

const UNIT_OF: Readonly<Record<string, QuantityKind>> = {
  R: 'resistance',
  P: 'resistance',
  C: 'capacitance',
  L: 'inductance',
};

/** What every part seems to be, and how far that is known. */
function Likely({ values }: { values: readonly LikelyValue[] }) {
  const shown = (v: number, designator: string) =>
    formatQuantity(v, UNIT_OF[designator[0]] ?? 'resistance', { digits: 3 });
  return (
    <Fold name="Likely values" title="What the parts seem to be" outcome={`${values.length} parts`}>
      <LongList label="Likely values of the parts">
        <table className="sheet">
          <thead>
            <tr>
              <th>part</th>
              <th className="number">chosen</th>
              <th className="number">seems</th>
              <th className="number">known to</th>
              <th>only with</th>
            </tr>
          </thead>
          <tbody>
            {values.map(({ designator, chosen, likely, lowRatio, highRatio, narrowed, together }) => (
              <tr key={designator}>
                <td>{designator}</td>
                <td className="number">{shown(chosen, designator)}</td>
                <td className="number">{shown(likely, designator)}</td>
                <td className="number" title={narrowed ? undefined : 'no more than its tolerance says'}>
                  {narrowed ? `± ${formatFixed(50 * (highRatio - lowRatio), 1)}\u202f%` : 'tolerance'}
                </td>
                <td>{together.join(', ')}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </LongList>
    </Fold>
  );
}
