import { act, screen } from '@testing-library/react';
import { demoDesigns } from '@/core/design/demo/demo';
import { deskOf } from '@/core/testing/desk-of';
import { edit } from '@/store/document';
import { DESK } from '@/store/questions/live';
import { designNow, showPane } from '@/testing/pane';
import { Announcer } from './announcer';

const [, , band] = demoDesigns();
const spoken = () => screen.getByRole('status').textContent;

beforeEach(() => void jest.useFakeTimers());
afterEach(() => void jest.useRealTimers());

test('variant and cutoff are spoken once they stand still, not while they move', () => {
  showPane(band, <Announcer />);
  expect(spoken()).toBe('');
  act(() => void jest.advanceTimersByTime(899));
  expect(spoken()).toBe('');
  act(() => void jest.advanceTimersByTime(2));
  expect(spoken()).toMatch(/^Variant A, 4th order: cutoff [\d.]+\sHz and [\d.]+\skHz$/);
  const before = spoken();
  for (const cutoffHz of [80, 90, 100]) {
    act(() => {
      edit((draft) => void (draft.variants[0].ways[0].plans[0].cutoffHz = cutoffHz));
      DESK.place(deskOf(designNow()));
      jest.advanceTimersByTime(500);
    });
    expect(spoken()).toBe(before);
  }
  act(() => void jest.advanceTimersByTime(1000));
  expect(spoken()).toMatch(/cutoff (9[6-9]|10[0-4])[.\d]*\sHz/);
});
