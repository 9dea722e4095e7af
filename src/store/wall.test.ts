/** @jest-environment jsdom */
import { LEAST_PX, moveWall, restoreWall, toggleWhole, wallStore } from './wall';

beforeEach(() => {
  localStorage.clear();
  wallStore.setState({ taskPx: null, whole: false });
  Object.defineProperty(window, 'innerWidth', { value: 1280, writable: true });
});

test('the wall stays where both sides can be read, and where it was put', () => {
  moveWall(500.4);
  expect(wallStore.getState().taskPx).toBe(500);
  moveWall(10);
  expect(wallStore.getState().taskPx).toBe(LEAST_PX);
  moveWall(5000);
  expect(wallStore.getState().taskPx).toBe(900);
  wallStore.setState({ taskPx: null });
  restoreWall();
  expect(wallStore.getState().taskPx).toBe(900);
  moveWall(null);
  restoreWall();
  expect(wallStore.getState().taskPx).toBeNull();
});

test('nothing sensible kept is no place for it; the whole desk is given and taken back, and ends with a move', () => {
  for (const nonsense of ['', 'wide', '12', 'NaN']) {
    localStorage.setItem('jaunty-reed-wall', nonsense);
    restoreWall();
    expect(wallStore.getState().taskPx).toBeNull();
  }
  toggleWhole();
  expect(wallStore.getState().whole).toBe(true);
  toggleWhole();
  expect(wallStore.getState().whole).toBe(false);
  toggleWhole();
  moveWall(400);
  expect(wallStore.getState()).toEqual({ taskPx: 400, whole: false });
});
