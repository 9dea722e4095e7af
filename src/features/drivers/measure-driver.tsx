'use client';

import dynamic from 'next/dynamic';
import { Fold } from '@/ui/fold';
import type { DriverEdits } from './take-curves';

/** Fetched when it is opened: the page begins without it. */
const DriverBench = dynamic(() => import('./driver-bench').then((m) => m.DriverBench), {
  ssr: false,
  loading: () => <p className="reason quiet">Fetching the bench.</p>,
});

/** A driver to be measured: a line until it is opened. */
export function MeasureDriver(props: DriverEdits) {
  return (
    <Fold name="Measure the driver" title="Measure it" outcome="impedance and response, with a sweep">
      <DriverBench {...props} />
    </Fold>
  );
}
