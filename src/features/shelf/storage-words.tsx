'use client';

import { formatFixed } from '@/core/units/quantity';
import { storageStore } from '@/store/shelf/database';
import styles from './shelf.module.css';

/** Where the shelf lies, how full that is, and whether it stays. */
export function StorageWords() {
  const { kind, kept, share } = storageStore();
  if (kind !== 'browser' || kept === null) return null;
  const full =
    share === null ? '' : `, ${formatFixed(100 * share, share < 0.1 ? 1 : 0)}\u202f% of the room it has there`;
  return (
    <p className={`quiet ${styles.shelfStorage}`} data-testid="storage">
      The shelf lies in this browser{full}.{' '}
      {kept
        ? 'The browser has promised to keep it.'
        : 'The browser may clear it when it wants room: back up now and then.'}{' '}
      Version {process.env.NEXT_PUBLIC_VERSION}.
    </p>
  );
}
