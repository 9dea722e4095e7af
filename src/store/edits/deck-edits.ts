import type { Stage } from '@/core/design/document/schema';

import { DECK, deckTopology, type DeckStage } from '@/core/format/deck/deck-topology';
import { DesignContext } from '@/core/topology/kit/design-context';
import type { NetworkTopology } from '@/core/topology/kit/define-topology';

import { currentWayOf, forgetControls, ownStage, stageOf, type Edit } from './edits';

/** Edits of circuits that were brought as decks. */

/**
 * A circuit of one's own at the end of the path, from its deck; its parts are what the deck says until another value is
 * chosen.
 */
export const addDeck =
  (deck: DeckStage): Edit =>
  (draft) => {
    const made = deckTopology(deck);
    if (made.ok)
      currentWayOf(draft).stages.push({ ...ownStage(DECK, { kind: 'deck', ...deck }), parts: deckChoices(made.value) });
  };

/** Another deck in its place: choices of parts that are still there stay, unless the deck now says otherwise. */
export const changeDeck =
  (stageId: string, deck: DeckStage): Edit =>
  (draft) => {
    const stage = stageOf(draft, stageId);
    const made = deckTopology(deck);
    if (stage?.target.kind !== 'deck' || !made.ok) return;
    Object.assign(stage, { target: { kind: 'deck', ...deck }, parts: deckChoices(made.value) });
    forgetControls(draft);
  };

/** The values that a deck says, as choices of its parts. */
export function deckChoices(topology: NetworkTopology): Stage['parts'] {
  const values = topology.design(
    {},
    'normal',
    new DesignContext({ chooseFirst: 'capacitors', pinned: {}, pick: (_, wanted) => wanted }),
  );
  return values.ok
    ? Object.fromEntries(
        Object.entries(values.value).map(([name, value]) => [
          name,
          { use: { kind: 'single' as const, values: [value] } },
        ]),
      )
    : {};
}
