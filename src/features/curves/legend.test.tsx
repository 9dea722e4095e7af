import { act, fireEvent, render, screen } from '@testing-library/react';
import { demoDesigns } from '@/core/design/demo/demo';
import { deskOf } from '@/core/testing/desk-of';
import { openDesign } from '@/store/document';
import { keptStore } from '@/store/curves/kept-curves';
import { DESK } from '@/store/questions/live';
import { resetView, setView, viewStore } from '@/store/view';
import { Legend } from './legend';

const [rumble, hiss, band] = demoDesigns();
jest.mock('@/store/new-id', () => {
  let n = 0;
  return { newId: () => `id-${n++}` };
});
const entry = (name: string) => screen.getByRole('button', { name });
const click = (name: string) => act(() => void fireEvent.click(entry(name)));

beforeEach(() => {
  localStorage.clear();
  keptStore.setState({ curves: [] });
  openDesign(rumble);
  resetView();
  DESK.place(deskOf(rumble));
});

test('a trace is switched off and on by its name, and says whether it is on', () => {
  render(<Legend />);
  expect(entry('ideal')).toHaveAttribute('aria-pressed', 'true');
  click('ideal');
  expect(viewStore.getState().shown.ideal).toBe(false);
  expect(entry('ideal')).toHaveAttribute('aria-pressed', 'false');
  click('isolated');
  expect(viewStore.getState().shown.isolated).toBe(true);
});

test('only what there is can be switched: a ghost with a second variant, measurements once there are some', () => {
  render(<Legend />);
  for (const name of [/ghost/, /^measured/, /^all bands/, /^rotation/])
    expect(screen.queryByRole('button', { name })).toBeNull();
  expect(entry('brief')).toBeInTheDocument();
  act(() => {
    openDesign(band);
    setView({ ghostVariant: band.variants[1].id });
    DESK.place(deskOf(band, { ghostVariantId: band.variants[1].id }));
  });
  expect(entry('B ghost')).toBeInTheDocument();
});

test('a curve is kept by a click, named, hidden and forgotten by itself, and stays for another design', () => {
  render(<Legend />);
  click('+ overlay');
  const name = `${rumble.title}, A`;
  expect(entry(name)).toHaveAttribute('aria-pressed', 'true');
  act(() => openDesign(hiss));
  click(name);
  expect(entry(name)).toHaveAttribute('aria-pressed', 'false');
  expect(keptStore.getState().curves).toMatchObject([{ name, hidden: true }]);
  click(`Forget ${name}`);
  expect(screen.queryByRole('button', { name })).toBeNull();
});
