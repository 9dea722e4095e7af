'use client';

import dynamic from 'next/dynamic';
import { Opening, Room } from '../room';

const TITLE = 'New design';
/** What is begun here is kept in the browser’s own storage. */
const NewDesign = dynamic(() => import('@/features/new/new-design').then((m) => m.NewDesign), {
  ssr: false,
  loading: () => <Opening title={TITLE} />,
});

export function NewPage() {
  return (
    <Room title={TITLE} says="new design: say what is wanted, or choose a circuit">
      <NewDesign />
    </Room>
  );
}
