import type { Failure } from '@/core/result';

/** What failures are said as, by their codes: what, where, and what to do. */
export type FailureWords = Readonly<Record<string, ((data: Failure['data']) => string) | undefined>>;
