import { foldStore } from '@/store/folds';
import { setView, viewStore } from '@/store/view';
import { DESK_ACTIONS } from './actions';

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
