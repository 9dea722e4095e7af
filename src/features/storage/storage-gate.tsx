'use client';

import { Alert } from 'antd';
import { useEffect, type ReactNode } from 'react';
import { keepStorage, openStorage, storageStore } from '@/store/shelf/database';

/** Shows a page when the browser's tables can be used, `opening` until then, and says where there are none. */
export function StorageGate({ opening, children }: { opening: ReactNode; children: ReactNode }) {
  const { kind, reason, deleted } = storageStore();
  useEffect(() => {
    void openStorage().then(keepStorage);
  }, []);
  if (kind === 'opening') return opening;
  return (
    <>
      {kind === 'memory' && (
        <Alert
          banner
          type="error"
          data-testid="no-storage"
          title={
            `This browser gives no place to keep designs (${reason}). Everything works, but what you do is gone ` +
            `with this tab: export each design, or back up the shelf.`
          }
        />
      )}
      {deleted && (
        <Alert
          banner
          type="error"
          data-testid="storage-deleted"
          title={
            'What this browser kept was deleted, from another tab or by its settings. A design that is open is in ' +
            'this tab alone until it is changed or put back: export it, or restore a backup.'
          }
        />
      )}
      {children}
    </>
  );
}
