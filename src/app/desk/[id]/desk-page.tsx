'use client';

import dynamic from 'next/dynamic';
import Link from 'next/link';
import { StorageGate } from '@/features/storage/storage-gate';

/** The desk's frame, rendered by the server: its top bar, and where curves and tasks will stand. */
const Frame = () => (
  <div className="desk" aria-busy="true">
    <header className="top">
      <Link href="/" className="home">
        Jaunty Reed
      </Link>
      <span className="top-quiet" role="status">
        Opening the design …
      </span>
    </header>
    <div className="path" />
  </div>
);

const DeskRoom = dynamic(() => import('./desk-room').then((m) => m.DeskRoom), { ssr: false, loading: Frame });

export function DeskPage({ id }: { id: string }) {
  return (
    <StorageGate opening={<Frame />}>
      <DeskRoom id={id} frame={<Frame />} />
    </StorageGate>
  );
}
