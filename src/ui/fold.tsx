'use client';

import { RightOutlined } from '@ant-design/icons';
import { useEffect, useId, type ReactNode } from 'react';
import { foldStore, restoreFolds, setOpen } from '@/store/folds';
import { useSought } from './use-sought';
import styles from './fold.module.css';

/**
 * A panel that is a line with its outcome until it is opened; kept so until the next visit. What is folded is not there
 * at all: it asks for nothing.
 */
export function Fold({
  name,
  title,
  outcome,
  testId,
  children,
}: {
  /** What it is remembered and found by. */
  name: string;
  title: ReactNode;
  outcome?: ReactNode;
  testId?: string;
  children: ReactNode;
}) {
  const id = useId();
  const open = foldStore((s) => s.open[name] ?? false);
  const toggle = useSought<HTMLButtonElement>(name);
  useEffect(restoreFolds, []);
  return (
    <section className="panel" aria-label={name} data-testid={testId}>
      <h2 className={styles.head}>
        <button
          ref={toggle}
          type="button"
          className={`plain ${styles.toggle}`}
          aria-expanded={open}
          aria-controls={id}
          onClick={() => setOpen(name, !open)}
        >
          <RightOutlined aria-hidden className={open ? styles.open : undefined} /> {title}
        </button>
        {!open && outcome !== undefined && <span className={`quiet ${styles.outcome}`}>{outcome}</span>}
      </h2>
      <div id={id} hidden={!open}>
        {open && children}
      </div>
    </section>
  );
}

/**
 * A list that may be long: not much over a third of a screen high, or a quarter, and scrolled within; by the keyboard
 * too.
 */
export function LongList({ label, low = false, children }: { label: string; low?: boolean; children: ReactNode }) {
  return (
    <div className={`${styles.long} ${low ? styles.low : ''}`} tabIndex={0} role="region" aria-label={label}>
      {children}
    </div>
  );
}
