import { WAY_COUNTS } from '@/core/catalogue/lay-out-ways';
import { documentStore, edit } from '@/store/document';
import { currentWayOf } from '@/store/edits/edits';
import { showPanel } from '@/store/folds';
import { ACOUSTICS } from '@/store/questions/live';
import { askForNotch } from '@/store/questions/notch';
import { levelWays, setAllActive, setWays } from '@/store/edits/speaker-edits';
import { setView } from '@/store/view';
import type { DeskAction } from './desk-action';

const IN_WORDS = ['One way', 'Two ways', 'Three ways', 'Four ways'];

/** What a loudspeaker builder does by name, where a crossover lies on the desk. */
export const SPEAKER_ACTIONS: readonly DeskAction[] = [
  ...WAY_COUNTS.map((count): DeskAction => ({
    id: `ways-${count}`,
    name: `${IN_WORDS[count - 1]}, laid out`,
    words: 'crossover woofer midrange tweeter drivers number of ways',
    group: 'Design',
    run: () => edit(setWays({ count, subwoofer: false })),
  })),
  {
    id: 'ways-subwoofer',
    name: 'Two ways and a subwoofer, laid out',
    words: 'crossover bass sub',
    group: 'Design',
    run: () => edit(setWays({ count: 2, subwoofer: true })),
  },
  {
    id: 'ways-active',
    name: 'An amplifier for each way',
    words: 'active crossover biamp triamp line level',
    group: 'Design',
    run: () => edit(setAllActive(true)),
  },
  {
    id: 'ways-level',
    name: 'Level the ways',
    words: 'match levels sensitivity pad attenuate trim tweeter loud',
    group: 'Design',
    run: () => {
      const ways = ACOUSTICS.current().value?.ways ?? [];
      if (ways.length > 1) edit(levelWays(ways));
    },
  },
  {
    id: 'hump',
    name: 'Find a hump and its notches',
    words: 'peak breakup resonance trap notch cone',
    group: 'Design',
    run: () => {
      const { design } = documentStore.getState();
      setView({ task: 'values' });
      if (design) void askForNotch({ wayId: currentWayOf(design).id, on: 'driver' });
    },
  },
  {
    id: 'found',
    name: 'Enter what is in the cabinet',
    words: 'existing network found old crossover list of parts beat compare repair',
    group: 'Design',
    run: () => {
      showPanel('What is in the cabinet');
      setView({ task: 'brief' });
    },
  },
];
