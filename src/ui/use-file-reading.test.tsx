import { act, fireEvent, render, screen } from '@testing-library/react';
import { App } from 'antd';
import { useFileReading } from './use-file-reading';

let mockTell: (share: number) => void = () => {};
const mockStop = jest.fn();
let mockDone: (answer: unknown) => void = () => {};
jest.mock('@/workers/read-file', () => ({
  readFile: (_reader: string, _file: unknown, tell: (share: number) => void) => {
    mockTell = tell;
    return { answer: new Promise((resolve) => (mockDone = resolve)), stop: mockStop };
  },
}));

const answers: unknown[] = [];
function Asks() {
  const read = useFileReading();
  const file = { name: 'board.wav', bytes: new Uint8Array(2_500_000) };
  return <button onClick={() => void read('wav', file).then((answer) => answers.push(answer))}>Read</button>;
}
beforeEach(() => {
  jest.useFakeTimers();
  answers.length = 0;
  render(
    <App>
      <Asks />
    </App>,
  );
  act(() => void fireEvent.click(screen.getByRole('button', { name: 'Read' })));
});
afterEach(() => void jest.useRealTimers());
const pass = (ms: number) => act(() => jest.advanceTimersByTimeAsync(ms));

test('what takes a while says which file, how large and how far, and can be stopped', async () => {
  await pass(200);
  expect(screen.queryByText(/Reading/)).toBeNull();
  await pass(200);
  expect(screen.getByText(/Reading board\.wav, 2\.5.MB/)).toHaveTextContent(/: 0.%/);
  await act(async () => mockTell(0.42));
  await pass(1000);
  expect(screen.getByText(/Reading board/)).toHaveTextContent(/: 42.%/);
  fireEvent.click(screen.getByRole('button', { name: 'Stop reading' }));
  expect(mockStop).toHaveBeenCalled();
  await act(async () => mockDone(null));
  await pass(1000);
  expect([answers, screen.queryByText(/Reading/)]).toEqual([[null], null]);
});

test('what is read within that is read without a word', async () => {
  await pass(200);
  await act(async () => mockDone('read'));
  await pass(1000);
  expect([answers, screen.queryByText(/Reading/)]).toEqual([['read'], null]);
});
