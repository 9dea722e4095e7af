import type { Metadata } from 'next';
import { DeskPage } from './desk-page';

export const metadata: Metadata = {
  title: 'Desk · Jaunty Reed',
  description: 'One design: its curves, circuit, values, spread, boards, measurements, sound and log.',
};

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  return <DeskPage id={decodeURIComponent(id)} />;
}
