import { Recording } from './recording';

test('blocks are kept in their order, as they were, and no more than there is room for', () => {
  const recording = new Recording();
  const block = Float32Array.of(0.1, 0.2);
  recording.keep(block);
  block.fill(9);
  recording.keep(Float32Array.of(0.3));
  expect([...recording.whole()].map((v) => Number(v.toFixed(6)))).toEqual([0.1, 0.2, 0.3]);
  expect(recording.isFull).toBe(false);
  recording.keep(new Float32Array(48_000 * 60 * 5));
  expect(recording.isFull).toBe(true);
  const { length } = recording.whole();
  recording.keep(block);
  expect(recording.whole()).toHaveLength(length);
});
