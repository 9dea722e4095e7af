'use client';

import { useId, useRef, useState, type KeyboardEvent, type PointerEvent, type WheelEvent } from 'react';
import { stepPreferred, type SeriesId } from '@/core/parts/preferred';
import { doubtOf, formatQuantity, parsePair, parseQuantity, type QuantityKind } from '@/core/units/quantity';
import { doubtWords, quantityWords } from './words/quantities';

export interface QuantityInputProps {
  readonly label: string;
  readonly hideLabel?: boolean;
  readonly kind: QuantityKind;
  /** Null shows the empty field. */
  readonly value: number | null;
  /** Called with a valid value; null only when `allowEmpty`. */
  readonly onChange: (value: number | null) => void;
  readonly allowEmpty?: boolean;
  readonly placeholder?: string;
  readonly min?: number;
  readonly max?: number;
  /** Arrow keys walk this series; otherwise one per cent, or `step` for decibels and the like. */
  readonly series?: SeriesId;
  readonly step?: number;
  readonly integer?: boolean;
  readonly digits?: number;
  readonly small?: boolean;
  readonly onGestureStart?: () => void;
  readonly onGestureEnd?: () => void;
  readonly testId?: string;
  /** Takes two values typed for one: 220n+220n, 100k||100k. */
  readonly onPair?: (kind: 'series' | 'parallel', values: readonly [number, number]) => void;
}

const SCRUB_PIXELS = 6;

/**
 * A number with its unit: typed as makers type it, stepped with arrow keys (shift for ten), wheel, or by dragging its
 * label.
 */
export function QuantityInput(props: QuantityInputProps) {
  const { label, kind, value, onChange, min = -Infinity, max = Infinity } = props;
  const id = useId();
  const [draft, setDraft] = useState<string | null>(null);
  const [message, setMessage] = useState<string | null>(null);
  // What was asked about once is meant when it comes again.
  const questioned = useRef<string | null>(null);
  const scrub = useRef<{ x: number; done: number } | null>(null);
  const shown =
    draft ??
    (value === null ? '' : props.integer ? String(value) : formatQuantity(value, kind, { digits: props.digits ?? 4 }));

  function commit(text: string): void {
    if (text.trim() === '' && props.allowEmpty) {
      accept(null);
      return;
    }
    const pair = props.onPair ? parsePair(text, kind) : null;
    if (pair && props.onPair) {
      setDraft(null);
      setMessage(null);
      props.onPair(pair.kind, pair.values);
      return;
    }
    const parsed = parseQuantity(text, kind);
    if (!parsed.ok) {
      setMessage(quantityWords(parsed, kind));
      return;
    }
    const wanted = props.integer ? Math.round(parsed.value) : parsed.value;
    if (wanted < min || wanted > max) {
      setMessage(rangeWords(wanted));
      return;
    }
    const doubt = wanted === value ? null : doubtOf(wanted, kind);
    if (doubt && questioned.current !== text) {
      questioned.current = text;
      setMessage(doubtWords(wanted, kind, doubt));
      return;
    }
    accept(wanted);
  }
  function rangeWords(wanted: number): string {
    const show = (v: number) => (props.integer ? String(v) : formatQuantity(v, kind));
    if (wanted < min)
      return min === Number.MIN_VALUE
        ? `${show(wanted)} is not above zero; it stays at ${shownValue()}.`
        : `${show(wanted)} is below ${show(min)}; it stays at ${shownValue()}.`;
    return `${show(wanted)} is above ${show(max)}; it stays at ${shownValue()}.`;
  }
  const shownValue = () => (value === null ? 'nothing' : props.integer ? String(value) : formatQuantity(value, kind));
  function accept(next: number | null): void {
    setDraft(null);
    setMessage(null);
    questioned.current = null;
    if (next !== value) onChange(next);
  }
  function stepBy(steps: number): void {
    if (value === null) return;
    const next = props.integer
      ? value + steps
      : props.series
        ? stepPreferred(value, props.series, steps)
        : props.step !== undefined
          ? Number((value + steps * props.step).toPrecision(10))
          : Number((value * 1.01 ** steps).toPrecision(5));
    accept(Math.min(max, Math.max(min, next)));
  }
  function onKeyDown(event: KeyboardEvent): void {
    if (event.key === 'Enter') commit(shown);
    else if (event.key === 'Escape' && (draft !== null || message !== null)) {
      event.stopPropagation();
      setDraft(null);
      setMessage(null);
    } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      event.preventDefault();
      stepBy((event.key === 'ArrowUp' ? 1 : -1) * (event.shiftKey ? 10 : 1));
    }
  }
  function onWheel(event: WheelEvent<HTMLInputElement>): void {
    if (document.activeElement === event.currentTarget) stepBy(event.deltaY < 0 ? 1 : -1);
  }
  function onScrub(event: PointerEvent<HTMLLabelElement>): void {
    if (!scrub.current) return;
    const steps = Math.trunc((event.clientX - scrub.current.x) / SCRUB_PIXELS) - scrub.current.done;
    if (steps === 0) return;
    scrub.current.done += steps;
    stepBy(steps);
  }
  function endScrub(): void {
    if (!scrub.current) return;
    scrub.current = null;
    props.onGestureEnd?.();
  }
  return (
    <div className={`quantity${props.small ? ' small' : ''}`}>
      <label
        htmlFor={id}
        className={props.hideLabel ? 'only-read-aloud' : undefined}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          scrub.current = { x: event.clientX, done: 0 };
          props.onGestureStart?.();
        }}
        onPointerMove={onScrub}
        onPointerUp={endScrub}
        onPointerCancel={endScrub}
      >
        {label}
      </label>
      <input
        id={id}
        data-testid={props.testId}
        // Nothing typed that is not taken: undo is then the design's, not the field's.
        data-committed={draft === null}
        value={shown}
        placeholder={props.placeholder}
        inputMode="text"
        autoComplete="off"
        spellCheck={false}
        aria-invalid={message !== null}
        aria-describedby={message ? `${id}-message` : undefined}
        onChange={(event) => setDraft(event.target.value)}
        onFocus={(event) => event.target.select()}
        onBlur={() => draft !== null && questioned.current !== draft && commit(draft)}
        onKeyDown={onKeyDown}
        onWheel={onWheel}
      />
      {message && (
        <span id={`${id}-message`} role="alert" className="message">
          {message}
        </span>
      )}
    </div>
  );
}
