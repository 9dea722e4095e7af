import { act, fireEvent, render, screen } from '@testing-library/react';
import { foldStore } from '@/store/folds';
import { Fold, LongList } from './fold';

const panel = (
  <Fold name="Spares" title="Spare parts" outcome="12 of them">
    <p>all twelve</p>
  </Fold>
);
const button = () => screen.getByRole('button', { name: /Spare parts/ });

beforeEach(() => {
  localStorage.clear();
  foldStore.setState({ open: {} });
});

test('folded it is a line with its outcome, and what is in it is not there', () => {
  render(panel);
  expect(button()).toHaveAttribute('aria-expanded', 'false');
  expect(screen.getByText('12 of them')).toBeInTheDocument();
  expect(screen.queryByText('all twelve')).toBeNull();
  act(() => void fireEvent.click(button()));
  expect(button()).toHaveAttribute('aria-expanded', 'true');
  expect(screen.getByText('all twelve')).toBeInTheDocument();
  expect(screen.queryByText('12 of them')).toBeNull();
});

test('it stays as it was left, at the next visit too', () => {
  const { unmount } = render(panel);
  act(() => void fireEvent.click(button()));
  unmount();
  foldStore.setState({ open: {} });
  render(panel);
  expect(screen.getByText('all twelve')).toBeInTheDocument();
});

test('what was written by something else is no fold', () => {
  localStorage.setItem('jaunty-reed-folds', '{"Spares":"yes"}');
  render(panel);
  expect(button()).toHaveAttribute('aria-expanded', 'false');
});

test('a long list is a region that keys can scroll', () => {
  render(
    <LongList label="Parts">
      <p>R1</p>
    </LongList>,
  );
  expect(screen.getByRole('region', { name: 'Parts' })).toHaveAttribute('tabindex', '0');
});
