'use client';

import { Button, Select } from 'antd';
import { MOST_MOVES, type Move } from '@/core/design/document/played';
import { beginGesture, edit, endGesture, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { addMove, changeMove, removeMove } from '@/store/edits/played-edits';
import styles from './listen.module.css';
import { QuantityInput } from '@/ui/quantity-input';

const ENVELOPE: Move['by'] = { kind: 'envelope', attackS: 0.004, decayS: 0.18, accent: 0.6 };
const OSCILLATION: Move['by'] = { kind: 'oscillation', hz: 0.5, shape: 'triangle' };
const NONE: readonly Move[] = [];
const gesture = { onGestureStart: beginGesture, onGestureEnd: endGesture };

/** Envelopes and slow oscillations, each on any control: as many as are wanted. */
export function Moves() {
  const moves = useDesign((d) => currentVariantOf(d).played?.moves) ?? NONE;
  const controls = useDesign((d) => currentVariantOf(d).controls);
  if (controls.length === 0) return null;
  const first = (controls.find((c) => c.kind === 'cv') ?? controls[0]).id;
  return (
    <div role="group" aria-label="What moves controls" data-testid="moves">
      {moves.map((move, k) => (
        <MoveRow key={k} move={move} at={k} />
      ))}
      {moves.length < MOST_MOVES && (
        <div className={styles.add}>
          <Button size="small" onClick={() => edit(addMove({ controlId: first, depth: 0.3, by: { ...ENVELOPE } }))}>
            An envelope on a control
          </Button>
          <Button size="small" onClick={() => edit(addMove({ controlId: first, depth: 0.1, by: { ...OSCILLATION } }))}>
            A slow oscillation on a control
          </Button>
        </div>
      )}
    </div>
  );
}

function MoveRow({ move, at }: { move: Move; at: number }) {
  const controls = useDesign((d) => currentVariantOf(d).controls);
  const { by } = move;
  const change = (patch: Partial<Move>) => edit(changeMove(at, { ...move, ...patch }));
  return (
    <div className={`field-row ${styles.listenFields}`}>
      <div className="field wide">
        <span className="label">{by.kind} on</span>
        <Select
          aria-label={`Control of move ${at + 1}`}
          value={move.controlId}
          options={controls.map((c) => ({ value: c.id, label: c.name }))}
          popupMatchSelectWidth={false}
          onChange={(controlId) => change({ controlId })}
        />
      </div>
      <QuantityInput
        label="by, of travel"
        kind="percent"
        step={1}
        value={100 * move.depth}
        min={-100}
        max={100}
        onChange={(v) => v !== null && change({ depth: v / 100 })}
        {...gesture}
      />
      {by.kind === 'envelope' ? (
        <EnvelopeFields by={by} at={at} set={(patch) => change({ by: { ...by, ...patch } })} />
      ) : (
        <OscillationFields by={by} at={at} set={(patch) => change({ by: { ...by, ...patch } })} />
      )}
      <Button
        size="small"
        className={styles.remove}
        aria-label={`Remove move ${at + 1}`}
        onClick={() => edit(removeMove(at))}
      >
        remove
      </Button>
    </div>
  );
}

type By<K extends Move['by']['kind']> = Extract<Move['by'], { kind: K }>;
interface ByProps<K extends Move['by']['kind']> {
  readonly by: By<K>;
  readonly at: number;
  readonly set: (patch: Partial<By<K>>) => void;
}

function EnvelopeFields({ by, set }: ByProps<'envelope'>) {
  return (
    <>
      <QuantityInput
        label="up in"
        kind="time"
        value={by.attackS}
        min={0}
        max={10}
        onChange={(v) => v !== null && set({ attackS: v })}
        {...gesture}
      />
      <QuantityInput
        label="down in"
        kind="time"
        value={by.decayS}
        min={0}
        max={20}
        onChange={(v) => v !== null && set({ decayS: v })}
        {...gesture}
      />
      <QuantityInput
        label="accent, more"
        kind="percent"
        step={5}
        value={100 * by.accent}
        min={0}
        max={200}
        onChange={(v) => v !== null && set({ accent: v / 100 })}
        {...gesture}
      />
    </>
  );
}

function OscillationFields({ by, at, set }: ByProps<'oscillation'>) {
  return (
    <>
      <QuantityInput
        label="at"
        kind="frequency"
        value={by.hz}
        min={0.01}
        max={50}
        onChange={(v) => v !== null && set({ hz: v })}
        {...gesture}
      />
      <div className="field">
        <span className="label">shape</span>
        <Select
          aria-label={`Shape of move ${at + 1}`}
          value={by.shape}
          options={(['sine', 'triangle', 'square'] as const).map((value) => ({ value, label: value }))}
          onChange={(shape) => set({ shape })}
        />
      </div>
    </>
  );
}
