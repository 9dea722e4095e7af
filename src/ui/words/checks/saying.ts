import type { Check } from '@/core/jobs/desk/desk-types';

/** How a check is told: a sentence with its numbers; and what would help where no cure is a click. */
export interface Saying {
  readonly says: (data: Check['data'], level: Check['level']) => string;
  readonly advice?: string;
}
