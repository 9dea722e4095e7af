import type { Metadata } from 'next';
import { SharedPage } from './shared-page';

export const metadata: Metadata = {
  title: 'A shared design · Jaunty Reed',
  description: 'A design that came in a link: it is read in this browser and goes nowhere else.',
};

export default function Page() {
  return <SharedPage />;
}
