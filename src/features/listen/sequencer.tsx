'use client';

import type { KeyboardEvent } from 'react';
import { FIRST_SEQUENCE } from '@/core/design/document/played';
import { formatQuantity } from '@/core/units/quantity';
import { beginGesture, edit, endGesture, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { changeSequence, changeStep } from '@/store/edits/played-edits';
import { QuantityInput } from '@/ui/quantity-input';
import styles from './listen.module.css';

const NAMES = ['C', 'C♯', 'D', 'D♯', 'E', 'F', 'F♯', 'G', 'G♯', 'A', 'A♯', 'B'];
const REACH = 36;
/** The note by its name, of equal temperament on A = 440 Hz, to the nearest. */
function noteName(hz: number): string {
  const midi = Math.round(69 + 12 * Math.log2(hz / 440));
  return `${NAMES[((midi % 12) + 12) % 12]}${Math.floor(midi / 12) - 1}`;
}
const hz = (v: number) => formatQuantity(v, 'frequency', { digits: 4 });
const gesture = { onGestureStart: beginGesture, onGestureEnd: endGesture };

/** Sixteen steps: a note or a rest each, an accent, a slide into the next. Arrows change a note; Delete rests. */
export function Sequencer() {
  const sequence = useDesign((d) => currentVariantOf(d).played?.sequence) ?? FIRST_SEQUENCE;
  const { bpm, baseHz, gate, steps } = sequence;
  return (
    <section className="panel" aria-label="Sequence" data-testid="sequencer">
      <div className="field-row listen-fields">
        <QuantityInput
          label="beats a minute"
          kind="ratio"
          step={1}
          value={bpm}
          min={20}
          max={300}
          onChange={(v) => v !== null && edit(changeSequence({ bpm: v }))}
          testId="sequence-bpm"
          {...gesture}
        />
        <QuantityInput
          label="base"
          kind="frequency"
          value={baseHz}
          min={8}
          max={4000}
          onChange={(v) => v !== null && edit(changeSequence({ baseHz: v }))}
          {...gesture}
        />
        <QuantityInput
          label="held, of a step"
          kind="percent"
          step={5}
          value={100 * gate}
          min={5}
          max={100}
          onChange={(v) => v !== null && edit(changeSequence({ gate: v / 100 }))}
          {...gesture}
        />
      </div>
      <div className={styles.steps} role="group" aria-label="Steps">
        {steps.map((step, k) => {
          const name = step.semitones === null ? 'rest' : noteName(baseHz * 2 ** (step.semitones / 12));
          const onKey = (e: KeyboardEvent) => {
            const by = { ArrowUp: 1, ArrowDown: -1, PageUp: 12, PageDown: -12 }[e.key];
            if (by !== undefined) {
              e.preventDefault();
              const to = (step.semitones ?? 0) + by;
              if (Math.abs(to) <= REACH) edit(changeStep(k, { semitones: to }));
            } else if (e.key === 'Delete' || e.key === 'Backspace') {
              e.preventDefault();
              edit(changeStep(k, { semitones: null }));
            }
          };
          return (
            <div key={k} className={`${styles.step} ${k % 4 === 0 ? styles.beat : ''}`}>
              <button
                type="button"
                className={styles.note}
                aria-label={`Step ${k + 1}: ${name}`}
                title={
                  step.semitones === null
                    ? 'a rest: click for a note'
                    : `${hz(baseHz * 2 ** (step.semitones / 12))}: arrows change it`
                }
                onKeyDown={onKey}
                onClick={() => edit(changeStep(k, { semitones: step.semitones === null ? 0 : null }))}
              >
                {step.semitones === null ? '·' : name}
              </button>
              <button
                type="button"
                className={styles.mark}
                aria-pressed={step.accent}
                aria-label={`Accent on step ${k + 1}`}
                title="accent"
                onClick={() => edit(changeStep(k, { accent: !step.accent }))}
              >
                &gt;
              </button>
              <button
                type="button"
                className={styles.mark}
                aria-pressed={step.slide}
                aria-label={`Slide from step ${k + 1}`}
                title="slides into the next"
                onClick={() => edit(changeStep(k, { slide: !step.slide }))}
              >
                ⌒
              </button>
            </div>
          );
        })}
      </div>
    </section>
  );
}
