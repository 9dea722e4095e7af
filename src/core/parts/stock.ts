import * as z from 'zod';
import type { PartsLine } from './parts-list';

export const STOCK_KINDS = ['resistor', 'capacitor', 'inductor', 'potentiometer', 'op-amp'] as const;

/** Parts of one sort in the drawer. Value in ohm, farad or henry; an op-amp goes by its name. */
export const stockItemSchema = z.object({
  id: z.string().min(1).max(80),
  kind: z.enum(STOCK_KINDS),
  value: z.number().positive().nullable(),
  name: z.string().max(80),
  tolerancePct: z.number().positive().max(50).nullable(),
  grade: z.string().max(60),
  count: z.int().min(0).max(1e6),
  price: z.number().min(0).max(1e6).nullable().describe('of one, in whatever money the maker counts in'),
});
export type StockItem = z.infer<typeof stockItemSchema>;

/** A line of a shopping list against the drawer. */
export interface Covered {
  readonly have: number;
  readonly buy: number;
  /** Price of one, where the drawer knows it. */
  readonly price: number | null;
}

/** Values are the same when they would be marked the same. */
const same = (a: number | null, b: number | null): boolean => a !== null && b !== null && Math.abs(a / b - 1) < 1e-4;

/**
 * What there is of every line, and what is to be bought: parts at least as close as the line asks for, each counted
 * once.
 */
export function coverList(lines: readonly PartsLine[], stock: readonly StockItem[]): Covered[] {
  const left = new Map(stock.map((item) => [item.id, item.count]));
  return lines.map((line) => {
    const fitting = stock.filter(
      (item) =>
        item.kind === line.kind &&
        (line.kind === 'op-amp'
          ? item.name === line.name
          : same(item.value, line.value) &&
            (item.tolerancePct === null || line.tolerancePct === null || item.tolerancePct <= line.tolerancePct)),
    );
    let wanted = line.total;
    for (const item of fitting) {
      const taken = Math.min(wanted, left.get(item.id) ?? 0);
      left.set(item.id, (left.get(item.id) ?? 0) - taken);
      wanted -= taken;
    }
    return {
      have: line.total - wanted,
      buy: wanted,
      price: fitting.map((item) => item.price).find((p) => p !== null) ?? null,
    };
  });
}

/** Values of a kind that there are in the drawer, least first. */
export const valuesInStock = (stock: readonly StockItem[], kind: StockItem['kind']): number[] =>
  [
    ...new Set(
      stock.flatMap((item) => (item.kind === kind && item.count > 0 && item.value !== null ? [item.value] : [])),
    ),
  ].sort((a, b) => a - b);

/** The made-up workshop's drawer. */
export function demoStock(makeId: () => string): StockItem[] {
  const item = (
    kind: StockItem['kind'],
    value: number | null,
    count: number,
    price: number,
    tolerancePct: number | null,
    grade: string,
    name = '',
  ): StockItem => ({ id: makeId(), kind, value, name, tolerancePct, grade, count, price });
  return [
    ...[1e3, 2.2e3, 4.7e3, 10e3, 22e3, 47e3, 100e3].map((ohm, i) =>
      item('resistor', ohm, 40 - 4 * i, 0.04, 1, 'metal film'),
    ),
    ...[1e-9, 2.2e-9, 4.7e-9, 10e-9, 22e-9, 47e-9, 100e-9].map((farad, i) =>
      item('capacitor', farad, 24 - 2 * i, 0.22, 5, 'film'),
    ),
    item('capacitor', 1e-6, 6, 0.9, 5, 'film'),
    item('op-amp', null, 10, 0.8, null, 'dual', 'JFET-input audio, 3 MHz'),
  ];
}
