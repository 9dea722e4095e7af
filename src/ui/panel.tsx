'use client';

import type { ReactNode } from 'react';
import { useSought } from './use-sought';

/** A panel that can be asked for by its name: it is brought into sight, and the focus to it. */
export function Panel({ name, testId, children }: { name: string; testId?: string; children: ReactNode }) {
  const ref = useSought<HTMLElement>(name);
  return (
    <section ref={ref} tabIndex={-1} className="panel" aria-label={name} data-testid={testId}>
      {children}
    </section>
  );
}
