import { downsampled } from '../../analysis/sound/resample';
import { HeardSoFar } from './heard';
import { RENDER_OVERSAMPLED } from './sounding';
import { QUIET_RMS } from './sound-source';
import { RATE_HZ } from './rate';

const SECONDS = 3;
const LENGTH = SECONDS * RATE_HZ;
/** A tone on top of what it rests at, loud or louder from a time on. */
const volts = (level: (timeS: number) => number, rest = 6): Float64Array =>
  Float64Array.from({ length: LENGTH * RENDER_OVERSAMPLED }, (_, i) => {
    const timeS = i / (RATE_HZ * RENDER_OVERSAMPLED);
    return rest + level(timeS) * Math.sin(2 * Math.PI * 440 * timeS);
  });

/** All of it in pieces as a rendering tells of them, with what there was to hear each time. */
function heardInPieces(wave: Float64Array, inputVolts: number) {
  const heard = new HeardSoFar(LENGTH, inputVolts);
  const lengths: number[] = [];
  for (let count = 15_360; count < wave.length; count += 15_360)
    if (heard.take(wave, count)) lengths.push(heard.answer(1).samples.length);
  heard.finish(wave);
  return { lengths, whole: heard.answer(2) };
}
const peakOf = (samples: Float32Array): number => samples.reduce((most, v) => Math.max(most, Math.abs(v)), 0);
const rmsOf = (samples: Float32Array): number => Math.sqrt(samples.reduce((sum, v) => sum + v * v, 0) / samples.length);

test('it is there stretch by stretch, half a second after half a second, and whole in the end', () => {
  const { lengths, whole } = heardInPieces(
    volts(() => 1),
    1,
  );
  expect(lengths.length).toBeGreaterThanOrEqual(4);
  lengths.forEach((length, i) => expect(length - (lengths[i - 1] ?? 0)).toBeGreaterThanOrEqual(0.5 * RATE_HZ));
  expect(whole.samples).toHaveLength(LENGTH);
  expect(whole.timesRealTime).toBeCloseTo(SECONDS / 2, 6);
});

test('a steady tone comes out of its pieces as out of the whole, quiet, with no seam and without its rest', () => {
  const wave = volts(() => 1);
  const { whole } = heardInPieces(wave, 1);
  expect(whole.peakVolts).toBeCloseTo(1, 2);
  expect(whole.rmsVolts).toBeCloseTo(Math.SQRT1_2, 2);
  const direct = downsampled(
    wave.map((v) => v - 6),
    RENDER_OVERSAMPLED,
  );
  // The limiter is some samples late; past its beginning and before its end the two are in one proportion.
  const gain = QUIET_RMS / Math.SQRT1_2;
  const late = whole.samples.findIndex((v) => v !== 0) - direct.findIndex((v) => Math.abs(v) > 1e-4);
  let off = 0;
  for (let i = 2000; i < LENGTH - 2000; i++)
    off = Math.max(off, Math.abs(whole.samples[i] - gain * direct[i - Math.max(0, late)]));
  expect(off).toBeLessThan(0.01 * gain);
});

test('what gets louder turns it down and never up again, and nothing is over full scale', () => {
  const { whole } = heardInPieces(
    volts((t) => (t > 1 && t < 2 ? 20 : 0.2)),
    1,
  );
  const [first, middle, last] = [0.2, 1.6, 2.4].map((s) =>
    rmsOf(whole.samples.subarray(s * RATE_HZ, (s + 0.3) * RATE_HZ)),
  );
  expect(first).toBeGreaterThan(0.05);
  expect(first).toBeLessThan(0.11);
  expect(middle).toBeGreaterThan(first);
  expect(last).toBeLessThan(first / 5);
  expect(peakOf(whole.samples)).toBeLessThanOrEqual(1);
});

test('what begins in silence does not begin loud', () => {
  const { whole } = heardInPieces(
    volts((t) => (t < 0.7 ? 0 : 0.5)),
    1,
  );
  expect(peakOf(whole.samples)).toBeLessThan(1);
  expect(rmsOf(whole.samples.subarray(2.2 * RATE_HZ))).toBeLessThan(0.3);
});
