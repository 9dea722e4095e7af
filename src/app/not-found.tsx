import Link from 'next/link';

export default function NotFound() {
  return (
    <main className="shelf-room">
      <h1>There is no such page</h1>
      <p>
        The address may be mistyped. <Link href="/">To the shelf</Link>
      </p>
    </main>
  );
}
