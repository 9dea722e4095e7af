'use client';

import { Button, Select, Slider } from 'antd';
import { useEffect } from 'react';
import type { Analysed } from '@/core/measure/analyse';
import { compareWithPrediction } from '@/core/measure/compare';
import type { Sweep } from '@/core/measure/sweep';
import { formatFixed, formatQuantity, formatSigned } from '@/core/units/quantity';
import { measuringStore, type Place } from '@/store/measuring';
import { DESK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { repeatSweeps, setTrim, stopTrim, trimStore, type TrimStep } from '@/store/trimming';
import { failureWords } from '@/ui/words/failures';
import styles from './measure.module.css';

/** As near as a sweep of this length can tell, dB. */
const THERE_DB = 0.05;
/** Worse than the best by this much, as a share of it, it was turned too far. */
const TOO_FAR = 1.15;
/** How far the simulated part turns to either side, per cent of what it is. */
const PERCENT = 60;
/** This near its end a part is turned to it. */
const NEAR_END = 0.002;

/** How far a sweep lies from the prediction as the desk stands: its level taken off, so that a shape is looked at. */
function judged({ freqHz, levelDb }: Analysed): Omit<TrimStep, 'share'> | null {
  const desk = DESK.current().value;
  if (!desk) return null;
  const measured = { freqHz: [...freqHz], levelDb: [...levelDb] };
  const predicted = { freqHz: desk.freqHz, levelDb: desk.asBuilt.levelDb };
  const { rmsDb, worst } = compareWithPrediction(measured, predicted, { aligned: true, floorDb: 100 });
  const at = levelDb.reduce((low, v, i) => (v < levelDb[low] ? i : low), 0);
  return { rmsDb, worst, deepest: { freqHz: freqHz[at], levelDb: levelDb[at] } };
}

/** Sweeps that repeat while a trimmer is turned: the error shrinks, and it says when to stop. */
export function Trim({ sweep, place }: { sweep: Sweep; place: Place }) {
  const { instrument } = measuringStore();
  // How far each sweep is does not show here, and is not followed: they come several a second.
  const { repeating, failure } = trimStore();
  useEffect(() => stopTrim, []);
  return (
    <>
      {instrument === 'workshop' && <Turned />}
      <div className={styles.start}>
        {repeating ? (
          <Button onClick={stopTrim}>Stop repeating</Button>
        ) : (
          <Button onClick={() => void repeatSweeps(sweep, place, judged)}>Repeat the sweep</Button>
        )}
      </div>
      {failure && (
        <p className="failure" role="alert">
          {failureWords(failure)}
        </p>
      )}
      <HowFar />
    </>
  );
}

/** Which part of the simulated board is turned, and how far. */
function Turned() {
  const { part, share } = trimStore();
  const parts = useAnswer(DESK)?.stages.flatMap((s) => s.parts.map((p) => s.designators[p.name] ?? p.name)) ?? [];
  return (
    <>
      <div className="field wide">
        <span className="label">turned on the simulated board</span>
        <Select
          allowClear
          aria-label="Part that is turned"
          placeholder="no part"
          value={part ?? undefined}
          options={parts.map((value) => ({ value, label: value }))}
          onChange={(value: string | undefined) => setTrim({ part: value ?? null, share: 1, steps: [] })}
        />
      </div>
      {part !== null && (
        <>
          <p className="reason figures">
            {part} at {formatFixed(100 * share, 1)}&#8239;% of what it is
          </p>
          <Slider
            min={100 - PERCENT}
            max={100 + PERCENT}
            step={0.1}
            value={100 * share}
            ariaLabelForHandle={`${part}, per cent of what it is`}
            tooltip={{ open: false }}
            onChange={(v: number) => setTrim({ share: v / 100 })}
          />
        </>
      )}
    </>
  );
}

/** How far off the last sweep was, and whether to go on. */
function HowFar() {
  const { steps, part } = trimStore();
  const best = Math.min(...steps.map((s) => s.rmsDb));
  const now = steps.at(-1);
  if (!now) return null;
  return (
    <div role="status" data-testid="trim">
      <p className="reason">
        Off by <b className="figures">{formatFixed(now.rmsDb, 2)}&#8239;dB</b> in the mean
        {now.worst && (
          <>
            , {formatSigned(now.worst.db, 'decibel', 1)} at{' '}
            {formatQuantity(now.worst.freqHz, 'frequency', { digits: 3 })} at the most
          </>
        )}
        ; deepest {formatSigned(now.deepest.levelDb, 'decibel', 1)} at{' '}
        {formatQuantity(now.deepest.freqHz, 'frequency', { digits: 3 })}.
      </p>
      <p className="reason">
        <b>{adviceOf(steps, part)}</b>{' '}
        <span className="quiet">
          The best of {steps.length}: {formatFixed(best, 2)}&#8239;dB.
        </span>
      </p>
    </div>
  );
}

/** @param part what is turned on the simulated board; null of a board whose trimmer is not seen. */
export function adviceOf(steps: readonly TrimStep[], part: string | null): string {
  const best = steps.reduce((a, b) => (b.rmsDb < a.rmsDb ? b : a));
  const now = steps[steps.length - 1];
  if (now.rmsDb < THERE_DB) return 'Stop: as near as can be told.';
  if (now.rmsDb > TOO_FAR * best.rmsDb) return 'It was better: turn back.';
  const atEnd = part !== null && Math.abs(Math.abs(best.share - 1) - PERCENT / 100) < NEAR_END;
  return atEnd
    ? `The end of its travel, and still ${formatFixed(best.rmsDb, 2)}\u202fdB off: ${part} alone will not do.`
    : 'The best so far: go on.';
}
