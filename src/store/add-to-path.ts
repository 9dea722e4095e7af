import { CATALOGUE, type CatalogueEntry } from '@/core/catalogue/catalogue';
import type { FilterResponse } from '@/core/filter/section';
import { documentStore, edit } from '@/store/document';
import { addStage, currentWayOf, type Edit } from '@/store/edits/edits';
import { addPlan } from '@/store/edits/plan-edits';
import { addNetwork } from '@/store/edits/network-edits';
import { setView } from '@/store/view';

/** What a path can take in: plans, and every circuit that is not for a crossover's way. */
export const ADDABLE: readonly CatalogueEntry[] = CATALOGUE.filter(
  (entry) => entry.adds !== null && entry.group !== 'For a crossover’s way',
);

/** Where an added stage starts: at the last plan's cutoff. */
function middleHz(): number {
  const { design } = documentStore.getState();
  return (design ? currentWayOf(design).plans.at(-1)?.cutoffHz : undefined) ?? 1000;
}

/** Hz: a plan added to keep rumble or hiss out begins where these usually lie, others at what there is. */
const PLAN_HZ: Readonly<Record<string, number>> = { highpass: 40, lowpass: 12e3 };

/** Adds something at the end and takes it in hand. */
export function takeIn(change: Edit): void {
  edit(change);
  const { design } = documentStore.getState();
  if (design)
    setView({ selectedStage: currentWayOf(design).stages.at(-1)?.id ?? null, selectedPart: null, task: 'circuit' });
}

/** Adds an entry of the catalogue at the end of the way in hand. */
export function addFromCatalogue({ adds }: CatalogueEntry, response?: FilterResponse): void {
  if (!adds) return;
  if (adds.kind === 'plan') return edit(addPlan(adds.response, PLAN_HZ[adds.response] ?? middleHz()));
  const { topology } = adds;
  takeIn(
    topology.role === 'section'
      ? addStage(response ?? topology.responses[0], middleHz(), topology.id)
      : addNetwork(topology.id),
  );
}
