import type { Metadata } from 'next';
import { DeskPage } from './desk-page';

export const metadata: Metadata = {
  title: 'Desk · Jaunty Reed',
  description: 'One design: its curves, circuit, values, spread, boards, measurements, sound and log.',
};

/** One page for all designs: which one it shows is in the address alone, so that it is kept once for all of them. */
export default function Page() {
  return <DeskPage />;
}
