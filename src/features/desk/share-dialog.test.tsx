import { act, fireEvent, render, screen } from '@testing-library/react';
import { demoDesigns } from '@/core/design/demo/demo';
import { must } from '@/core/result';
import { openDesign } from '@/store/document';
import { readShared } from '@/store/share-link';
import { resetView, setView, viewStore } from '@/store/view';
import { ShareDialog } from './share-dialog';

const [rumble] = demoDesigns();
const copied: string[] = [];
const clipboard = (write: (text: string) => Promise<void>) =>
  Object.defineProperty(navigator, 'clipboard', { configurable: true, value: { writeText: write } });
const link = () => screen.getByRole<HTMLTextAreaElement>('textbox', { name: 'Link to this design' }).value;

beforeEach(() => {
  copied.length = 0;
  openDesign(rumble);
  resetView();
  setView({ sharing: true });
});

test('the link holds the design whole, and is copied', async () => {
  clipboard(async (text) => void copied.push(text));
  render(<ShareDialog />);
  expect(must(readShared(new URL(link()).hash))).toEqual(rumble);
  await act(async () => void fireEvent.click(screen.getByRole('button', { name: 'Copy the link' })));
  expect(copied).toEqual([link()]);
  expect(screen.getByRole('status')).toHaveTextContent('Copied.');
});

test('where the browser does not let it be copied, it says what to do', async () => {
  clipboard(() => Promise.reject(new Error('no')));
  render(<ShareDialog />);
  await act(async () => void fireEvent.click(screen.getByRole('button', { name: 'Copy the link' })));
  expect(screen.getByRole('status')).toHaveTextContent('copy it by hand');
});

test('what is too large for a link is said, and goes as a file', () => {
  const noise = Array.from({ length: 60_000 }, (_, i) => ((i * 7919 + (i % 13) * 104729) % 99991).toString(36)).join(
    '',
  );
  openDesign({ ...rumble, brief: { ...rumble.brief, note: noise } });
  render(<ShareDialog />);
  expect(screen.getByRole('alert')).toHaveTextContent('too large for a link');
  expect(screen.getByRole('button', { name: 'Export the design' })).toBeInTheDocument();
  expect(screen.queryByRole('button', { name: 'Copy the link' })).toBeNull();
});

test('a long record stays behind, and that is said', () => {
  const at = '2030-01-01T00:00:00.000Z';
  const log = Array.from({ length: 3000 }, (_, i) => ({
    id: `l${i}`,
    at,
    text: ((i * 7919) % 99991).toString(36).repeat(3) + ((i * 104729) % 1000003).toString(36),
    snapshot: null,
  }));
  openDesign({ ...rumble, log });
  render(<ShareDialog />);
  expect(screen.getByText(/too long for a link and stay here/)).toBeInTheDocument();
  expect(must(readShared(new URL(link()).hash))).toMatchObject({ title: rumble.title, log: [] });
});

test('closed, nothing is shown', () => {
  render(<ShareDialog />);
  fireEvent.click(screen.getByRole('button', { name: 'Close' }));
  expect(viewStore.getState().sharing).toBe(false);
});
