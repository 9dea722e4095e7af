'use client';

import { ActionMenu } from '@/ui/action-menu';
import { MoreOutlined } from '@ant-design/icons';
import { App } from 'antd';
import { useState } from 'react';
import type { Design } from '@/core/design/document/schema';
import type { ShelfRow } from '@/store/shelf/database';
import { deleteDesign, deleteForGood, REMOVED_DAYS, shelveDesign, sizeOf } from '@/store/shelf/shelf-rows';
import { download, fileName } from '@/ui/download';
import { bytesWords } from '@/ui/words/bytes';
import { isFull } from '@/store/shelf/storage-reason';
import { useStoring } from '@/ui/use-storing';
import styles from './shelf.module.css';

/** What can be done with a design on the shelf; open from the start, since it comes when it is asked for. */
export function CardMenu({ row }: { row: ShelfRow }) {
  const [open, setOpen] = useState(true);
  const { modal } = App.useApp();
  const storing = useStoring();
  /** Where there is no room for what can be brought back, it can still be deleted. */
  const deleteInstead = () =>
    modal.confirm({
      title: `Delete “${row.title}” for good?`,
      content:
        `The browser has no room to keep it for ${REMOVED_DAYS} days. Export it first if it may be wanted: ` +
        'it cannot be brought back.',
      okText: 'Delete for good',
      okButtonProps: { danger: true },
      cancelText: 'Keep',
      onOk: () => storing(() => deleteForGood(row.id)),
    });
  const remove = () => {
    const [...links] = document.querySelectorAll('.shelf-link');
    const at = links.findIndex((link) => link.getAttribute('href') === `/desk/${row.id}`);
    let removed = false;
    modal.confirm({
      title: `Remove “${row.title}”?`,
      content: `It can be brought back from the foot of the shelf for ${REMOVED_DAYS} days.`,
      okText: 'Remove',
      cancelText: 'Keep',
      onOk: async () => {
        try {
          await deleteDesign(row.id);
          removed = true;
        } catch (error) {
          if (isFull(error)) deleteInstead();
          else await storing(() => Promise.reject(error));
        }
      },
      // On to what stands in its place: its own button has the focus for the last time.
      afterClose: () => {
        const next = links[at + 1] ?? links[at - 1];
        if (removed && next instanceof HTMLElement) next.focus();
      },
    });
  };
  const duplicate = () => storing(() => shelveDesign(row.design as Design));
  const exported = async () => {
    const [{ readRow }, { writeDesign }] = await Promise.all([
      import('@/store/shelf/save-design'),
      import('@/core/design/document/migrate'),
    ]);
    const read = readRow(row);
    const text = read.ok ? writeDesign(read.value) : JSON.stringify(row.design, null, 2);
    download(fileName(row.title, 'json'), text, 'application/json');
  };
  return (
    <ActionMenu
      open={open}
      onOpenChange={setOpen}
      items={[
        { key: 'copy', label: 'Duplicate', onClick: () => void duplicate() },
        { key: 'export', label: 'Export (JSON)', onClick: () => void exported() },
        { key: 'remove', label: 'Remove', extra: bytesWords(sizeOf(row)), danger: true, onClick: remove },
      ]}
    >
      <button autoFocus type="button" className={`plain icon ${styles.shelfMore}`} aria-label={`${row.title}: more`}>
        <MoreOutlined />
      </button>
    </ActionMenu>
  );
}
