/** @jest-environment jsdom */
import { resetView, setView } from './view';
import { LEAST_PX, moveWall, restoreWall, toggleWhole, wallStore } from './wall';

beforeEach(() => {
  localStorage.clear();
  wallStore.setState({ taskPx: {}, whole: false });
  resetView();
  Object.defineProperty(window, 'innerWidth', { value: 1280, writable: true });
});

test('the wall stays where both sides can be read, and where it was put', () => {
  moveWall(500.4);
  expect(wallStore.getState().taskPx.brief).toBe(500);
  moveWall(10);
  expect(wallStore.getState().taskPx.brief).toBe(LEAST_PX);
  moveWall(5000);
  expect(wallStore.getState().taskPx.brief).toBe(900);
  wallStore.setState({ taskPx: {} });
  restoreWall();
  expect(wallStore.getState().taskPx.brief).toBe(900);
  moveWall(null);
  restoreWall();
  expect(wallStore.getState().taskPx.brief).toBeUndefined();
});

test('nothing sensible kept is no place for it; the whole desk is given and taken back, and ends with a move', () => {
  for (const nonsense of ['', 'wide', '12', 'NaN', '[]', '{"brief":12,"kitchen":500}', '{"brief":"500"}']) {
    localStorage.setItem('jaunty-reed-wall', nonsense);
    restoreWall();
    expect(wallStore.getState().taskPx.brief).toBeUndefined();
  }
  toggleWhole();
  expect(wallStore.getState().whole).toBe(true);
  toggleWhole();
  expect(wallStore.getState().whole).toBe(false);
  toggleWhole();
  moveWall(400);
  expect(wallStore.getState()).toEqual({ taskPx: { brief: 400 }, whole: false });
});

test('every task has a place of its own for the wall', () => {
  moveWall(500);
  setView({ task: 'circuit' });
  expect(wallStore.getState().taskPx.circuit).toBeUndefined();
  moveWall(700);
  expect(wallStore.getState().taskPx).toEqual({ brief: 500, circuit: 700 });
  wallStore.setState({ taskPx: {} });
  restoreWall();
  expect(wallStore.getState().taskPx).toEqual({ brief: 500, circuit: 700 });
  moveWall(null);
  expect(wallStore.getState().taskPx).toEqual({ brief: 500 });
});
