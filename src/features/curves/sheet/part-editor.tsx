'use client';

import { useEffect, useLayoutEffect, useRef, useState, type KeyboardEvent } from 'react';
import { formatSigned } from '@/core/units/quantity';
import { useStageFacts } from '@/store/use-stage-facts';
import { setView } from '@/store/view';
import { PartValue } from '@/ui/part-value';
import styles from './sheet.module.css';
import { partSelector, type SheetPart } from './sheet-parts';

const GAP_PX = 6;

/** What a part is and the value it has, beside where it is drawn. */
export function PartEditor({ part, onClose }: { part: SheetPart; onClose: () => void }) {
  const facts = useStageFacts(part.stageId)?.parts.find((p) => p.name === part.name);
  const card = useRef<HTMLDivElement>(null);
  const [place, setPlace] = useState<{ left: number; top: number } | null>(null);
  useLayoutEffect(() => {
    const around = card.current?.closest('[data-sheet]');
    const drawn = around?.querySelector(partSelector(part));
    if (!around || !drawn || !card.current) return;
    const [at, room, own] = [drawn, around, card.current].map((e) => e.getBoundingClientRect());
    const under = at.bottom - room.top + GAP_PX;
    setPlace({
      left: Math.max(0, Math.min(room.width - own.width, at.left - room.left + at.width / 2 - own.width / 2)),
      top: under + own.height > room.height ? Math.max(0, at.top - room.top - own.height - GAP_PX) : under,
    });
  }, [part, facts]);
  const there = facts !== undefined && place !== null;
  useEffect(() => {
    const field = card.current?.querySelector<HTMLInputElement>('input');
    field?.focus();
    field?.select();
  }, [part.id, there]);
  const onKeyDown = (event: KeyboardEvent) => {
    event.stopPropagation();
    if (event.key === 'Escape') onClose();
  };
  return (
    <div
      ref={card}
      className={`${styles.editor} panel`}
      role="dialog"
      aria-label={`${part.called}, its value`}
      style={place ?? { left: 0, top: 0, visibility: 'hidden' }}
      onKeyDown={onKeyDown}
    >
      <p>
        <b className="figures">{part.called}</b> <span className="quiet">{facts?.role}</span>
      </p>
      {facts && (
        <>
          <PartValue stageId={part.stageId} part={facts} called={part.called} />
          <p className="quiet">
            {formatSigned(100 * (facts.chosen / facts.exact - 1), 'percent', 1)} from exact.{' '}
            <button
              type="button"
              className="plain link"
              onClick={() => {
                setView({ task: 'values' });
                onClose();
              }}
            >
              More in Values
            </button>
          </p>
        </>
      )}
    </div>
  );
}
