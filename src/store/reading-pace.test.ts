import { followReading, newsToRead, READ_MS } from './reading-pace';
import { setView } from './view';

beforeEach(() => jest.useFakeTimers());
afterEach(() => {
  setView({ dragging: false });
  jest.useRealTimers();
});

test('what is read is brought up to date at once, and during a drag all of it together at intervals', () => {
  const told: string[] = [];
  const stops = ['design', 'answer'].map((name) => followReading(() => told.push(name)));
  newsToRead();
  newsToRead();
  expect(told).toEqual(['design', 'answer', 'design', 'answer']);
  jest.advanceTimersByTime(2 * READ_MS);
  told.length = 0;
  setView({ dragging: true });
  for (let k = 0; k < 10; k++) newsToRead();
  expect(told).toEqual(['design', 'answer']);
  jest.advanceTimersByTime(READ_MS);
  expect(told).toHaveLength(4);
  newsToRead();
  setView({ dragging: false });
  expect(told).toHaveLength(6);
  jest.advanceTimersByTime(10 * READ_MS);
  expect(told).toHaveLength(6);
  for (const stop of stops) stop();
});

test('a renewal that takes long is followed by a longer wait: the curves keep four fifths of the time', () => {
  const clock = jest.spyOn(performance, 'now');
  let now = 1e6;
  clock.mockImplementation(() => now);
  let renewed = 0;
  const stop = followReading(() => {
    renewed++;
    now += 100;
  });
  setView({ dragging: true });
  newsToRead();
  jest.advanceTimersByTime(0);
  // Over the usual interval, and not yet four times what it cost.
  now += 399;
  newsToRead();
  expect(renewed).toBe(1);
  now += 1;
  jest.advanceTimersByTime(1);
  expect(renewed).toBe(2);
  stop();
  clock.mockRestore();
});
