'use client';

import dynamic from 'next/dynamic';

const Preview = dynamic(() => import('@/features/preview/preview').then((m) => m.Preview), { ssr: false });

export function PreviewPage({ id }: { id: string }) {
  return <Preview id={id} />;
}
