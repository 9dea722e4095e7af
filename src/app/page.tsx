import type { Metadata } from 'next';
import { ShelfPage } from './shelf-page';

export const metadata: Metadata = {
  title: 'Shelf · Jaunty Reed',
  description:
    'A desk for designing op-amp filters, voltage-controlled filters, RC networks and crossovers: from brief to log.',
};

export default function Page() {
  return <ShelfPage demo={process.env.JAUNTY_REED_DEMO === '1'} />;
}
