'use client';

import { reasonOf } from '@/core/result';
import { Button } from 'antd';
import type { ReactNode } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import styles from './guard.module.css';

/** Keeps what goes wrong in one part of a page from taking the rest with it. @param what begins the sentence. */
export function Guard({ what, children }: { what: string; children: ReactNode }) {
  return (
    <ErrorBoundary
      fallbackRender={({ error, resetErrorBoundary }) => (
        <div className={styles.guard} role="alert">
          <p className="failure">
            {what} cannot be shown: {reasonOf(error)}. The design is safe; undo the last change, or look again.
          </p>
          <Button size="small" onClick={resetErrorBoundary}>
            Look again
          </Button>
        </div>
      )}
    >
      {children}
    </ErrorBoundary>
  );
}
