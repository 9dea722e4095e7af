import type { Metadata } from 'next';
import { StockPage } from './stock-page';

export const metadata: Metadata = {
  title: 'Stock · Jaunty Reed',
  description: 'The parts in hand, which designs choose from, kept in this browser.',
};

export default function Page() {
  return <StockPage />;
}
