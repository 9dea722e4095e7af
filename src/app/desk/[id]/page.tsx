import { notFound } from 'next/navigation';
import { DeskPage } from './desk-page';

/** An address as it was typed, or null where it stands for no text. */
function decoded(text: string): string | null {
  try {
    return decodeURIComponent(text);
  } catch {
    return null;
  }
}

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const id = decoded((await params).id);
  if (id === null) notFound();
  return <DeskPage id={id} />;
}
