import type { Metadata } from 'next';
import { NewPage } from './new-page';

export const metadata: Metadata = {
  title: 'New design · Jaunty Reed',
  description: 'Begin an audio filter, a voltage-controlled filter, an RC network or a crossover from its circuit.',
};

export default function Page() {
  return <NewPage />;
}
