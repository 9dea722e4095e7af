import { failure, success, type Result, reasonOf } from '../../result';
import { DESIGN_FORMAT, DESIGN_VERSION, designSchema, type Design } from './schema';

type Loose = Record<string, unknown>;
const objects = (value: unknown): Loose[] =>
  Array.isArray(value) ? value.filter((v): v is Loose => typeof v === 'object' && v !== null) : [];

/** One step per version: from the document as that version wrote it to the next. Version 1 is the first. */
const STEPS: Record<number, (document: Loose) => Loose> = {
  // Version 2: nuisances in the brief, tapers on controls, circuits with parameters of their own.
  1: (document) => ({
    ...document,
    version: 2,
    brief:
      typeof document.brief === 'object' && document.brief !== null
        ? { ...document.brief, nuisances: [] }
        : document.brief,
    variants: objects(document.variants).map((variant) => ({
      ...variant,
      controls: objects(variant.controls).map((control) => ({ ...control, taper: 'linear' })),
    })),
  }),
  // Version 3: bands, nulls and all-passes in plans.
  2: (document) => ({
    ...document,
    version: 3,
    variants: objects(document.variants).map((variant) => ({
      ...variant,
      ways: objects(variant.ways).map((way) => ({
        ...way,
        plans: objects(way.plans).map((plan) => ({
          ...plan,
          bandwidthHz: Number(plan.cutoffHz) / 2,
          attenuationDb: 50,
          topologies:
            typeof plan.topologies === 'object' && plan.topologies !== null
              ? { ...plan.topologies, notch: 'bainter' }
              : plan.topologies,
        })),
      })),
    })),
  }),
  // Version 4: parts that track, op-amps of one's own, decks as stages, drivers and what crossovers ask for; all of
  // them may be absent.
  3: (document) => ({ ...document, version: 4 }),
  // Version 5: a photocell of one’s own, which may be absent.
  4: (document) => ({ ...document, version: 5 }),
  // Version 6: the optocoupler gate's positions are those of one switched circuit.
  5: (document) => ({
    ...document,
    version: 6,
    variants: objects(document.variants).map((variant) => ({
      ...variant,
      ways: objects(variant.ways).map((way) => ({
        ...way,
        stages: objects(way.stages).map((stage) =>
          stage.topology === 'optocoupler-gate' && stage.mode === 'both at once'
            ? { ...stage, mode: 'compensated' }
            : stage,
        ),
      })),
    })),
  }),
  // Version 7: how far a pass band may rise, which may be absent.
  6: (document) => ({ ...document, version: 7 }),
  // Version 8: whether a part's value was typed or chosen. Of older designs it is not known: all may be chosen anew.
  7: (document) => ({ ...document, version: 8 }),
};

export type ReadFailure = 'not-json' | 'not-a-design' | 'newer-version' | 'broken-design';

/**
 * Reads a design from a parsed JSON value, bringing older versions up to date. Fails with `not-a-design`,
 * `newer-version` (`version`, `known`) or `broken-design` (`issues`: "place: what is wrong" lines, at most eight).
 */
export function readDesign(document: unknown): Result<Design, ReadFailure> {
  if (
    typeof document !== 'object' ||
    document === null ||
    (document as Record<string, unknown>).format !== DESIGN_FORMAT
  )
    return failure('not-a-design');
  let current = document as Record<string, unknown>;
  const { version } = current;
  if (typeof version !== 'number') return failure('broken-design', { issues: ['version: a number is wanted'] });
  if (version > DESIGN_VERSION) return failure('newer-version', { version, known: DESIGN_VERSION });
  for (let v = version; v < DESIGN_VERSION; v++) {
    const step = STEPS[v];
    if (!step)
      return failure('broken-design', {
        issues: [`version: ${String(current.version)} is not a version there has been`],
      });
    try {
      current = step(current);
    } catch (error) {
      return failure('broken-design', { issues: [`it does not read as version ${v}: ${reasonOf(error)}`] });
    }
  }
  const parsed = designSchema.safeParse(current);
  if (parsed.success) return success(parsed.data);
  return failure('broken-design', {
    issues: parsed.error.issues.slice(0, 8).map((issue) => `${issue.path.join('.') || 'design'}: ${issue.message}`),
  });
}

/** The same from text. `not-json` carries the parser's `message`. */
export function readDesignText(text: string): Result<Design, ReadFailure> {
  try {
    return readDesign(JSON.parse(text));
  } catch (error) {
    return failure('not-json', { message: reasonOf(error) });
  }
}

/** A design as a file: indented, in a stable order of keys. */
export const writeDesign = (design: Design): string => `${JSON.stringify(design, null, 2)}\n`;
