import { formatQuantity } from '@/core/units/quantity';

/** Figures of shelves, as their panels show them. */
export const hz = (v: number) => formatQuantity(v, 'frequency', { digits: 3 });
export const db = (v: number) => formatQuantity(v, 'decibel', { digits: 3 });
