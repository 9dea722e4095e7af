import { act, fireEvent, render, screen } from '@testing-library/react';
import { showPanel } from '@/store/folds';
import { Fold } from './fold';

const shown = jest.fn();
beforeEach(() => {
  jest.useFakeTimers();
  shown.mockClear();
  Element.prototype.scrollIntoView = shown;
  render(
    <Fold name="Trim" title="Trim">
      trimmers
    </Fold>,
  );
  act(() => showPanel('Trim'));
});
afterEach(() => void jest.useRealTimers());
const callsIn = (ms: number): number => {
  const before = shown.mock.calls.length;
  act(() => void jest.advanceTimersByTime(ms));
  return shown.mock.calls.length - before;
};

test('a panel that is asked for is opened, has the focus, and stays in sight while others come in above it', () => {
  expect(screen.getByText('trimmers')).toBeVisible();
  expect(screen.getByRole('button', { name: 'Trim' })).toHaveFocus();
  expect(shown).toHaveBeenCalledTimes(1);
  expect(callsIn(2000)).toBeGreaterThan(5);
  callsIn(2000);
  expect(callsIn(5000)).toBe(0);
});

test.each(['wheel', 'keyDown', 'pointerDown'] as const)('a hand that moves is let go: %s', (hand) => {
  callsIn(500);
  fireEvent[hand](document.body);
  expect(callsIn(5000)).toBe(0);
});
