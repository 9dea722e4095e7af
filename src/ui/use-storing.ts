import { App } from 'antd';
import { useCallback } from 'react';
import { reasonOf } from '@/core/result';

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
            `${reasonOf(error)} Its storage may be full: back up the shelf, remove what is not needed, and try ` +
            'again.',
          duration: 0,
        });
      }
    },
    [notification],
  );
}
