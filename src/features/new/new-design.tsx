'use client';

import { Button } from 'antd';
import { CATALOGUE } from '@/core/catalogue/catalogue';
import { Gallery } from '@/ui/gallery/gallery';
import { useBegin } from '@/ui/gallery/use-begin';
import { useGuided } from '@/ui/gallery/use-guided';

/** Where a design begins: what is wanted, or a circuit by any of its names. */
export function NewDesign() {
  const begin = useBegin();
  const guided = useGuided();
  return (
    <>
      <div className="shelf-bar">
        <h1>New design</h1>
        <span className="shelf-actions">
          <Button onClick={guided}>A guided first design, three minutes</Button>
        </span>
      </div>
      <Gallery entries={CATALOGUE} onChoose={begin} />
    </>
  );
}
