'use client';

import { App, Button } from 'antd';
import dayjs from 'dayjs';
import { lazy, Suspense, useState, type ReactNode } from 'react';
import type { Backup } from '@/store/shelf/read-backup';
import type { BackupRow, Restored, RowChoice } from '@/store/shelf/restore';
import { shelveDesign } from '@/store/shelf/shelf-rows';
import { download, pickTextFile } from '@/ui/download';
import { useFileReading } from '@/ui/use-file-reading';
import { useStoring } from '@/ui/use-storing';
import { failureWords } from '@/ui/words/failures';
import { countWords } from './table-words';

const RestoreDialog = lazy(() => import('./restore-dialog').then((m) => ({ default: m.RestoreDialog })));

/** Writing whole shelves, and putting one back, comes when it is asked for. */
const backups = async () => ({
  ...(await import('@/store/shelf/backup')),
  ...(await import('@/store/shelf/restore')),
});
const MOST_NAMED = 12;

interface Restoring {
  readonly rows: readonly BackupRow[];
  readonly name: string;
}

/** Files into the shelf and out of it, and what is asked about them meanwhile. */
export function useShelfFiles(): {
  readonly importFile: () => Promise<void>;
  readonly backUp: () => Promise<void>;
  readonly question: ReactNode;
} {
  const { notification, message } = App.useApp();
  const storing = useStoring();
  const readFile = useFileReading();
  const { ask, question } = useRestore();

  async function importFile(): Promise<void> {
    const file = await pickTextFile('.json,.zip');
    if (!file) return;
    notification.destroy();
    const read = await readFile('shelf', file);
    if (!read) return;
    if (!read.ok)
      return notification.error({
        title: `${file.name} was not taken`,
        description: failureWords(read),
        duration: 0,
      });
    const { value } = read;
    await storing(async () => {
      // One design by itself comes in beside what is there; a backup is shown table by table.
      if (value.kind === 'backup') return ask(value.backup, file.name);
      await shelveDesign(value.design);
      void message.success(`“${value.design.title}” is on the shelf.`);
    });
  }

  const backUp = () =>
    storing(async () => {
      const { bytes, unread } = await (await backups()).backupShelf();
      download(`jaunty-reed-shelf-${dayjs().format('YYYY-MM-DD')}.zip`, bytes, 'application/zip');
      if (unread.length === 0) return;
      const them = unread.length === 1 ? 'is in the backup as it lies' : 'are in the backup as they lie';
      notification.warning({
        title: `${countWords('designs', unread.length)} did not read, and ${them}`,
        description: <Named lines={unread.map(({ file, title }) => `${title}: ${file}`)} />,
        duration: 0,
      });
    });
  return { importFile, backUp, question };
}

/** A backup that waits for what is to become of it; what it put on the shelf can be taken back. */
function useRestore(): { readonly ask: (backup: Backup, name: string) => Promise<void>; readonly question: ReactNode } {
  const [restoring, setRestoring] = useState<Restoring | null>(null);
  const { notification, message } = App.useApp();
  const storing = useStoring();

  /** What of it is not as it was written is said before anything is taken. */
  const ask = async (backup: Backup, name: string) => {
    setRestoring({ rows: await (await backups()).compareWithShelf(backup), name });
    const { faults } = backup;
    if (faults.length === 0) return;
    const these = faults.length === 1 ? 'one thing is' : `${faults.length} things are`;
    notification.warning({
      title: `Of ${name}, ${these} not as written`,
      description: <Named lines={faults.map((fault) => `${fault.file}: ${failureWords(fault)}`)} />,
      duration: 0,
    });
  };

  async function restore(chosen: readonly { row: BackupRow; choice: RowChoice }[], of: Restoring): Promise<void> {
    const { restoreRows, undoRestore } = await backups();
    const restored = await restoreRows(chosen);
    setRestoring(null);
    const undo = async () => {
      notification.destroy(RESTORED);
      const stay = await undoRestore(restored);
      const but = stay === 0 ? '' : `, but for ${countWords('designs', stay)} that changed since`;
      void message.success(`The shelf is as it was${but}.`);
    };
    notification.success({
      key: RESTORED,
      title: `${restoredWords(restored)} of ${of.name}`,
      duration: 30,
      actions: (
        <Button size="small" onClick={() => void storing(undo)}>
          Undo
        </Button>
      ),
    });
  }
  const question = restoring && (
    <Suspense fallback={null}>
      <RestoreDialog
        rows={restoring.rows}
        name={restoring.name}
        onRestore={(chosen) => void storing(() => restore(chosen, restoring))}
        onClose={() => setRestoring(null)}
      />
    </Suspense>
  );
  return { ask, question };
}
const RESTORED = 'restored';

/** What came in, table by table. */
export function restoredWords({ taken }: Pick<Restored, 'taken'>): string {
  const words = Object.entries(taken).map(([table, count]) => countWords(table as BackupRow['table'], count));
  const last = words[words.length - 1];
  return words.length > 1 ? `${words.slice(0, -1).join(', ')} and ${last} came in` : `${last} came in`;
}

const Named = ({ lines }: { lines: readonly string[] }) => (
  <ul>
    {lines.slice(0, MOST_NAMED).map((line, i) => (
      <li key={i}>{line}</li>
    ))}
    {lines.length > MOST_NAMED && <li>and {lines.length - MOST_NAMED} more</li>}
  </ul>
);
