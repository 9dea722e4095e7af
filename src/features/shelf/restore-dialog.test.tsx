import { act, fireEvent, render, screen, within } from '@testing-library/react';
import { demoDesigns } from '@/core/design/demo/demo';
import type { BackupRow, RowState } from '@/store/shelf/restore';
import { choicesFor, RestoreDialog, stateWords } from './restore-dialog';
import { restoredWords } from './use-shelf-files';

const [design] = demoDesigns();
const of = (title: string, state: RowState): BackupRow => ({
  table: 'designs',
  key: title,
  title,
  state,
  value: { design, updatedAt: null, revision: 1 },
});
const part: BackupRow = { table: 'stock', key: 'p', title: '4.7 kΩ resistor', state: 'differs', value: { id: 'p' } };
const rows = [
  of('Fresh', 'new'),
  of('Alike', 'same'),
  of('Older', 'older'),
  of('Newer', 'newer'),
  of('Second', 'twice'),
  part,
];

const shown = () => {
  const onRestore = jest.fn();
  render(<RestoreDialog rows={rows} name="shelf.zip" onRestore={onRestore} onClose={() => {}} />);
  const restore = () => {
    act(() => void fireEvent.click(screen.getByRole('button', { name: /^Restore \d/ })));
    const [chosen] = onRestore.mock.calls[onRestore.mock.calls.length - 1];
    return chosen.map(({ choice }: { choice: string }) => choice);
  };
  return { restore };
};
const opened = (table: string) => {
  const own = screen.getByTestId(`restore-${table}`);
  act(() => void fireEvent.click(within(own).getAllByRole('button')[0]));
  return own;
};
beforeEach(() => localStorage.clear());

test('what is new and what is newer is proposed, a second of the same name beside it, and nothing else', () => {
  const { restore } = shown();
  expect(screen.getByTestId('restore-designs')).toHaveTextContent(
    '5 designs1 not on the shelf, 1 newer than on the shelf, 1 older than on the shelf',
  );
  // The newer one, and it alone, takes the place of what is there.
  expect(screen.getByText(/One row takes the place of what is there/)).toBeInTheDocument();
  expect(restore()).toEqual(['take', 'leave', 'leave', 'take', 'beside', 'leave']);
});

test('row by row, and a table at once: what is there alike is not listed, and never taken', () => {
  const { restore } = shown();
  const designs = opened('designs');
  expect(within(designs).queryByText('Alike')).toBeNull();
  fireEvent.mouseDown(within(designs).getByRole('combobox', { name: 'What becomes of Older' }));
  act(() => void fireEvent.click(screen.getByText('take it beside', { selector: '.ant-select-item-option-content' })));
  expect(restore()).toEqual(['take', 'leave', 'beside', 'take', 'beside', 'leave']);
  act(() => void fireEvent.click(within(designs).getByRole('button', { name: 'take all' })));
  expect(restore()).toEqual(['take', 'leave', 'take', 'take', 'beside', 'leave']);
  act(() => void fireEvent.click(within(designs).getByRole('button', { name: 'leave all' })));
  expect(screen.getByRole('button', { name: 'Nothing to restore' })).toBeDisabled();
  const stock = opened('stock');
  act(() => void fireEvent.click(within(stock).getByRole('button', { name: 'take all' })));
  expect(restore()).toEqual(['leave', 'leave', 'leave', 'leave', 'leave', 'take']);
});

test('only designs stand beside one another, and only where there is something to stand beside', () => {
  expect(choicesFor(of('x', 'new'))).toEqual(['take', 'leave']);
  expect(choicesFor(of('x', 'older'))).toEqual(['take', 'beside', 'leave']);
  expect(choicesFor(of('x', 'twice'))).toEqual(['beside', 'leave']);
  expect(choicesFor(part)).toEqual(['take', 'leave']);
  expect(stateWords([part])).toBe('1 otherwise on the shelf');
});

test.each([
  [{ designs: 1 }, '1 design came in'],
  [{ designs: 2, stock: 1 }, '2 designs and 1 part in stock came in'],
  [{ designs: 2, stock: 3, drivers: 1 }, '2 designs, 3 parts in stock and 1 driver came in'],
])('what came in is said table by table: %j', (taken, says) => {
  expect(restoredWords({ taken })).toBe(says);
});
