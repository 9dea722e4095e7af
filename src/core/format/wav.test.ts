import { writeWav } from './wav';

test('a WAV file says what it is, and its samples are what went in', () => {
  const bytes = writeWav(Float32Array.of(0, 0.5, -1, 2), 48_000);
  const view = new DataView(bytes.buffer);
  expect(String.fromCharCode(...bytes.subarray(0, 4), ...bytes.subarray(8, 16), ...bytes.subarray(36, 40))).toBe(
    'RIFFWAVEfmt data',
  );
  expect([
    view.getUint32(4, true),
    view.getUint16(22, true),
    view.getUint32(24, true),
    view.getUint16(34, true),
    view.getUint32(40, true),
  ]).toEqual([44, 1, 48_000, 16, 8]);
  expect([0, 1, 2, 3].map((i) => view.getInt16(44 + 2 * i, true))).toEqual([0, 16384, -32767, 32767]);
});
