'use client';

import dynamic from 'next/dynamic';
import { Opening, Room } from '../room';

const TITLE = 'Drivers';
/** The drawer lies in the browser’s own storage. */
const Drivers = dynamic(() => import('@/features/drivers/drivers').then((m) => m.Drivers), {
  ssr: false,
  loading: () => <Opening title={TITLE} />,
});

export function DriversPage() {
  return (
    <Room title={TITLE} says="drivers: from files or from their figures">
      <Drivers />
    </Room>
  );
}
