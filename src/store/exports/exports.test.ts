import { createDesign, createPlan } from '@/core/design/making/create';
import { failureWords } from '@/ui/words/failures';
import { openDesign } from '../document';
import { failureStore } from '../failures';
import { newId } from '../new-id';
import { exportDesign, exportView } from './exports';

const mockWritten = { reached: false, exportView: jest.fn() };
jest.mock('./written', () => ({
  // As where the page comes from cannot be reached.
  get exportView() {
    if (!mockWritten.reached) throw new Error('failed to fetch');
    return mockWritten.exportView;
  },
}));
const mockSaved: string[] = [];
jest.mock('@/ui/download', () => ({
  download: (name: string) => void mockSaved.push(name),
  fileName: (title: string, kind: string) => `${title}.${kind}`,
}));

beforeEach(() => {
  failureStore.setState({ told: null });
  openDesign(createDesign('Rumble', (id) => [createPlan(id(), 'highpass', 'butterworth', 3, 40)], newId));
});

test('what cannot be fetched is told, and asked for again the next time', async () => {
  mockWritten.reached = false;
  await exportView();
  const { title, failure } = failureStore.getState().told!;
  expect([title, failure.code]).toEqual(['Nothing was written', 'not-fetched']);
  expect(failureWords(failure)).toContain('could not be fetched');
  mockWritten.reached = true;
  await exportView();
  expect(mockWritten.exportView).toHaveBeenCalledTimes(1);
});

test('the design itself is written whatever can be fetched', () => {
  mockWritten.reached = false;
  exportDesign();
  expect(mockSaved).toEqual(['Rumble.json']);
  expect(failureStore.getState().told).toBeNull();
});
