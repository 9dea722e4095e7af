import { notFound } from 'next/navigation';
import { PreviewPage } from './preview-page';

/** For those who add a circuit: its drawing, values and formulas as they are written. Only while developing. */
export default async function Page({ params }: { params: Promise<{ topology: string }> }) {
  if (process.env.NODE_ENV === 'production') notFound();
  return <PreviewPage id={(await params).topology} />;
}
