'use client';

import { Button, Space } from 'antd';
import Link from 'next/link';
import { PageNews } from '@/ui/page-news';

/** A page that went wrong: what is on the shelf is as it was saved. */
export default function PageError({ error, reset }: { error: Error; reset: () => void }) {
  const action = (
    <Space orientation="vertical">
      <Button type="primary" onClick={reset}>
        Try again
      </Button>
      <Link href="/">To the shelf</Link>
    </Space>
  );
  return (
    <PageNews type="warning" title="This page went wrong" action={action}>
      {error.message || 'Nothing is known of why.'} What lies on the shelf is as it was saved.
    </PageNews>
  );
}
