'use client';

import { useState } from 'react';
import type { Axis } from '@/ui/chart/chart-frame';

const alike = (a: Axis, b: Axis): boolean =>
  a.from === b.from && a.to === b.to && a.labelled.length === b.labelled.length;

/** An axis that stands still while something is dragged, and keeps its identity while it says the same. */
export function useHeld(wanted: Axis, hold: boolean): Axis {
  const [kept, keep] = useState(wanted);
  if (hold || alike(kept, wanted)) return kept;
  keep(wanted);
  return wanted;
}
