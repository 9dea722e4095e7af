'use client';

import dynamic from 'next/dynamic';

/** The drawer lives in the browser's own storage. */
const Drivers = dynamic(() => import('@/features/drivers/drivers').then((m) => m.Drivers), { ssr: false });

export function DriversPage() {
  return <Drivers />;
}
