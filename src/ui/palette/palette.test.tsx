import 'fake-indexeddb/auto';
import { act, fireEvent, render, screen } from '@testing-library/react';
import { App } from 'antd';
import { Palette } from './palette';
import type { PaletteEntry } from './entries';

const push = jest.fn();
jest.mock('next/navigation', () => ({ useRouter: () => ({ push }) }));

const ran: string[] = [];
const OWN: PaletteEntry[] = ['Undo', 'Redo', 'Turn to the next variant'].map((name) => ({
  id: name,
  group: 'Design',
  name,
  words: name === 'Undo' ? ['take back'] : [],
  keys: name === 'Undo' ? 'mod+z' : undefined,
  run: () => void ran.push(name),
}));

function open(onClose = () => {}) {
  render(
    <App>
      <Palette open own={OWN} onClose={onClose} />
    </App>,
  );
  return screen.getByRole('combobox', { name: 'Find anything' });
}
const type = (field: HTMLElement, text: string) => act(() => fireEvent.change(field, { target: { value: text } }));
const chosen = () => screen.getAllByRole('option').find((o) => o.getAttribute('aria-selected') === 'true');

beforeEach(() => {
  ran.length = 0;
  push.mockClear();
});

test('what the page can do, pages, calculators and circuits are all found, by other names too', () => {
  const field = open();
  for (const [text, name] of [
    ['take back', /Undo/],
    ['inventory', /Go to Stock/],
    ['parallel', /Calculate/],
    ['zobel', /Begin Impedance correction/],
  ] as const) {
    type(field, text);
    expect(screen.getAllByRole('option', { name }).length).toBeGreaterThan(0);
  }
  type(field, 'take back');
  expect(screen.getByRole('option', { name: /Undo/ })).toHaveTextContent('Ctrl + Z');
});

test('arrows go round, Enter does the one that is marked and closes', () => {
  const onClose = jest.fn();
  const field = open(onClose);
  type(field, 'do');
  const first = chosen()?.textContent;
  fireEvent.keyDown(field, { key: 'ArrowDown' });
  expect(chosen()?.textContent).not.toBe(first);
  expect(field).toHaveAttribute('aria-activedescendant', chosen()?.id);
  fireEvent.keyDown(field, { key: 'ArrowUp' });
  fireEvent.keyDown(field, { key: 'ArrowUp' });
  expect(chosen()).toBe(screen.getAllByRole('option').at(-1));
  type(field, 'next variant');
  fireEvent.keyDown(field, { key: 'Enter' });
  expect(ran).toEqual(['Turn to the next variant']);
  expect(onClose).toHaveBeenCalledTimes(1);
});

test('a page is gone to; a calculator is worked in the palette itself', () => {
  const onClose = jest.fn();
  const field = open(onClose);
  type(field, 'go to drivers');
  fireEvent.keyDown(field, { key: 'Enter' });
  expect(push).toHaveBeenCalledWith('/drivers');
  type(field, 'calculator');
  fireEvent.keyDown(field, { key: 'Enter' });
  expect(screen.getByTestId('calculator')).toBeInTheDocument();
  expect(onClose).toHaveBeenCalledTimes(1);
});

test('nothing found is said, and Enter does nothing', () => {
  const onClose = jest.fn();
  const field = open(onClose);
  type(field, 'zzzz');
  expect(screen.getByRole('option')).toHaveTextContent('Nothing answers to that');
  fireEvent.keyDown(field, { key: 'Enter' });
  expect(ran).toEqual([]);
  expect(onClose).not.toHaveBeenCalled();
});
