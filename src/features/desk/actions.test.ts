import { foldStore } from '@/store/folds';
import { setView, viewStore } from '@/store/view';
import { CATALOGUE } from '@/core/catalogue/catalogue';
import { newCrossover } from '@/core/catalogue/new-crossover';
import { countingIds } from '@/core/design/making/create';
import type { Design } from '@/core/design/document/schema';
import { documentStore, edit, openDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { DESK_ACTIONS, DESK_ENTRIES, entriesOf } from './actions';

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

const open = () => documentStore.getState().design as Design;
const variant = () => currentVariantOf(open());
/** What is offered only for the design that is open. */
const own = () => entriesOf(open()).filter((e) => !DESK_ENTRIES.includes(e));

test.each([
  ['walk', { task: 'circuit' }, 'Walk'],
  ['sequence', { task: 'listen', playedAs: 'sequence' }, null],
  ['keys', { task: 'listen', playedAs: 'keys' }, null],
] as const)('%s turns to where it is done', (id, at, fold) => {
  foldStore.setState({ open: {} });
  setView({ task: 'brief', playedAs: 'notes' });
  run(id);
  expect(viewStore.getState()).toMatchObject(at);
  if (fold) expect(foldStore.getState().open[fold]).toBe(true);
});

describe('of a voice', () => {
  const does = (id: string) =>
    own()
      .find((e) => e.id === id)
      ?.run?.();
  const chain = () => variant().ways[0].stages.map((s) => s.controlledBy?.circuit ?? null);
  beforeEach(() => openDesign(CATALOGUE.find((e) => e.id === 'transistor-ladder')!.start(countingIds('v'))));

  test('its chain is given and taken by name, in one step each, and Control lies open', () => {
    const [given] = chain();
    expect(given).not.toBeNull();
    does('chain-off');
    expect(chain()).toEqual([null]);
    const without = open();
    does('chain-off');
    expect(open()).toBe(without);
    setView({ task: 'brief', voiceView: 'level', selectedStage: null });
    does('chain');
    expect(chain()).toEqual([given]);
    expect(viewStore.getState()).toMatchObject({
      task: 'circuit',
      voiceView: 'control',
      selectedStage: variant().ways[0].stages[0].id,
    });
    const withIt = open();
    does('chain');
    expect(open()).toBe(withIt);
  });

  test.each([
    ['chain', 'What makes the control current'],
    ['trim-scale', 'Trim'],
    ['warmth', 'Warmth'],
    ['oscillation', 'The oscillation'],
    ['at-rest', 'At rest'],
  ])('%s asks for the panel that shows it', (id, panel) => {
    foldStore.setState({ open: {}, sought: null });
    does(id);
    expect(foldStore.getState()).toMatchObject({ open: { [panel]: true }, sought: { name: panel } });
  });

  test('what a chain is trimmed by wants a chain: it is given one', () => {
    const [given] = chain();
    does('chain-off');
    does('trim-scale');
    expect(chain()).toEqual([given]);
  });

  test('of two voices the one in hand is meant; a filter of op-amps is offered nothing of this', () => {
    edit((draft) => {
      const [way] = draft.variants[0].ways;
      way.stages.push({ ...way.stages[0], id: 'second' });
    });
    setView({ selectedStage: 'second' });
    does('at-rest');
    expect(viewStore.getState()).toMatchObject({ voiceView: 'rest', selectedStage: 'second' });
    openDesign(CATALOGUE.find((e) => e.id === 'sallen-key-unity-gain')!.start(countingIds('f')));
    expect(own()).toEqual([]);
  });
});

test('no name stands for two things, whatever lies on the desk', () => {
  for (const id of ['transistor-ladder', 'crossover-2']) {
    const ids = entriesOf(CATALOGUE.find((e) => e.id === id)!.start(countingIds('u'))).map((e) => e.id);
    expect(new Set(ids).size).toBe(ids.length);
    expect(ids.length).toBeGreaterThan(DESK_ENTRIES.length);
  }
});

describe('of a crossover', () => {
  const does = (id: string) =>
    own()
      .find((e) => e.id === id)
      ?.run?.();
  beforeEach(() => openDesign(newCrossover({ count: 2, subwoofer: false }, countingIds('a'))));

  test('ways are laid out and fed by name, and nothing of it is offered elsewhere', () => {
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
