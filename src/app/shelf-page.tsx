'use client';

import dynamic from 'next/dynamic';
import { Opening, Room } from './room';

const TITLE = 'Shelf';
/** The shelf lies in the browser’s own storage: a server has nothing of it. */
const Shelf = dynamic(() => import('@/features/shelf/shelf').then((m) => m.Shelf), {
  ssr: false,
  loading: () => <Opening title={TITLE} />,
});

export function ShelfPage({ demo }: { demo: boolean }) {
  return (
    <Room title={TITLE} says="a desk for audio filters: from brief to log">
      <Shelf demo={demo} />
    </Room>
  );
}
