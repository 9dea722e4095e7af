import { copyVariant } from '@/core/design/making/copy-variant';
import type { Stage, Variant } from '@/core/design/document/schema';
import { DECK, deckTopology } from '@/core/format/deck/deck-topology';
import type { ListedNetwork } from '@/core/format/part-list';
import { must } from '@/core/result';
import { deckChoices } from './deck-edits';
import { currentVariantOf, ownStage, type Edit } from './edits';
import { newId } from '../new-id';
import { nextVariantName } from './record-edits';

/** What stands before each way's driver in the cabinet, by way; null: nothing. */
export type FoundNetworks = ReadonlyMap<string, ListedNetwork | null>;

/**
 * Keeps what was found in a cabinet as a variant of its own, on the same drivers: the one to beat. What is on the desk
 * stays there.
 */
export const keepFound =
  (networks: FoundNetworks, id: string): Edit =>
  (draft) => {
    const current = JSON.parse(JSON.stringify(currentVariantOf(draft))) as Variant;
    const ways = current.ways.map((way) => {
      const listed = networks.get(way.id);
      // What the sound is to do stays with the plans, so that both are held against the same.
      // It stands between one amplifier and its drivers, however the ways on the desk are fed.
      const load = way.load.kind === 'driver' ? { ...way.load, amplifier: null } : way.load;
      return { ...way, load, from: { kind: 'source' as const }, stages: listed ? [stageOf(listed)] : [] };
    });
    const { couplings: _, batches: __, ...rest } = current;
    const found = copyVariant({ ...rest, ways, controls: [] }, id, nextVariantName(draft), 'found', newId);
    draft.variants.push(JSON.parse(JSON.stringify(found)) as Variant);
  };

const stageOf = ({ deck }: ListedNetwork): Stage => ({
  ...ownStage(DECK, { kind: 'deck', ...deck }),
  parts: deckChoices(must(deckTopology(deck))),
});
