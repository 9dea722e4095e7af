import * as z from 'zod';
import type { AcSolver } from '../analysis/ac/solver';
import type { Design } from '../design/document/schema';
import type { Result } from '../result';
import type { JobContext } from './job-context';

/** What every job may use: the solver with the elimination plans it has kept, and what the host lends. */
export interface JobTools {
  readonly solver: AcSolver;
  readonly context: JobContext;
}

/** One question that can be asked of the core: how it is asked, and how it is answered. */
export interface Job<Asked extends { readonly kind: string }, Answer> {
  readonly kind: Asked['kind'];
  readonly request: z.ZodType<Asked>;
  readonly run: (request: Asked, tools: JobTools) => Result<Answer> | Promise<Result<Answer>>;
}

/** The schema of a request: its kind and what is asked. */
export const requestOf = <K extends string, Shape extends z.ZodRawShape>(kind: K, shape: Shape) =>
  z.object({ kind: z.literal(kind), ...shape });

/** A job is its request's schema and what answers it; its kind is the request's. */
export function defineJob<K extends string, Asked extends { readonly kind: K }, Answer>(
  request: z.ZodType<Asked>,
  run: Job<Asked, Answer>['run'],
): Job<Asked, Answer> {
  const { shape } = request as unknown as z.ZodObject<{ kind: z.ZodLiteral<K> }>;
  return { kind: shape.kind.value as Asked['kind'], request, run };
}

/**
 * A document that was read at one of the program’s doors (form, file, database): it is not read again at each question.
 */
const designRead = z.custom<Design>((value) => typeof value === 'object' && value !== null && 'variants' in value);

/** What is asked of one variant of a design. */
export const ofVariant = { design: designRead, variantId: z.string() };

/** Frequencies spaced evenly in the logarithm, ends included. */
export const gridSchema = z
  .object({
    fromHz: z.number().min(1e-6).max(1e12),
    toHz: z.number().min(1e-6).max(1e12),
    points: z.int().min(2).max(1_000_000),
  })
  .refine(({ fromHz, toHz }) => fromHz <= toHz, { error: 'begins above its end', path: ['fromHz'] });
export type Grid = z.infer<typeof gridSchema>;

/** Frequencies, Hz, or samples, as they travel. */
export const float64 = z.custom<Float64Array>((value) => value instanceof Float64Array);
/** As many numbers as a curve that is asked about may have. */
export const column = z.array(z.number()).max(250_000);
export const float32 = z.custom<Float32Array>((value) => value instanceof Float32Array);
