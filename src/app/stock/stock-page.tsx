'use client';

import dynamic from 'next/dynamic';
import { Opening, Room } from '../room';

const TITLE = 'Stock';
/** The drawer lies in the browser’s own storage. */
const Stock = dynamic(() => import('@/features/stock/stock').then((m) => m.Stock), {
  ssr: false,
  loading: () => <Opening title={TITLE} />,
});

export function StockPage() {
  return (
    <Room title={TITLE} says="stock: the parts in hand">
      <Stock />
    </Room>
  );
}
