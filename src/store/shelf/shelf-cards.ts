import type { ShelfCard } from '@/core/jobs/desk/shelf-card';
import type { Result } from '@/core/result';
import { startJob } from '@/workers/job-client';
import { database, type CardRow, type ShelfRow } from './database';

/** Cards are worked out by this version; what another one made of a design is worked out again. */
const BY = process.env.NEXT_PUBLIC_VERSION ?? '';

/** The card that is kept of a row as it stands, if there is one. */
export const keptCard = (row: ShelfRow, kept: CardRow | undefined): Result<ShelfCard> | null =>
  kept && kept.revision === row.revision && kept.by === BY ? kept.card : null;

/** Has a worker read a row and say what it is, and keeps that. Null where it was given up before it could say. */
export async function makeCard({ id, revision, design }: ShelfRow): Promise<Result<ShelfCard> | null> {
  const card = await startJob<'shelf-card'>({ kind: 'shelf-card', design }).answer;
  if (!card.ok && (card.code === 'cancelled' || card.code === 'worker-lost')) return null;
  // One that is not kept is made again next time; that is all.
  await database.cards.put({ id, revision, by: BY, card }).catch(() => {});
  return card;
}
