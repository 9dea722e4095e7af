'use client';

import type { KeyboardEvent } from 'react';
import { formatSigned } from '@/core/units/quantity';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf, currentWayOf, selectWay } from '@/store/edits/edits';
import { BANK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { setView } from '@/store/view';
import styles from './bank.module.css';

/** All ways of a variant that has several, each with its peak: which of them the desk works on. */
export function BankStrip() {
  const ways = useDesign((d) => currentVariantOf(d).ways);
  const current = useDesign((d) => currentWayOf(d).id);
  const bank = useAnswer(BANK);
  const heard = useDesign((d) => currentVariantOf(d).join === 'acoustic');
  if (ways.length < 2 || heard) return null;
  const take = (id: string) => {
    edit(selectWay(id));
    setView({ selectedStage: null, selectedPart: null });
  };
  const onKey = (event: KeyboardEvent<HTMLButtonElement>, at: number) => {
    const move = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    if (move === 0) return;
    event.preventDefault();
    const next = ways[(at + move + ways.length) % ways.length];
    take(next.id);
    document.getElementById(`way-${next.id}`)?.focus();
  };
  const middle = bank ? [...bank.bands.map((b) => b.peakDb)].sort((a, b) => a - b)[bank.bands.length >> 1] : 0;
  return (
    <div className={styles.bankStrip} role="tablist" aria-label="Bands" data-testid="bank-strip">
      {ways.map((way, i) => {
        const peak = bank?.bands.find((b) => b.wayId === way.id)?.peakDb;
        const off = peak !== undefined && Math.abs(peak - middle) > 0.5;
        return (
          <button
            key={way.id}
            id={`way-${way.id}`}
            type="button"
            role="tab"
            aria-selected={way.id === current}
            tabIndex={way.id === current ? 0 : -1}
            className={`plain band${way.id === current ? ' current' : ''}`}
            onClick={() => take(way.id)}
            onKeyDown={(event) => onKey(event, i)}
          >
            <b>{way.name}</b>
            <span className={`figures${off ? ' warn' : ''}`}>
              {peak === undefined ? ' ' : formatSigned(peak, 'decibel', 2)}
            </span>
          </button>
        );
      })}
    </div>
  );
}
