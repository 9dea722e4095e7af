import { foldStore } from '@/store/folds';
import { setView, viewStore } from '@/store/view';
import { newCrossover } from '@/core/catalogue/new-crossover';
import { countingIds } from '@/core/design/create';
import type { Design } from '@/core/design/schema';
import { documentStore, openDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { CROSSOVER_ENTRIES, DESK_ACTIONS, DESK_ENTRIES } from './actions';

const run = (id: string) => DESK_ACTIONS.find((a) => a.id === id)?.run();

test('first power is found by name: it turns to Measure with its list open', () => {
  foldStore.setState({ open: {} });
  setView({ task: 'brief' });
  run('first-power');
  expect(viewStore.getState().task).toBe('measure');
  expect(foldStore.getState().open['First power']).toBe(true);
});

test('every action has a name and a key of its own', () => {
  const keys = DESK_ACTIONS.flatMap((a) => (a.keys ? [a.keys] : []));
  expect(new Set(keys).size).toBe(keys.length);
  expect(new Set(DESK_ACTIONS.map((a) => a.id)).size).toBe(DESK_ACTIONS.length);
});

describe('of a crossover', () => {
  const own = CROSSOVER_ENTRIES.filter((e) => !DESK_ENTRIES.includes(e));
  const does = (id: string) => own.find((e) => e.id === id)?.run?.();
  const variant = () => currentVariantOf(documentStore.getState().design as Design);
  beforeEach(() => openDesign(newCrossover({ count: 2, subwoofer: false }, countingIds('a'))));

  test('ways are laid out and fed by name, and nothing of it is offered elsewhere', () => {
    expect(new Set(CROSSOVER_ENTRIES.map((e) => e.id)).size).toBe(CROSSOVER_ENTRIES.length);
    does('ways-3');
    expect(variant().ways.map((w) => w.name)).toEqual(['Bass', 'Midrange', 'Tweeter']);
    does('ways-active');
    expect(variant().ways.every((w) => w.load.kind === 'driver' && w.load.amplifier !== null)).toBe(true);
    does('ways-subwoofer');
    expect(variant().ways.map((w) => w.name)[0]).toBe('Subwoofer');
    does('ways-1');
    expect(variant().ways).toHaveLength(1);
  });

  test('what is in the cabinet opens where it is entered', () => {
    foldStore.setState({ open: {} });
    setView({ task: 'log' });
    does('found');
    expect(viewStore.getState().task).toBe('brief');
    expect(foldStore.getState().open['What is in the cabinet']).toBe(true);
  });

  test('before anything is known of the drivers, levelling leaves all as it is', () => {
    const before = documentStore.getState().design;
    does('ways-level');
    expect(documentStore.getState().design).toBe(before);
  });
});
