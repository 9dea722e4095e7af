import { must } from '../result';
import { readWav, writeFloatWav, writeWav } from './wav';

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

test('a file of 200 MB is refused before it is read, with what is read', () => {
  const long = new Uint8Array(200e6);
  long.set(writeFloatWav(Float32Array.of(0), 48_000));
  expect(readWav(long)).toEqual({ ok: false, code: 'wav-long', data: { megabytes: 200, most: 150 } });
});

test('of two channels both are given, of one the first alone', () => {
  const mono = writeFloatWav(Float32Array.of(0.25, 0.5, -0.25, -0.5), 48_000);
  expect(must(readWav(mono)).second).toBeUndefined();
  const stereo = mono.slice();
  const view = new DataView(stereo.buffer);
  view.setUint16(22, 2, true);
  view.setUint16(32, 8, true);
  const both = must(readWav(stereo));
  expect([...both.samples]).toEqual([0.25, -0.25]);
  expect([...(both.second ?? [])]).toEqual([0.5, -0.5]);
});

test.each<[string, (view: DataView) => void, object]>([
  ['a rate of nothing', (v) => v.setUint32(24, 0, true), { code: 'wav-rate', data: { rateHz: 0 } }],
  ['a rate that no card has', (v) => v.setUint32(24, 4e9, true), { code: 'wav-rate', data: { rateHz: 4e9 } }],
  ['a sample that is no number', (v) => v.setFloat32(48, NaN, true), { code: 'wav-values', data: { atS: 1 / 48e3 } }],
  ['one without end', (v) => v.setFloat32(44, -Infinity, true), { code: 'wav-values', data: { atS: 0 } }],
  ['one that is no sound', (v) => v.setFloat32(44, 1e30, true), { code: 'wav-values', data: { atS: 0 } }],
  ['more channels than there are', (v) => v.setUint16(22, 60_000, true), { code: 'wav-format' }],
])('%s is refused', (_, change, failed) => {
  const bytes = writeFloatWav(Float32Array.of(0.25, 0.5), 48_000);
  change(new DataView(bytes.buffer));
  expect(readWav(bytes)).toMatchObject(failed);
});

test('of the second channel too', () => {
  const bytes = writeFloatWav(Float32Array.of(0.25, NaN, 0.5, 0), 48_000);
  const view = new DataView(bytes.buffer);
  view.setUint16(22, 2, true);
  view.setUint16(32, 8, true);
  expect(readWav(bytes)).toMatchObject({ code: 'wav-values', data: { atS: 0 } });
});
