import { create } from 'zustand';
import type { Failure } from '@/core/result';

interface Told {
  /** What was wanted and did not come about. */
  readonly title: string;
  readonly failure: Failure;
}
/** The last thing that was asked for by name, from a menu or a key, and failed: for the desk to tell. */
export const failureStore = create<{ readonly told: Told | null }>()(() => ({ told: null }));

export const tellFailure = (title: string, failure: Failure): void =>
  failureStore.setState({ told: { title, failure } });
