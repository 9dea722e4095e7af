import { onlyCurrentWays } from '@/core/design/document/current-way';
import type { Design } from '@/core/design/document/schema';
import { withoutRecord } from '@/core/design/document/without-record';

/**
 * Workers need the circuits, not the record; and of a bank or a crossover only what is being worked on, unless all of
 * it is wanted.
 */
export const lean = (design: Design): Design => onlyCurrentWays(withoutRecord(design));
