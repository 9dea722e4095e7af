'use client';

import { calledIn } from '@/core/design/stages/designators';
import { formatQuantity } from '@/core/units/quantity';
import { FOUR_VIEWS } from '@/store/questions/live';
import { useLiveAnswer } from '@/store/questions/question';
import { useSelectedStage } from '@/store/use-selected-stage';
import { useView } from '@/store/view';
import { sizeOf } from './part-impedance';
import styles from './curves.module.css';

const ohm = (v: number) => formatQuantity(v, 'resistance', { digits: 3 });

/** What the wave, at the peak it is drawn with, makes each part of the stage in hand do. */
export function PartsAtWork() {
  const views = useLiveAnswer(FOUR_VIEWS);
  const { facts } = useSelectedStage();
  if (!views) return <div className={styles.readoutCursor} />;
  const amount = (value: number, unit: string) => formatQuantity(value, 'voltage', { digits: 3 }).replace(/V$/, unit);
  return (
    <div
      className={`${styles.readoutCursor} ${styles.atWork}`}
      tabIndex={0}
      role="region"
      aria-label="Each part at work"
      data-testid="parts-at-work"
    >
      <span className="quiet">RMS of this wave, {amount(views.peakVolts, 'V')} peak:</span>
      {views.parts.map((p) => (
        <span key={p.part} className="figures">
          <b>{calledIn(facts, p.part)}</b> {amount(p.rmsV, 'V')} {amount(p.rmsA, 'A')}
          {p.chargeC !== null && ` · moves ${amount(p.chargeC, 'C')}`}
          {p.energyJ !== null && ` · holds ${amount(p.energyJ, 'J')}`}
          {p.powerW !== null && ` · ${amount(p.powerW, 'W')}`}
        </span>
      ))}
    </div>
  );
}

/** The impedance of each part at the cursor. */
export function PartSizes() {
  const cursor = useView((s) => s.cursor);
  const { facts } = useSelectedStage();
  return (
    <div className={styles.readoutCursor} data-testid="readout-cursor">
      <span className="quiet">
        at cursor {cursor === null ? '' : <b className="figures">{formatQuantity(cursor, 'frequency')}</b>}
      </span>
      {cursor === null ? (
        <span className="quiet">
          Point at the chart, or press C and use the arrow keys. Lines cross where two parts share the voltage.
        </span>
      ) : (
        <div className={styles.readoutTraces}>
          {facts?.parts
            .filter((p) => !p.leftOut)
            .map((p) => (
              <span key={p.name} className="figures">
                {p.name} {ohm(sizeOf(p, cursor))}
              </span>
            ))}
        </div>
      )}
    </div>
  );
}
