'use client';

import { Alert } from 'antd';
import type { ReactNode } from 'react';
import styles from './page-news.module.css';

interface PageNewsProps {
  readonly type: 'info' | 'warning';
  readonly title: string;
  readonly action: ReactNode;
  readonly children: ReactNode;
}

/** In place of a page that cannot be shown: why, and the way on. */
export function PageNews({ type, title, action, children }: PageNewsProps) {
  return (
    <main className={styles.news}>
      <Alert type={type} showIcon title={title} description={children} action={action} />
    </main>
  );
}
