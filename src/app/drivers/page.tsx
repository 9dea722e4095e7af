import type { Metadata } from 'next';
import { DriversPage } from './drivers-page';

export const metadata: Metadata = {
  title: 'Drivers · Jaunty Reed',
  description: 'Loudspeaker drivers from measured files or from their figures, kept in this browser.',
};

export default function Page() {
  return <DriversPage />;
}
