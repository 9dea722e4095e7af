import { App } from 'antd';
import { useCallback } from 'react';
import { isFull, storageReason } from '@/store/shelf/storage-reason';

/** Does what writes to the browser's storage, and says so where it was not taken. */
export function useStoring(): (act: () => Promise<unknown>) => Promise<void> {
  const { notification } = App.useApp();
  return useCallback(
    async (act) => {
      try {
        await act();
      } catch (error) {
        notification.error({
          title: 'The browser did not keep it',
          description:
            storageReason(error) +
            (isFull(error) ? ' Back up the shelf, delete for good what is not needed, and try again.' : ''),
          duration: 0,
        });
      }
    },
    [notification],
  );
}
