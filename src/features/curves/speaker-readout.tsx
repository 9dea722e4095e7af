'use client';

import { levelAt } from '@/core/analysis/curves/marks';
import type { Flatness } from '@/core/jobs/loudspeaker/acoustics-types';
import { formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { ACOUSTICS } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { useView } from '@/store/view';
import styles from './curves.module.css';

const hz = (v: number) => formatQuantity(v, 'frequency', { digits: 3 });
const degrees = (v: number) => `${Math.round(v)}°`.replace('-', '−');

const strays = ({ overDb, underDb }: Flatness): number => Math.max(overDb, -underDb);

/**
 * What the curves of a crossover say in figures: where ways meet and how, how even the sum is, the load's least, and
 * all of it at the cursor.
 */
export function SpeakerReadout() {
  const acoustics = useAnswer(ACOUSTICS);
  const house = useDesign((d) => currentVariantOf(d).listening?.house);
  if (!acoustics) return <div className={styles.readout} />;
  const { crossings, flat, aligned, load } = acoustics;
  return (
    <div className={styles.readout}>
      <div className={styles.readoutFigure}>
        <span className="quiet">crossing, between ways</span>
        <b className="figures" data-testid="readout-cutoff">
          {crossings.length === 0 ? 'none' : crossings.map((c) => `${hz(c.freqHz)} ${degrees(c.phaseDeg)}`).join(' … ')}
        </b>
      </div>
      <div className={styles.readoutFigure}>
        <span className="quiet">
          sum, {hz(flat.fromHz)} to {hz(flat.toHz)}
        </span>
        <b className="figures" data-testid="readout-sum">
          ±{formatFixed(strays(flat), 2)}&#8239;dB of level
        </b>
        <span className="quiet">
          ±{formatFixed(strays(aligned), 2)}&#8239;dB of {house ? 'its target' : 'its alignments’ own sum'}
        </span>
      </div>
      <div className={styles.readoutFigure}>
        <span className="quiet">lowest load</span>
        <b className="figures" data-testid="readout-load">
          {load
            ? `${formatQuantity(load.lowestOhm, 'resistance', { digits: 3 })} at ${hz(load.lowestHz)}`
            : 'own amplifiers'}
        </b>
      </div>
      <SpeakerCursor />
    </div>
  );
}

function SpeakerCursor() {
  const cursor = useView((s) => s.cursor);
  const acoustics = useAnswer(ACOUSTICS);
  if (!acoustics) return null;
  const { freqHz, load } = acoustics;
  return (
    <div className={styles.readoutCursor} data-testid="readout-cursor">
      <span className="quiet">at cursor {cursor === null ? '' : <b className="figures">{hz(cursor)}</b>}</span>
      {cursor === null ? (
        <span className="quiet">Point at the curve, or press C.</span>
      ) : (
        <div className={styles.readoutTraces}>
          <span className="figures">
            sum {formatFixed(levelAt(freqHz, acoustics.sumDb, cursor), 1)}&#8239;dB (
            {formatSigned(
              levelAt(freqHz, acoustics.sumDb, cursor) - levelAt(freqHz, acoustics.targetDb, cursor),
              'decibel',
              1,
            )}
            )
          </span>
          {acoustics.ways.map((w, i) => (
            <span key={w.wayId} className={`figures ink-way-${i}`}>
              {w.name} {formatFixed(levelAt(freqHz, w.levelDb, cursor), 1)} dB{' '}
              {degrees(((((levelAt(freqHz, w.phaseDeg, cursor) + 180) % 360) + 360) % 360) - 180)}
            </span>
          ))}
          {load && (
            <span className="figures">
              {formatQuantity(levelAt(freqHz, load.ohm, cursor), 'resistance', { digits: 3 })}{' '}
              {degrees(levelAt(freqHz, load.phaseDeg, cursor))}
            </span>
          )}
        </div>
      )}
    </div>
  );
}
