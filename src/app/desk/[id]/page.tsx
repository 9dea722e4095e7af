import { DeskPage } from './desk-page';

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  return <DeskPage id={decodeURIComponent(id)} />;
}
