'use client';

import { ActionMenu } from '@/ui/action-menu';
import { MoreOutlined } from '@ant-design/icons';
import { App } from 'antd';
import { useState } from 'react';
import type { Design } from '@/core/design/document/schema';
import type { ShelfRow } from '@/store/shelf/database';
import { deleteDesign, REMOVED_DAYS, shelveDesign } from '@/store/shelf/shelf-rows';
import { download, fileName } from '@/ui/download';
import { useStoring } from '@/ui/use-storing';
import styles from './shelf.module.css';

/** What can be done with a design on the shelf; open from the start, since it comes when it is asked for. */
export function CardMenu({ row }: { row: ShelfRow }) {
  const [open, setOpen] = useState(true);
  const { modal } = App.useApp();
  const storing = useStoring();
  const remove = () => {
    const [...links] = document.querySelectorAll('.shelf-link');
    const at = links.findIndex((link) => link.getAttribute('href') === `/desk/${row.id}`);
    let removed = false;
    modal.confirm({
      title: `Remove “${row.title}”?`,
      content: `It can be brought back from the foot of the shelf for ${REMOVED_DAYS} days.`,
      okText: 'Remove',
      cancelText: 'Keep',
      onOk: () => storing(() => deleteDesign(row.id)).then(() => (removed = true)),
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
        { key: 'remove', label: 'Remove', danger: true, onClick: remove },
      ]}
    >
      <button autoFocus type="button" className={`plain icon ${styles.shelfMore}`} aria-label={`${row.title}: more`}>
        <MoreOutlined />
      </button>
    </ActionMenu>
  );
}
