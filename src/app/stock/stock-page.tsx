'use client';

import dynamic from 'next/dynamic';

/** The drawer lives in the browser's own storage. */
const Stock = dynamic(() => import('@/features/stock/stock').then((m) => m.Stock), { ssr: false });

export function StockPage() {
  return <Stock />;
}
