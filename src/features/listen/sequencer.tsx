'use client';

import type { KeyboardEvent } from 'react';
import { FIRST_SEQUENCE, type Sequence } from '@/core/design/document/played';
import { formatQuantity } from '@/core/units/quantity';
import { beginGesture, edit, endGesture, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { changeSequence, changeStep } from '@/store/edits/played-edits';
import { QuantityInput } from '@/ui/quantity-input';
import styles from './listen.module.css';

type Step = Sequence['steps'][number];

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
      <div className={`field-row ${styles.listenFields}`}>
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
        {steps.map((step, k) => (
          <StepButtons key={k} step={step} at={k} baseHz={baseHz} />
        ))}
      </div>
    </section>
  );
}

function StepButtons({ step, at, baseHz }: { step: Step; at: number; baseHz: number }) {
  const { semitones, accent, slide } = step;
  const noteHz = semitones === null ? null : baseHz * 2 ** (semitones / 12);
  const name = noteHz === null ? 'rest' : noteName(noteHz);
  const change = (patch: Partial<Step>) => edit(changeStep(at, patch));
  const onKey = (e: KeyboardEvent) => {
    const by = { ArrowUp: 1, ArrowDown: -1, PageUp: 12, PageDown: -12 }[e.key];
    if (by !== undefined) {
      e.preventDefault();
      const to = (semitones ?? 0) + by;
      if (Math.abs(to) <= REACH) change({ semitones: to });
    } else if (e.key === 'Delete' || e.key === 'Backspace') {
      e.preventDefault();
      change({ semitones: null });
    }
  };
  return (
    <div className={`${styles.step} ${at % 4 === 0 ? styles.beat : ''}`}>
      <button
        type="button"
        className={styles.note}
        aria-label={`Step ${at + 1}: ${name}`}
        title={noteHz === null ? 'a rest: click for a note' : `${hz(noteHz)}: arrows change it`}
        onKeyDown={onKey}
        onClick={() => change({ semitones: semitones === null ? 0 : null })}
      >
        {noteHz === null ? '·' : name}
      </button>
      <button
        type="button"
        className={styles.mark}
        aria-pressed={accent}
        aria-label={`Accent on step ${at + 1}`}
        title="accent"
        onClick={() => change({ accent: !accent })}
      >
        &gt;
      </button>
      <button
        type="button"
        className={styles.mark}
        aria-pressed={slide}
        aria-label={`Slide from step ${at + 1}`}
        title="slides into the next"
        onClick={() => change({ slide: !slide })}
      >
        ⌒
      </button>
    </div>
  );
}
