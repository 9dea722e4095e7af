'use client';

import dynamic from 'next/dynamic';

/** The shelf lives in the browser's own storage, so there is nothing for a server to render. */
const Shelf = dynamic(() => import('@/features/shelf/shelf').then((m) => m.Shelf), { ssr: false });

export function ShelfPage({ demo }: { demo: boolean }) {
  return <Shelf demo={demo} />;
}
