'use client';

import { useId, useRef, useState, type KeyboardEvent, type PointerEvent, type WheelEvent } from 'react';
import { stepPreferred, type SeriesId } from '@/core/parts/preferred';
import {
  doubtOf,
  formatQuantity,
  impossible,
  parsePair,
  parseQuantity,
  type QuantityKind,
} from '@/core/units/quantity';
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

type Limits = Pick<QuantityInputProps, 'kind' | 'value' | 'min' | 'max' | 'integer'>;

const shownAs = (value: number | null, { kind, integer }: Limits, digits?: number): string =>
  value === null ? '' : integer ? String(value) : formatQuantity(value, kind, digits === undefined ? {} : { digits });

/** Why a value is not taken: it lies outside of what is allowed. Null where it does not. */
function outside(wanted: number, limits: Limits): string | null {
  const { min = -Infinity, max = Infinity } = limits;
  const beyond = impossible(wanted, limits.kind);
  if (wanted >= min && wanted <= max && !beyond) return null;
  const show = (v: number) => shownAs(v, limits);
  const stays = `it stays at ${limits.value === null ? 'nothing' : show(limits.value)}.`;
  if (beyond && wanted >= min && wanted <= max)
    return `${show(wanted)} cannot be: ${show(beyond[0])} to ${show(beyond[1])} can; ${stays}`;
  if (wanted > max) return `${show(wanted)} is above ${show(max)}; ${stays}`;
  return `${show(wanted)} is ${min === Number.MIN_VALUE ? 'not above zero' : `below ${show(min)}`}; ${stays}`;
}

type Typed =
  | { readonly is: 'value'; readonly value: number | null }
  | { readonly is: 'pair'; readonly pair: NonNullable<ReturnType<typeof parsePair>> }
  | { readonly is: 'refused' | 'doubted'; readonly message: string };

/** What was typed: a value, two for one, or why it is not taken. @param sure it was asked about, and comes again. */
function readTyped(text: string, props: QuantityInputProps, sure: boolean): Typed {
  if (text.trim() === '' && props.allowEmpty) return { is: 'value', value: null };
  const pair = props.onPair ? parsePair(text, props.kind) : null;
  if (pair) return { is: 'pair', pair };
  const parsed = parseQuantity(text, props.kind);
  if (!parsed.ok) return { is: 'refused', message: quantityWords(parsed, props.kind) };
  const value = props.integer ? Math.round(parsed.value) : parsed.value;
  const message = outside(value, props);
  if (message) return { is: 'refused', message };
  const doubt = value === props.value || sure ? null : doubtOf(value, props.kind);
  return doubt ? { is: 'doubted', message: doubtWords(value, props.kind, doubt) } : { is: 'value', value };
}

function stepped(value: number, steps: number, { integer, series, step, min, max }: QuantityInputProps): number {
  const next = integer
    ? value + steps
    : series
      ? stepPreferred(value, series, steps)
      : step !== undefined
        ? Number((value + steps * step).toPrecision(10))
        : Number((value * 1.01 ** steps).toPrecision(5));
  return Math.min(max ?? Infinity, Math.max(min ?? -Infinity, next));
}

/** What is typed into a field until it is taken, and what is said of it. */
function useTyped(props: QuantityInputProps) {
  const { value, onChange } = props;
  const [draft, setDraft] = useState<string | null>(null);
  const [message, setMessage] = useState<string | null>(null);
  // What was asked about once is meant when it comes again.
  const questioned = useRef<string | null>(null);
  const drop = () => {
    setDraft(null);
    setMessage(null);
  };
  const accept = (next: number | null) => {
    drop();
    questioned.current = null;
    if (next !== value) onChange(next);
  };
  const commit = (text: string) => {
    const typed = readTyped(text, props, questioned.current === text);
    if (typed.is === 'value') return accept(typed.value);
    if (typed.is === 'pair') {
      drop();
      return props.onPair?.(typed.pair.kind, typed.pair.values);
    }
    if (typed.is === 'doubted') questioned.current = text;
    setMessage(typed.message);
  };
  return {
    draft,
    message,
    setDraft,
    drop,
    commit,
    /** Left alone: what was asked about waits for an answer. */
    leave: () => draft !== null && questioned.current !== draft && commit(draft),
    stepBy: (steps: number) => value !== null && accept(stepped(value, steps, props)),
  };
}

/** Dragging a label steps its field. */
function useScrub(stepBy: (steps: number) => void, { onGestureStart, onGestureEnd }: QuantityInputProps) {
  const scrub = useRef<{ x: number; done: number } | null>(null);
  const end = () => {
    if (!scrub.current) return;
    scrub.current = null;
    onGestureEnd?.();
  };
  return {
    onPointerDown: (event: PointerEvent<HTMLLabelElement>) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      scrub.current = { x: event.clientX, done: 0 };
      onGestureStart?.();
    },
    onPointerMove: (event: PointerEvent<HTMLLabelElement>) => {
      if (!scrub.current) return;
      const steps = Math.trunc((event.clientX - scrub.current.x) / SCRUB_PIXELS) - scrub.current.done;
      if (steps === 0) return;
      scrub.current.done += steps;
      stepBy(steps);
    },
    onPointerUp: end,
    onPointerCancel: end,
  };
}

/**
 * A number with its unit: typed as makers type it, stepped with arrow keys (shift for ten), wheel, or by dragging its
 * label.
 */
export function QuantityInput(props: QuantityInputProps) {
  const id = useId();
  const { draft, message, setDraft, drop, commit, leave, stepBy } = useTyped(props);
  const scrub = useScrub(stepBy, props);
  const shown = draft ?? shownAs(props.value, props, props.digits ?? 4);
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === 'Enter') commit(shown);
    else if (event.key === 'Escape' && (draft !== null || message !== null)) {
      event.stopPropagation();
      drop();
    } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      event.preventDefault();
      stepBy((event.key === 'ArrowUp' ? 1 : -1) * (event.shiftKey ? 10 : 1));
    }
  };
  const onWheel = (event: WheelEvent<HTMLInputElement>) => {
    if (document.activeElement === event.currentTarget) stepBy(event.deltaY < 0 ? 1 : -1);
  };
  return (
    <div className={`quantity${props.small ? ' small' : ''}`}>
      <label htmlFor={id} className={props.hideLabel ? 'only-read-aloud' : undefined} {...scrub}>
        {props.label}
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
        onBlur={leave}
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
