import { formatQuantity, formatSigned } from '@/core/units/quantity';

/** Figures as they stand in sentences. */
export const hz = (v: unknown) => formatQuantity(Number(v), 'frequency');
export const ohm = (v: unknown) => formatQuantity(Number(v), 'resistance', { digits: 3 });
export const farad = (v: unknown) => formatQuantity(Number(v), 'capacitance', { digits: 3 });
export const db = (v: unknown, decimals = 2) => formatSigned(Number(v), 'decibel', decimals);
export const volts = (v: unknown) => formatQuantity(Number(v), 'voltage', { digits: 3 });
export const degrees = (v: unknown) => `${Math.round(Number(v)).toString().replace('-', '−')}°`;
export const plain = (v: unknown, digits = 3) => formatQuantity(Number(v), 'ratio', { digits });
export const slew = (v: unknown) => `${plain(Number(v) / 1e6)}\u202fV/µs`;
