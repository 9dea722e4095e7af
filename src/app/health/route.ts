/** For what watches over a server: it answers, and which version it is. Never from a cache. */
export const dynamic = 'force-dynamic';

export const GET = (): Response =>
  Response.json(
    { status: 'ok', version: process.env.NEXT_PUBLIC_VERSION },
    { headers: { 'Cache-Control': 'no-store' } },
  );
