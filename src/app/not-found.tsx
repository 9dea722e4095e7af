import Link from 'next/link';
import { RoomTop } from '@/ui/palette/room-top';

export default function NotFound() {
  return (
    <div className="shelf">
      <RoomTop says="a desk for audio filters: from brief to log" />
      <main className="shelf-room">
        <h1>There is no such page</h1>
        <p>
          The address may be mistyped. <Link href="/">To the shelf</Link>
        </p>
      </main>
    </div>
  );
}
