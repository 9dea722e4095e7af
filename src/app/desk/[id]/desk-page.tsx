'use client';

import dynamic from 'next/dynamic';

const DeskRoom = dynamic(() => import('./desk-room').then((m) => m.DeskRoom), { ssr: false });

export function DeskPage({ id }: { id: string }) {
  return <DeskRoom id={id} />;
}
