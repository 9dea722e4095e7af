import { act, fireEvent, render, screen } from '@testing-library/react';
import { foldStore, showPanel } from '@/store/folds';
import { Fold, LongList } from './fold';
import { Panel } from './panel';

const panel = (
  <Fold name="Spares" title="Spare parts" outcome="12 of them">
    <p>all twelve</p>
  </Fold>
);
const button = () => screen.getByRole('button', { name: /Spare parts/ });

beforeEach(() => {
  localStorage.clear();
  foldStore.setState({ open: {}, sought: null });
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
  foldStore.setState({ open: {}, sought: null });
  render(panel);
  expect(screen.getByText('all twelve')).toBeInTheDocument();
});

test('what was written by something else is no fold', () => {
  localStorage.setItem('jaunty-reed-folds', '{"Spares":"yes"}');
  render(panel);
  expect(button()).toHaveAttribute('aria-expanded', 'false');
});

describe('asked for by its name', () => {
  const scrolled = jest.fn();
  beforeEach(() => {
    scrolled.mockClear();
    Element.prototype.scrollIntoView = scrolled;
  });
  afterEach(() => void jest.restoreAllMocks());

  test('it is opened, brought into sight and has the focus, whether it is there already or comes', () => {
    render(panel);
    act(() => showPanel('Spares'));
    expect(screen.getByText('all twelve')).toBeInTheDocument();
    expect(button()).toHaveFocus();
    expect(scrolled).toHaveBeenCalledTimes(1);
    act(() => showPanel('Shelf'));
    render(<Panel name="Shelf">boards</Panel>);
    expect(screen.getByRole('region', { name: 'Shelf' })).toHaveFocus();
    expect(scrolled).toHaveBeenCalledTimes(2);
  });

  test('once, and not any more when it comes long after', () => {
    act(() => showPanel('Spares'));
    const now = Date.now();
    jest.spyOn(Date, 'now').mockReturnValue(now + 9000);
    const { unmount } = render(panel);
    expect(scrolled).not.toHaveBeenCalled();
    unmount();
    jest.restoreAllMocks();
    render(panel);
    expect(scrolled).not.toHaveBeenCalled();
  });
});

test('a long list is a region that keys can scroll', () => {
  render(
    <LongList label="Parts">
      <p>R1</p>
    </LongList>,
  );
  expect(screen.getByRole('region', { name: 'Parts' })).toHaveAttribute('tabindex', '0');
});
