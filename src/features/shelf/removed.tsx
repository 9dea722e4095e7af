'use client';

import { Button } from 'antd';
import dayjs from 'dayjs';
import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useState } from 'react';
import { database } from '@/store/shelf/database';
import { bringBack, forgetRemoved, forgetRemovedNow, sizeOf } from '@/store/shelf/shelf-rows';
import { bytesWords } from '@/ui/words/bytes';
import { useStoring } from '@/ui/use-storing';
import styles from './shelf.module.css';

/** What was taken off the shelf of late, to be brought back. */
export function Removed() {
  const removed = useLiveQuery(() => database.removed.orderBy('removedAt').reverse().toArray(), []);
  const [open, setOpen] = useState(false);
  const storing = useStoring();
  useEffect(() => void forgetRemoved(), []);
  if (!removed || removed.length === 0) return null;
  return (
    <details
      className={styles.shelfRemoved}
      data-testid="removed"
      onToggle={(event) => setOpen(event.currentTarget.open)}
    >
      <summary>
        {removed.length === 1 ? 'One removed design' : `${removed.length} removed designs`} can be brought back
      </summary>
      <ul>
        {removed.map((row) => (
          <li key={row.id}>
            {row.title || 'untitled'}{' '}
            <span className="quiet">removed {dayjs(row.removedAt).format('D MMM YYYY, HH:mm')}</span>{' '}
            <Button size="small" type="link" onClick={() => void storing(async () => void (await bringBack(row.id)))}>
              Bring back
            </Button>
            <Button
              size="small"
              type="link"
              danger
              aria-label={`Delete “${row.title}” for good`}
              onClick={() => void storing(async () => void (await forgetRemovedNow(row.id)))}
            >
              Delete for good
              {/* How large each is takes writing it out: where it is looked at. */}
              {open && `, ${bytesWords(sizeOf(row))}`}
            </Button>
          </li>
        ))}
      </ul>
      <Button size="small" danger onClick={() => void storing(async () => void (await forgetRemovedNow()))}>
        Delete all of them for good
      </Button>
    </details>
  );
}
