'use client';

import { App, Button, Modal } from 'antd';
import dayjs from 'dayjs';
import { useState, type ReactNode } from 'react';
import type { Backup, Fault, OnClash } from '@/store/shelf/backup';
import { shelveDesign } from '@/store/shelf/shelf-rows';
import { download, pickTextFile } from '@/ui/download';
import { useStoring } from '@/ui/use-storing';
import { failureWords } from '@/ui/words/failures';

/** Reading and writing whole shelves comes when it is asked for. */
const backups = () => import('@/store/shelf/backup');
const MOST_NAMED = 12;

/** Files into the shelf and out of it, and what is asked about them meanwhile. */
export function useShelfFiles(): {
  readonly importFile: () => Promise<void>;
  readonly backUp: () => Promise<void>;
  readonly question: ReactNode;
} {
  const [restoring, setRestoring] = useState<Restoring | null>(null);
  const { notification, message } = App.useApp();
  const storing = useStoring();

  async function importFile(): Promise<void> {
    const file = await pickTextFile('.json,.zip');
    if (!file) return;
    notification.destroy();
    const { clashes, readBackup } = await backups();
    const read = readBackup(file.bytes, file.name);
    if (!read.ok)
      return notification.error({
        title: `${file.name} was not taken`,
        description: failureWords(read),
        duration: 0,
      });
    await storing(async () => {
      // One design by itself comes in beside what is there; a whole shelf asks.
      const { designs, faults } = read.value;
      if (designs.length === 1 && faults.length === 0) {
        await shelveDesign(designs[0].design);
        return void message.success(`“${designs[0].design.title}” is on the shelf.`);
      }
      const clashing = await clashes(read.value);
      if (clashing.length > 0)
        setRestoring({ backup: read.value, clashing: clashing.map((c) => c.design.title), name: file.name });
      else await restore(read.value, 'skip', file.name);
    });
  }

  async function restore(backup: Backup, onClash: OnClash, name: string): Promise<void> {
    setRestoring(null);
    const taken = await (await backups()).restoreBackup(backup, onClash);
    const { stock, drivers, opAmps, faults } = backup;
    void message.success(
      `${taken} ${taken === 1 ? 'design is' : 'designs are'} on the ` +
        `shelf${stock.length + drivers.length + opAmps.length > 0 ? ', with stock, drivers and op-amps' : ''}.`,
    );
    if (faults.length > 0)
      notification.warning({
        title: `Of ${name}, ${faults.length === 1 ? 'one thing was' : `${faults.length} things were`} not taken`,
        description: <Faults faults={faults} />,
        duration: 0,
      });
  }

  const backUp = async () => {
    const bytes = await (await backups()).backupShelf();
    download(`jaunty-reed-shelf-${dayjs().format('YYYY-MM-DD')}.zip`, bytes, 'application/zip');
  };
  const question = restoring && (
    <RestoreQuestion
      {...restoring}
      onChoose={(onClash) => void storing(() => restore(restoring.backup, onClash, restoring.name))}
      onClose={() => setRestoring(null)}
    />
  );
  return { importFile, backUp, question };
}

const Faults = ({ faults }: { faults: readonly Fault[] }) => (
  <ul>
    {faults.slice(0, MOST_NAMED).map((fault, i) => (
      <li key={i}>
        {fault.file}: {failureWords({ ok: false, ...fault })}
      </li>
    ))}
  </ul>
);

interface Restoring {
  readonly backup: Backup;
  /** Titles of designs that lie on the shelf with something else in them. */
  readonly clashing: readonly string[];
  readonly name: string;
}

/** What is to become of designs that are on the shelf already, otherwise than in the backup. */
function RestoreQuestion({
  backup,
  clashing,
  name,
  onChoose,
  onClose,
}: Restoring & { onChoose: (onClash: OnClash) => void; onClose: () => void }) {
  return (
    <Modal
      open
      title={`Restore ${name}`}
      onCancel={onClose}
      footer={[
        <Button key="skip" onClick={() => onChoose('skip')}>
          Leave those on the shelf
        </Button>,
        <Button key="both" type="primary" onClick={() => onChoose('keep-both')}>
          Keep both
        </Button>,
        <Button key="replace" danger onClick={() => onChoose('replace')}>
          Replace them
        </Button>,
      ]}
    >
      <p>
        {backup.designs.length} designs are in it. {clashing.length === 1 ? 'One lies' : `${clashing.length} lie`} on
        the shelf with something else in {clashing.length === 1 ? 'it' : 'them'}:
      </p>
      <ul>
        {clashing.slice(0, MOST_NAMED).map((title, i) => (
          <li key={i}>{title || 'untitled'}</li>
        ))}
      </ul>
    </Modal>
  );
}
