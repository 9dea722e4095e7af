import { act, fireEvent, screen, within } from '@testing-library/react';
import { demoDesigns } from '@/core/design/demo/demo';
import { undo } from '@/store/document';
import { designNow, showPane } from '@/testing/pane';
import { Log } from './log';

const [rumble] = demoDesigns();
const fresh = { ...rumble, log: [] };
const write = (text: string) => {
  fireEvent.change(screen.getByRole('textbox', { name: 'Note' }), { target: { value: text } });
  fireEvent.click(screen.getByRole('button', { name: 'Write down' }));
};

test('a note is written with the numbers as they stand, and removed; both can be undone', () => {
  showPane(fresh, <Log />);
  expect(screen.getByText(/Nothing written yet/)).toBeInTheDocument();
  expect(screen.getByRole('button', { name: 'Write down' })).toBeDisabled();
  act(() => write('  swapped the blower’s cable  '));
  const [entry] = designNow().log;
  expect(entry.text).toBe('swapped the blower’s cable');
  expect(entry.snapshot?.cutoffs[0]).toBeGreaterThan(30);
  const shown = screen.getByTestId('log-entry');
  expect(within(shown).getByText(/Hz/, { selector: 'summary *' })).toBeInTheDocument();
  act(() => void fireEvent.click(within(shown).getByRole('button', { name: 'Remove this note' })));
  expect(designNow().log).toEqual([]);
  act(undo);
  expect(designNow().log).toHaveLength(1);
});

test('without the numbers it is the words alone, and blanks are no note', () => {
  showPane(fresh, <Log />);
  act(() => void fireEvent.click(screen.getByRole('checkbox', { name: 'keep the numbers with it' })));
  act(() => write('heard with the swell shut'));
  expect(designNow().log[0].snapshot).toBeNull();
  act(() => write('   '));
  expect(designNow().log).toHaveLength(1);
});

test('what was written can be put right where it stands', () => {
  showPane(fresh, <Log />);
  act(() => write('first'));
  const text = within(screen.getByTestId('log-entry')).getByRole('textbox', { name: 'Text of the note' });
  act(() => void fireEvent.change(text, { target: { value: 'first, with C1 at 220 n' } }));
  expect(designNow().log[0].text).toBe('first, with C1 at 220 n');
});
