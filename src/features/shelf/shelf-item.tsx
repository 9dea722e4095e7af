'use client';

import { MoreOutlined } from '@ant-design/icons';
import { Button } from 'antd';
import dayjs from 'dayjs';
import Link from 'next/link';
import { lazy, Suspense, useEffect, useState } from 'react';
import type { ShelfCard } from '@/core/jobs/desk/shelf-card';
import type { Result } from '@/core/result';
import type { ShelfRow } from '@/store/shelf/database';
import { makeCard } from '@/store/shelf/shelf-cards';
import { download, fileName } from '@/ui/download';
import { Glyph } from '@/ui/glyph';
import { Guard } from '@/ui/guard';
import { failureWords } from '@/ui/words/failures';
import styles from './shelf.module.css';

/** A design on the shelf; one that does not read is named, kept untouched, and can be exported as it lies. */
export function ShelfItem({ row, kept }: { row: ShelfRow; kept: Result<ShelfCard> | null }) {
  // Made now, it is shown even where the browser has no room to keep it.
  const [made, setMade] = useState<{ readonly of: ShelfRow; readonly card: Result<ShelfCard> | null } | null>(null);
  useEffect(() => {
    let gone = false;
    if (!kept) void makeCard(row).then((card) => !gone && setMade({ of: row, card }));
    return () => {
      gone = true;
    };
  }, [row, kept]);
  const card = kept ?? (made?.of === row ? made.card : null);
  return (
    <Guard what={`“${row.title}”`}>
      {card && !card.ok ? (
        <UnreadCard row={row} reason={failureWords(card)} />
      ) : (
        <DesignCard row={row} card={card?.value ?? null} />
      )}
    </Guard>
  );
}

function UnreadCard({ row, reason }: { row: ShelfRow; reason: string }) {
  return (
    <li className="shelf-card unread" data-testid="unread-card">
      <div className="shelf-link">
        <b>{String(row.title || 'untitled')}</b>
        <span className="failure">{reason}</span>
        <span className="quiet">It lies here as it is.</span>
        <Button
          size="small"
          onClick={() =>
            download(
              fileName(String(row.title), 'json'),
              `${JSON.stringify(row.design, null, 2)}\n`,
              'application/json',
            )
          }
        >
          Export as it is
        </Button>
      </div>
    </li>
  );
}

/** Where a design is opened; null for an id that no address can hold. */
function addressOf(id: string): string | null {
  try {
    return `/desk/${encodeURIComponent(id)}`;
  } catch {
    return null;
  }
}

/** What the shelf says of a design; null until a worker has said it. */
function DesignCard({ row, card }: { row: ShelfRow; card: ShelfCard | null }) {
  const href = addressOf(row.id);
  if (href === null) return null;
  return (
    <li className="shelf-card" data-testid="shelf-card" aria-busy={card === null}>
      <Link href={href} className="shelf-link">
        <Glyph freqHz={card?.curve?.freqHz ?? [1, 2]} levelDb={card?.curve?.levelDb ?? null} width={280} height={104} />
        <b>{row.title || 'untitled'}</b>
        <span className={styles.shelfPlan}>{card && (card.summary || 'no plan yet')}</span>
        <span className={`quiet ${styles.shelfNote}`}>{card && (card.note || 'No brief in words yet.')}</span>
        <span className="quiet">
          {card && (card.variants === 1 ? '1 variant, ' : `${card.variants} variants, `)}changed{' '}
          {dayjs(row.updatedAt).format('D MMM YYYY, HH:mm')}
        </span>
      </Link>
      <More row={row} />
    </li>
  );
}

/** The button of a card's menu, which comes when it is first asked for. */
function More({ row }: { row: ShelfRow }) {
  const [wanted, setWanted] = useState(false);
  const button = (
    <button
      type="button"
      className={`plain icon ${styles.shelfMore}`}
      aria-label={`${row.title}: more`}
      aria-haspopup="menu"
      onClick={() => setWanted(true)}
    >
      <MoreOutlined />
    </button>
  );
  return wanted ? (
    <Suspense fallback={button}>
      <CardMenu row={row} />
    </Suspense>
  ) : (
    button
  );
}

const CardMenu = lazy(() => import('./card-menu').then((m) => ({ default: m.CardMenu })));
