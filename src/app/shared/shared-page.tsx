'use client';

import dynamic from 'next/dynamic';
import { Opening, Room } from '../room';

const TITLE = 'A shared design';
/** The design is in the address itself, which only the browser has. */
const Shared = dynamic(() => import('@/features/shared/shared').then((m) => m.Shared), {
  ssr: false,
  loading: () => <Opening title={TITLE} />,
});

export function SharedPage() {
  return (
    <Room title={TITLE} says="a design that came in a link">
      <Shared />
    </Room>
  );
}
