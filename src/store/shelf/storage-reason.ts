import { reasonOf } from '@/core/result';

/** How browsers and the database between them call a store that is full. */
const FULL = /quota|full disk|no space/i;

const namesOf = (thrown: unknown): string[] =>
  thrown instanceof Error || (typeof thrown === 'object' && thrown !== null && 'name' in thrown)
    ? [(thrown as Error).name, ...('inner' in thrown ? namesOf(thrown.inner) : [])]
    : [];

/** Whether a write was refused for want of room. */
export const isFull = (thrown: unknown): boolean =>
  namesOf(thrown).some((name) => FULL.test(name)) || FULL.test(reasonOf(thrown));

/** Why the browser did not keep something, as a sentence without the names that programs give it. */
export const storageReason = (thrown: unknown): string =>
  isFull(thrown)
    ? 'The browser has no more room.'
    : `${reasonOf(thrown)
        .replace(/^\w*(Error|Exception):?\s*/, '')
        .replace(/\.?$/, '.')}`.replace(/^\.$/, 'The browser did not say why.');
