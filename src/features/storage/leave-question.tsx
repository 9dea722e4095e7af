'use client';

import { Button, Modal } from 'antd';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { exportDesign } from '@/store/exports/exports';
import { saveStore } from '@/store/shelf/autosave';

/** Where a link of the application leads to; null for what leads elsewhere, or opens beside. */
function pathOf(event: MouseEvent): string | null {
  if (event.defaultPrevented || event.button !== 0 || event.metaKey || event.ctrlKey || event.shiftKey) return null;
  const link = event.target instanceof Element ? event.target.closest('a[href]') : null;
  if (!(link instanceof HTMLAnchorElement) || link.target || link.hasAttribute('download')) return null;
  const { origin, pathname, search } = new URL(link.href, window.location.href);
  return origin === window.location.origin && pathname !== window.location.pathname ? pathname + search : null;
}

/** Asks before a design is left whose last edits are not stored; left, they stay in this tab until they are. */
export function LeaveQuestion() {
  const [to, setTo] = useState<string | null>(null);
  const router = useRouter();
  useEffect(() => {
    const onClick = (event: MouseEvent) => {
      if (saveStore.getState().state !== 'failed') return;
      const path = pathOf(event);
      if (path === null) return;
      event.preventDefault();
      event.stopPropagation();
      setTo(path);
    };
    document.addEventListener('click', onClick, { capture: true });
    return () => document.removeEventListener('click', onClick, { capture: true });
  }, []);
  const leave = () => {
    if (to !== null) router.push(to);
    setTo(null);
  };
  return (
    <Modal
      open={to !== null}
      title="The last edits are not stored"
      onCancel={() => setTo(null)}
      footer={[
        <Button key="stay" type="primary" onClick={() => setTo(null)}>
          Stay
        </Button>,
        <Button
          key="file"
          onClick={() => {
            exportDesign();
            leave();
          }}
        >
          Export the file and leave
        </Button>,
        <Button key="leave" onClick={leave}>
          Leave
        </Button>,
      ]}
    >
      They stay in this tab, and are stored as soon as there is room. Closed with the tab they are lost: the file has
      them safe.
    </Modal>
  );
}
