import type { AcSolver } from '../../analysis/ac/solver';
import type { Design } from '../../design/document/schema';
import { snapWay, withUses, type WaySnaps } from '../../design/values/snap-way';
import { success, type Result } from '../../result';
import { badOption, oneOf, openDesign, withSeries } from './opened-design';

export interface ChooseGiven {
  readonly how: string;
  readonly resistors?: string;
  readonly capacitors?: string;
  /** From 1 on; absent: the whole path. */
  readonly stage?: number;
}

const MOST_PAIRS = 3;

/** What each way of choosing takes of what is found, and how many pairs it may make. */
const WAYS: Readonly<
  Record<
    'nearest' | 'together' | 'pairs',
    { readonly mostPairs: number; take(snaps: WaySnaps): WaySnaps['choices'][number] | undefined }
  >
> = {
  nearest: { mostPairs: 0, take: () => undefined },
  together: { mostPairs: 0, take: ({ choices }) => choices[0] },
  pairs: { mostPairs: MOST_PAIRS, take: ({ choices }) => choices.at(-1) },
};

/**
 * The parts of a variant's first way chosen, and the design with them. Fails as reading and design do, or with
 * `bad-option`.
 */
export function chooseVerb(
  text: string,
  variantName: string | undefined,
  { how, resistors, capacitors, stage }: ChooseGiven,
  solver: AcSolver,
): Result<{ claimedErrorDb: number; design: Design }> {
  const opened = openDesign(text, variantName);
  if (!opened.ok) return opened;
  const { variant } = opened.value;
  const wanted = oneOf('--how', how, Object.keys(WAYS) as (keyof typeof WAYS)[]);
  if (!wanted.ok) return wanted;
  const preferences = withSeries({ resistors, capacitors }, opened.value.design.preferences);
  if (!preferences.ok) return preferences;
  const design: Design = { ...opened.value.design, preferences: preferences.value };
  const [way] = variant.ways;
  if (stage !== undefined && !way.stages[stage - 1]) return badOption('--stage', stage, `1 to ${way.stages.length}`);
  const { mostPairs, take } = WAYS[wanted.value];
  const stageId = stage === undefined ? null : way.stages[stage - 1].id;
  const snaps = snapWay(way, design, variant.controls, { stageId, mostPairs }, solver);
  if (!snaps.ok) return snaps;
  const choice = take(snaps.value);
  const usesOf = (id: string) => choice?.stages.find((t) => t.stageId === id)?.snap.uses;
  const ways = [{ ...way, stages: way.stages.map((s) => withUses(s, usesOf(s.id))) }, ...variant.ways.slice(1)];
  return success({
    claimedErrorDb: choice?.errorDb ?? snaps.value.nearest.errorDb,
    design: { ...design, variants: design.variants.map((v) => (v.id === variant.id ? { ...v, ways } : v)) },
  });
}
