import { WORKERS } from '@/workers/addresses';
import { documentStore } from '../document';
import { ACOUSTICS, DESK } from '../questions/live';
import type { Kept } from '../questions/question';
import { saveStore } from './autosave';
import { database, type AnswerRow } from './database';

/** What the desk shows first: kept with the design, so that it stands there when the design is opened again. */
const QUESTIONS = [DESK, ACOUSTICS] as const;
/** Answers are kept of so many designs, those that were opened last. */
const MOST_KEPT = 30;
/** So long nothing changes before an answer is kept, ms. */
const REST_MS = 1500;

/** What is kept of a design, worked out by these very workers; null where there is nothing. */
export async function keptAnswers(id: string): Promise<AnswerRow | null> {
  const row = await database.answers.get(id).catch(() => undefined);
  return row?.by === WORKERS.job ? row : null;
}

/** Shows what was kept, as far as the very same is asked of the design that is open: it is asked all the same. */
export function recallAnswers({ answers }: AnswerRow): void {
  for (const question of QUESTIONS) {
    const kept = answers[question.kind];
    if (kept) question.recall(kept as Kept<never>);
  }
}

/** Keeps what the desk shows of the open design whenever it rests and is saved. Returns the way to stop. */
export function keepAnswers(): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const soon = () => {
    clearTimeout(timer);
    timer = setTimeout(() => void keep().catch(() => {}), REST_MS);
  };
  const stops = [...QUESTIONS.map((question) => question.follow(soon)), saveStore.subscribe(soon)];
  return () => {
    clearTimeout(timer);
    for (const stop of stops) stop();
  };
}

async function keep(): Promise<void> {
  const { design } = documentStore.getState();
  // Where the design itself finds no room there is none for this.
  if (!design || saveStore.getState().state !== 'saved') return;
  const answers = Object.fromEntries(
    QUESTIONS.flatMap((question) => {
      const kept = question.toKeep();
      return kept ? [[question.kind, kept]] : [];
    }),
  );
  if (Object.keys(answers).length === 0) return;
  const at = new Date().toISOString();
  await database.answers.put({ id: design.id, by: WORKERS.job, at, answers });
  const over = (await database.answers.count()) - MOST_KEPT;
  if (over > 0) await database.answers.bulkDelete(await database.answers.orderBy('at').limit(over).primaryKeys());
}
