import { act, fireEvent, render, screen, within } from '@testing-library/react';
import { CATALOGUE, CATALOGUE_GROUPS } from '@/core/catalogue/catalogue';
import { Gallery } from './gallery';

const find = () => screen.getByRole('textbox', { name: 'Find a circuit' });
const type = (text: string) => act(() => fireEvent.change(find(), { target: { value: text } }));

test('everything stands under its heading, drawn, and the cursor waits in the field', () => {
  render(<Gallery entries={CATALOGUE} onChoose={() => {}} />);
  expect(find()).toHaveFocus();
  for (const group of CATALOGUE_GROUPS) expect(screen.getByRole('heading', { name: group })).toBeInTheDocument();
  const cards = screen.getAllByTestId('gallery-card');
  expect(cards).toHaveLength(CATALOGUE.length);
  // No circuit is left without a picture: each has lines, and none lettering.
  for (const card of cards) {
    expect(card.querySelectorAll('svg path').length).toBeGreaterThan(0);
    expect(card.querySelectorAll('svg text')).toHaveLength(0);
  }
});

test('a term finds, Enter takes the first, a response is chosen by its own button', () => {
  const chosen: [string, string | undefined][] = [];
  render(<Gallery entries={CATALOGUE} onChoose={(entry, response) => chosen.push([entry.id, response])} />);
  type('mains hum');
  expect(screen.getByRole('status')).toHaveTextContent(/^\d found$/);
  expect(screen.queryByRole('heading')).toBeNull();
  fireEvent.keyDown(find(), { key: 'Enter' });
  type('sallen-key, unity');
  fireEvent.click(screen.getByRole('button', { name: 'Sallen-Key, unity gain: high-pass' }));
  fireEvent.click(screen.getByRole('button', { name: 'Sallen-Key, unity gain' }));
  expect(chosen).toEqual([
    [expect.stringMatching(/twin-t/), undefined],
    ['sallen-key-unity-gain', 'highpass'],
    ['sallen-key-unity-gain', undefined],
  ]);
});

test('what nothing answers to is said with what to try, and Enter does nothing', () => {
  const chosen: string[] = [];
  render(<Gallery entries={CATALOGUE} onChoose={(entry) => chosen.push(entry.id)} />);
  type('zzz');
  expect(screen.getByTestId('gallery-none')).toHaveTextContent('Nothing here answers to “zzz”');
  fireEvent.keyDown(find(), { key: 'Enter' });
  type('   ');
  fireEvent.keyDown(find(), { key: 'Enter' });
  expect(chosen).toEqual([]);
});

test('a card says why one would choose it, to those who hear it too', () => {
  render(<Gallery entries={CATALOGUE} onChoose={() => {}} />);
  const wah = screen.getByRole('button', { name: 'Wah with a coil, two transistors' });
  const entry = CATALOGUE.find((e) => e.id === 'wah-inductor');
  expect(wah).toHaveAccessibleDescription(entry?.says);
  expect(within(wah).getByText(entry?.says ?? '')).toBeInTheDocument();
});
