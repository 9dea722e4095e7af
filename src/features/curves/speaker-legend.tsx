'use client';

import { Segmented } from 'antd';
import { useDesign } from '@/store/document';
import { ACOUSTICS } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { setView, toggleTrace, useView, type CurveView, type TraceName } from '@/store/view';
import styles from './curves.module.css';

const SAYS: Partial<Record<TraceName, string>> = {
  reversed: 'the sum with every second way turned over: a deep dip where they meet says that they are in step',
  bareDrivers: 'each driver with nothing before it',
  target: 'what the plans ask of the sound',
};
const ANGLES: { value: 'up' | 'across'; label: string }[] = [
  { value: 'up', label: 'up and down' },
  { value: 'across', label: 'to the side' },
];

const LOOKS: { value: 'curves' | 'map'; label: string }[] = [
  { value: 'curves', label: 'curves' },
  { value: 'map', label: 'map' },
];

/** Which curves of the sound there are, to switch on and off; which way the angles go. */
export function SpeakerLegend({ view }: { view: CurveView }) {
  const shown = useView((s) => s.shown);
  const angleWay = useView((s) => s.angleWay);
  const acoustics = useAnswer(ACOUSTICS);
  const ghost = useView((s) => s.ghostVariant);
  const ghostName = useDesign((d) => d.variants.find((v) => v.id === ghost)?.name);
  const soundLook = useView((s) => s.soundLook);
  if (view === 'angles' || view === 'decay')
    return (
      <>
        {view === 'angles' && (
          <Segmented
            size="small"
            aria-label="Angles"
            value={angleWay}
            options={ANGLES}
            onChange={(next) => setView({ angleWay: next })}
          />
        )}
        <Segmented
          size="small"
          aria-label="Shown as"
          value={soundLook}
          options={LOOKS}
          onChange={(next) => setView({ soundLook: next })}
        />
      </>
    );
  if (view !== 'ways' || !acoustics) return null;
  const entries: [TraceName, string, string, boolean][] = [
    ['asBuilt', 'sum', 'sound-sum', true],
    ['target', 'target', 'sound-target', true],
    ['reversed', 'reversed', 'reversed', acoustics.ways.length > 1],
    ['bareDrivers', 'bare drivers', 'family', true],
    ['ghost', `${ghostName} sum`, 'ghost', acoustics.ghost !== null],
  ];
  return (
    <div className={styles.legend} role="group" aria-label="Traces">
      {acoustics.ways.map((w, i) => (
        <span key={w.wayId} className={`${styles.legendEntry} ${styles.plainEntry}`}>
          <svg width="20" height="8" aria-hidden="true">
            <path d="M0 4h20" className={`trace way way-${i}`} />
          </svg>
          {w.name}
        </span>
      ))}
      {entries
        .filter(([, , , there]) => there)
        .map(([name, label, style]) => (
          <button
            key={name}
            type="button"
            className={styles.legendEntry}
            aria-pressed={shown[name]}
            title={SAYS[name]}
            onClick={() => toggleTrace(name)}
          >
            <svg width="20" height="8" aria-hidden="true">
              <path d="M0 4h20" className={`trace ${style}`} />
            </svg>
            {label}
          </button>
        ))}
    </div>
  );
}
