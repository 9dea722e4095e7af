import type { MakeId } from '@/core/design/making/create';

/** An id that nothing else has. */
export const newId: MakeId = () => crypto.randomUUID().slice(0, 13);
