'use client';

import { Alert } from 'antd';
import Link from 'next/link';
import { formatFixed } from '@/core/units/quantity';
import type { Design } from '@/core/design/document/schema';
import { storageStore } from '@/store/shelf/database';
import { unsavedStore } from '@/store/shelf/unsaved-store';
import { download, fileName } from '@/ui/download';
import styles from './shelf.module.css';

/** Designs whose last edits are in this tab alone. */
export function UnsavedNote() {
  const left = unsavedStore((s) => s.left);
  if (left.size === 0) return null;
  return (
    <Alert
      banner
      type="error"
      data-testid="unsaved"
      title="Edits that the browser had no room for are in this tab alone. They are stored as soon as there is room."
      description={
        <ul>
          {[...left.values()].map(({ design }) => (
            <li key={design.id}>
              <Link href={`/desk/${encodeURIComponent(design.id)}`}>{design.title || 'untitled'}</Link>{' '}
              <button type="button" className="link" onClick={() => void exported(design)}>
                export its file
              </button>
            </li>
          ))}
        </ul>
      }
    />
  );
}
const exported = async (design: Design): Promise<void> => {
  const { writeDesign } = await import('@/core/design/document/migrate');
  download(fileName(design.title, 'json'), writeDesign(design), 'application/json');
};

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
