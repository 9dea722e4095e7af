'use client';

/** The last resort, when not even the layout stands: no library, no style of ours. */
export default function GlobalError({ error }: { error: Error }) {
  return (
    <html lang="en">
      <body style={{ font: '16px system-ui', margin: '3rem auto', maxWidth: '38rem', padding: '0 1rem' }}>
        <h1>Jaunty Reed went wrong</h1>
        <p>{error.message || 'Nothing is known of why.'}</p>
        <p>What lies on the shelf is as it was saved.</p>
        <form action="/">
          <button type="submit">Open the shelf again</button>
        </form>
      </body>
    </html>
  );
}
