'use client';

import { useEffect } from 'react';
import { useDesign } from '@/store/document';
import { currentVariantOf, currentWayOf } from '@/store/edits/edits';
import { BANK, DESK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { forgetKept, keepCurve, keptStore, restoreKept, toggleKept } from '@/store/curves/kept-curves';
import { toggleTrace, useView, type TraceName } from '@/store/view';
import { stageTopology } from '@/core/design/stages/stage-topology';
import { useSelectedStage } from '@/store/use-selected-stage';
import { keptLook } from '@/store/curves/shown-traces';
import { useSpreadBand } from '@/store/curves/use-shown';
import styles from './curves.module.css';

const SAYS: Partial<Record<TraceName, string>> = {
  bare: 'the stage in hand with its capacitors left out',
  straight: 'the asymptotes of what was asked for',
  isolated: 'as built, but no stage loading another',
  taps: 'what the stage in hand gives at its other op-amps',
  family: 'the curves over the whole rotation of the control in hand',
};

/** Traces that there are, to switch on and off. Name, colour and dash say the same thing. */
export function Legend() {
  const shown = useView((s) => s.shown);
  const ghost = useView((s) => s.ghostVariant);
  const hasGhost = useAnswer(DESK, (d) => d.ghost !== null) ?? false;
  const spread = useSpreadBand();
  const hasControls = useDesign((d) => currentVariantOf(d).controls.length > 0);
  const ghostName = useDesign((d) => d.variants.find((v) => v.id === ghost)?.name);
  const { stage } = useSelectedStage();
  const plans = useDesign((d) => currentWayOf(d).plans);
  const topology = stage && stageTopology(stage, { plans });
  const hasTaps = topology?.role === 'section' && topology.taps !== undefined;
  const hasBank = useAnswer(BANK) !== null;
  const measured = useDesign((d) => d.measurements.length > 0);
  const limited = useDesign((d) => d.brief.mask.length > 0);
  const entries: [TraceName, string, boolean][] = [
    ['asBuilt', 'as built', true],
    ['ideal', 'ideal', true],
    ['ghost', `${ghostName} ghost`, hasGhost],
    ['bare', 'without C', true],
    ['straight', 'straight lines', true],
    ['isolated', 'isolated', true],
    ['taps', 'other outputs', hasTaps],
    ['bank', 'all bands, sum', hasBank],
    ['family', 'rotation', hasControls],
    ['measured', 'measured', measured],
    ['spread', spread?.stale ? 'spread, before the change' : 'spread 5…95 %', spread !== null],
    ['brief', 'brief', limited],
  ];
  return (
    <div className={styles.legend} role="group" aria-label="Traces">
      {entries
        .filter(([, , there]) => there)
        .map(([name, label]) => (
          <button
            key={name}
            type="button"
            className={styles.legendEntry}
            aria-pressed={shown[name]}
            title={SAYS[name]}
            onClick={() => toggleTrace(name)}
          >
            <svg width="20" height="8" aria-hidden="true">
              {name === 'spread' ? (
                <rect width="20" height="8" className="spread-band" />
              ) : (
                <path d="M0 4h20" className={name === 'brief' ? styles.limitLine : `trace ${name}`} />
              )}
            </svg>
            {label}
          </button>
        ))}
      <Kept />
    </div>
  );
}

/** Responses that were kept, each to hide or to forget by itself, and the way to keep another. */
function Kept() {
  const curves = keptStore((s) => s.curves);
  useEffect(restoreKept, []);
  return (
    <>
      {curves.map(({ id, name, hidden }, i) => (
        <span key={id} className={styles.legendKept}>
          <button type="button" className={styles.legendEntry} aria-pressed={!hidden} onClick={() => toggleKept(id)}>
            <svg width="20" height="8" aria-hidden="true">
              <path d="M0 4h20" className={`trace ${keptLook(i)}`} />
            </svg>
            {name}
          </button>
          <button
            type="button"
            className={`plain ${styles.legendForget}`}
            aria-label={`Forget ${name}`}
            onClick={() => forgetKept(id)}
          >
            ×
          </button>
        </span>
      ))}
      <button
        type="button"
        className={styles.legendEntry}
        title="lay the curve as it is now under what comes (K)"
        onClick={keepCurve}
      >
        + overlay
      </button>
    </>
  );
}
