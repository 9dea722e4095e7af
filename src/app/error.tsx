'use client';

import { Button, Result } from 'antd';
import Link from 'next/link';

/** A page that went wrong: what is on the shelf is as it was saved. */
export default function PageError({ error, reset }: { error: Error; reset: () => void }) {
  return (
    <Result
      status="warning"
      title="This page went wrong"
      subTitle={`${error.message || 'Nothing is known of why.'} What lies on the shelf is as it was saved.`}
      extra={[
        <Button key="again" type="primary" onClick={reset}>
          Try again
        </Button>,
        <Link key="home" href="/">
          To the shelf
        </Link>,
      ]}
    />
  );
}
