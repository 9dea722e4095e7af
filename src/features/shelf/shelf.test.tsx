import 'fake-indexeddb/auto';
import { act, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { App } from 'antd';
import { AcSolver } from '@/core/analysis/ac/solver';
import { demoDesigns } from '@/core/design/demo/demo';
import type { Design } from '@/core/design/document/schema';
import { runShelfCard } from '@/core/jobs/desk/shelf-card';
import { database } from '@/store/shelf/database';
import { deleteDesign, shelveDesign } from '@/store/shelf/shelf-rows';
import { Shelf } from './shelf';

const mockAsked: unknown[] = [];
const mockPush = jest.fn();
jest.mock('next/navigation', () => ({ useRouter: () => ({ push: mockPush }) }));
/** Cards are made here and now, by the very function the worker runs. */
jest.mock('@/workers/job-client', () => ({
  startJob: (request: { kind: string; design: unknown }) => {
    mockAsked.push(request.design);
    return { answer: Promise.resolve(runShelfCard(request as never, new AcSolver())), cancel: () => {} };
  },
}));

const [rumble, hiss, band] = demoDesigns();
const at = (minute: number) => new Date(Date.UTC(2030, 0, 1, 12, minute));
const open = async (...designs: Design[]) => {
  for (const [i, design] of designs.entries()) await shelveDesign(design, at(i));
  render(
    <App>
      <Shelf demo={false} />
    </App>,
  );
  await screen.findByRole('heading', { name: 'Shelf' });
};
const cards = () => screen.queryAllByTestId('shelf-card').map((card) => within(card).getByRole('link'));
const find = (text: string) =>
  act(() => fireEvent.change(screen.getByRole('textbox', { name: 'Find a design' }), { target: { value: text } }));

beforeEach(async () => {
  mockAsked.length = 0;
  mockPush.mockClear();
  await Promise.all(database.tables.map((table) => table.clear()));
});

test('an empty shelf offers a beginning: a design, a guided one, the workshop’s', async () => {
  await open();
  for (const name of ['New design', 'A guided first design, three minutes', 'Put the workshop’s designs here'])
    expect((await screen.findAllByRole('button', { name })).length).toBeGreaterThan(0);
  act(() => fireEvent.click(screen.getAllByRole('button', { name: 'New design' })[0]));
  expect(mockPush).toHaveBeenCalledWith('/new');
});

test('a card says what its design is; it is worked out once and kept with the revision', async () => {
  await open(rumble, hiss);
  const [first, second] = await waitFor(() => {
    expect(cards()).toHaveLength(2);
    expect(cards()[1]).toHaveTextContent('high-pass 3');
    return cards();
  });
  // What changed last stands first.
  expect(first).toHaveTextContent(hiss.title);
  expect(second).toHaveTextContent(rumble.brief.note);
  expect(second).toHaveAttribute('href', `/desk/${rumble.id}`);
  const asked = mockAsked.length;
  expect(asked).toBe(2);
  expect(await database.cards.count()).toBe(2);
  await act(async () => void (await shelveDesign(band, at(9))));
  await waitFor(() => expect(cards()).toHaveLength(3));
  await waitFor(() => expect(mockAsked).toHaveLength(asked + 1));
});

test('designs are found by circuit, alignment and brief, and put in order by title', async () => {
  await open(rumble, hiss, band);
  await waitFor(() => expect(cards()[2]).toHaveTextContent('high-pass'));
  await waitFor(async () => expect(await database.cards.count()).toBe(3));
  find('bessel');
  await waitFor(() => expect(cards().map((c) => c.querySelector('b')?.textContent)).toEqual([hiss.title]));
  find('no such thing anywhere');
  expect(await screen.findByText(/No design here answers to that/)).toBeInTheDocument();
  find('');
  act(() => fireEvent.click(screen.getByText('by title')));
  const titles = cards().map((c) => c.querySelector('b')?.textContent ?? '');
  expect(titles).toEqual([...titles].sort((a, b) => a.localeCompare(b)));
});

test('a design that does not read is named, with its reason, and no link; the others are as they are', async () => {
  const row = { id: 'odd', title: 'Odd one', updatedAt: at(5).toISOString(), revision: 1, design: { version: 99 } };
  await database.designs.put(row);
  await open(rumble);
  const unread = await screen.findByTestId('unread-card');
  expect(unread).toHaveTextContent('Odd one');
  expect(within(unread).queryByRole('link')).toBeNull();
  expect(within(unread).getByRole('button', { name: 'Export as it is' })).toBeInTheDocument();
  expect(cards()).toHaveLength(1);
  expect(await database.designs.get('odd')).toEqual(row);
});

test('what was removed stands at the foot of the shelf and comes back', async () => {
  await open(rumble, hiss);
  await act(async () => void (await deleteDesign(rumble.id)));
  const back = await screen.findByRole('button', { name: 'Bring back' });
  expect(screen.getByTestId('removed')).toHaveTextContent(rumble.title);
  await waitFor(() => expect(cards()).toHaveLength(1));
  act(() => fireEvent.click(back));
  await waitFor(() => expect(cards()).toHaveLength(2));
});

const choose = async (entry: string, title = rumble.title) => {
  fireEvent.click(screen.getByRole('button', { name: `${title}: more` }));
  fireEvent.click(await screen.findByText(entry));
};

test('a card’s menu duplicates', async () => {
  await open(rumble);
  await waitFor(() => expect(cards()).toHaveLength(1));
  await choose('Duplicate');
  await waitFor(() => expect(cards()).toHaveLength(2));
  expect(screen.getByText(`${rumble.title} (copy)`)).toBeInTheDocument();
});

test('a card’s menu asks before it removes; kept, nothing is gone', async () => {
  await open(rumble);
  await waitFor(() => expect(cards()).toHaveLength(1));
  await choose('Remove');
  const asked = await screen.findByRole('dialog');
  expect(asked).toHaveTextContent(`Remove “${rumble.title}”?`);
  fireEvent.click(within(asked).getByRole('button', { name: 'Keep' }));
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  expect(await database.designs.count()).toBe(1);
  await choose('Remove');
  fireEvent.click(within(await screen.findByRole('dialog')).getByRole('button', { name: 'Remove' }));
  await waitFor(() => expect(cards()).toHaveLength(0));
  expect(await database.designs.count()).toBe(0);
  expect(screen.getByTestId('removed')).toHaveTextContent(rumble.title);
});
