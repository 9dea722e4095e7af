import * as z from 'zod';

/** A sweep as it is asked for. */
export const sweepSchema = z.object({
  fromHz: z.number().positive(),
  toHz: z.number().positive(),
  seconds: z.number().positive(),
  rateHz: z.number().positive(),
  levelDbfs: z.number(),
});

/** So many tones one after the other in its place; null: a sweep. */
export const tonesSchema = z.int().min(2).max(400).nullable().default(null);
