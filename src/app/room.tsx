'use client';

import type { ReactNode } from 'react';
import { StorageGate } from '@/features/storage/storage-gate';
import { RoomTop } from '@/ui/palette/room-top';

/** What stands in a room until its content is there: rendered by the server. */
export const Opening = ({ title }: { title: string }) => (
  <>
    <h1>{title}</h1>
    <p className="quiet" role="status">
      Opening …
    </p>
  </>
);

/** The frame of every page but the desk: the top bar, and what is in the room once the browser's tables are open. */
export function Room({ title, says, children }: { title: string; says: string; children: ReactNode }) {
  return (
    <div className="shelf">
      <RoomTop says={says} />
      <main className="shelf-room">
        <StorageGate opening={<Opening title={title} />}>{children}</StorageGate>
      </main>
    </div>
  );
}
