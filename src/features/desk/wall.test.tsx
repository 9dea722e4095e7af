import { act, fireEvent, render, screen } from '@testing-library/react';
import { moveWall, wallStore, widestPx } from '@/store/wall';
import { Wall } from './wall';

/** The desk about the wall: the task beside it is as wide as it is put. */
function desk() {
  Object.defineProperty(window, 'innerWidth', { value: 1280, writable: true });
  const seen: (() => void)[] = [];
  globalThis.ResizeObserver = class {
    constructor(told: ResizeObserverCallback) {
      seen.push(() => told([], this));
    }
    observe(): void {}
    unobserve(): void {}
    disconnect(): void {}
  };
  render(
    <div>
      <Wall />
      <section data-testid="task" />
    </div>,
  );
  const task = screen.getByTestId('task');
  task.getBoundingClientRect = () => {
    const width = wallStore.getState().taskPx.brief ?? 420;
    return { width, right: 1270, left: 1270 - width } as DOMRect;
  };
  act(() => seen.forEach((tell) => tell()));
  const wall = screen.getByRole('separator');
  const key = (name: string, shiftKey = false) =>
    act(() => {
      fireEvent.keyDown(wall, { key: name, shiftKey });
      seen.forEach((tell) => tell());
    });
  return { wall, key };
}

beforeEach(() => {
  localStorage.clear();
  wallStore.setState({ taskPx: {}, whole: false });
});

test('it says where it stands, how far it may go, and that it has its natural share', () => {
  const { wall } = desk();
  expect(wall).toHaveAttribute('aria-valuenow', '420');
  expect(wall).toHaveAttribute('aria-valuemax', String(widestPx()));
  expect(wall).toHaveAttribute('aria-valuetext', 'task 420 pixels wide, its natural share');
});

test('arrow keys move it, with shift by more; Home gives the natural share back; Enter does nothing', () => {
  const { wall, key } = desk();
  key('ArrowLeft');
  expect(wallStore.getState().taskPx.brief).toBe(444);
  expect(wall).toHaveAttribute('aria-valuetext', 'task 444 pixels wide');
  key('ArrowLeft');
  expect(wallStore.getState().taskPx.brief).toBe(468);
  key('ArrowRight', true);
  expect(wallStore.getState().taskPx.brief).toBe(372);
  key('Enter');
  expect(wallStore.getState()).toMatchObject({ taskPx: { brief: 372 }, whole: false });
  key('Home');
  expect(wallStore.getState().taskPx.brief).toBeUndefined();
});

test('dragged, it follows the pointer; a double click gives the natural share back', () => {
  const { wall } = desk();
  // A pointer event with its place: jsdom's own has none.
  const move = () => act(() => void fireEvent(wall, new MouseEvent('pointermove', { clientX: 700, bubbles: true })));
  wall.hasPointerCapture = () => false;
  move();
  expect(wallStore.getState().taskPx.brief).toBeUndefined();
  wall.hasPointerCapture = () => true;
  move();
  // From the pointer to the task's right edge, less half the wall's own width.
  expect(wallStore.getState().taskPx.brief).toBe(1270 - 700 - 6);
  act(() => moveWall(500));
  fireEvent.doubleClick(wall);
  expect(wallStore.getState().taskPx.brief).toBeUndefined();
});
