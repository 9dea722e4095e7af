'use client';

import dynamic from 'next/dynamic';
import Link from 'next/link';
import { usePathname } from 'next/navigation';
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

/** The desk is asked for by the page's first script, not when its frame stands. */
if (typeof window !== 'undefined') void import('./desk-room');

const DeskRoom = dynamic(() => import('./desk-room').then((m) => m.DeskRoom), { ssr: false, loading: Frame });

/** The design that an address names; one that is no text names none. */
function idIn(address: string): string {
  const name = address.split('/')[2] ?? '';
  try {
    return decodeURIComponent(name);
  } catch {
    return name;
  }
}

export function DeskPage() {
  const id = idIn(usePathname());
  return (
    <StorageGate opening={<Frame />}>
      <DeskRoom key={id} id={id} frame={<Frame />} />
    </StorageGate>
  );
}
