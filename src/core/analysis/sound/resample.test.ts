import { atRate, downsampled, halfBand, upsampled } from './resample';

const COUNT = 4096;
const sine = (cycles: number, count = COUNT) =>
  Float64Array.from({ length: count }, (_, i) => Math.sin((2 * Math.PI * cycles * i) / count));
/** Size of a whole number of cycles in the middle half of a signal, by projection. */
function sizeOf(signal: Float64Array, cyclesPerSample: number): number {
  const [from, to] = [signal.length / 4, (3 * signal.length) / 4];
  let [re, im, weight] = [0, 0, 0];
  for (let i = from; i < to; i++) {
    // A Hann window keeps one tone from another.
    const w = 1 - Math.cos((2 * Math.PI * (i - from)) / (to - from));
    re += w * signal[i] * Math.cos(2 * Math.PI * cyclesPerSample * i);
    im += w * signal[i] * Math.sin(2 * Math.PI * cyclesPerSample * i);
    weight += w;
  }
  return (2 * Math.hypot(re, im)) / weight;
}
const dB = (ratio: number) => 20 * Math.log10(ratio);

test.each([0.01, 0.1, 0.25, 0.4])(
  'up eight times: a tone at %f of the rate is itself, and its images are 100 dB down',
  (share) => {
    const cycles = Math.round(share * COUNT);
    const up = upsampled(sine(cycles), 8);
    const rate = cycles / COUNT / 8;
    expect(dB(sizeOf(up, rate))).toBeCloseTo(0, 3);
    for (let image = 1; image <= 3; image++)
      for (const sign of [-1, 1]) expect(dB(sizeOf(up, image / 8 + sign * rate))).toBeLessThan(-100);
    for (let i = COUNT / 4; i < COUNT / 2; i++) expect(up[8 * i]).toBeCloseTo(sine(cycles)[i], 9);
  },
);

test(
  'down eight times: what is heard stays, what would fold is 100 dB down, and there and back is where ' + 'it was',
  () => {
    const fast = (share: number) => sine(Math.round(share * COUNT), COUNT * 8);
    for (const share of [0.05, 0.4])
      expect(dB(sizeOf(downsampled(fast(share), 8), Math.round(share * COUNT) / COUNT))).toBeCloseTo(0, 3);
    // 0.65, 1.3 and 3.4 times the output's rate.
    for (const share of [0.65, 1.3, 3.4])
      expect(
        dB(
          Math.max(
            ...[0.05, 0.1, 0.2, 0.3, 0.35, 0.4].map((f) => sizeOf(downsampled(fast(share), 8), f)),
            sizeOf(downsampled(fast(share), 8), Math.abs(share - Math.round(share))),
          ),
        ),
      ).toBeLessThan(-100);
    const there = downsampled(upsampled(sine(700), 8), 8);
    for (let i = COUNT / 4; i < (3 * COUNT) / 4; i++) expect(there[i]).toBeCloseTo(sine(700)[i], 4);
  },
);

test('half-band: its response at a quarter of the rate is a half, and mirrored about it', () => {
  const taps = halfBand(0.2);
  const half = (taps.length - 1) / 2;
  const at = (f: number) => taps.reduce((sum, v, i) => sum + v * Math.cos(2 * Math.PI * f * (i - half)), 0);
  expect(at(0)).toBeCloseTo(1, 12);
  expect(at(0.25)).toBeCloseTo(0.5, 12);
  for (const f of [0.05, 0.15, 0.22]) expect(at(f) + at(0.5 - f)).toBeCloseTo(1, 12);
});

test('from 44.1 to 48 kHz and back a tone keeps its pitch and its size', () => {
  const tone = Float64Array.from({ length: 8820 }, (_, i) => Math.sin((2 * Math.PI * 5000 * i) / 44100));
  const other = atRate(tone, 44100, 48000);
  expect(other.length).toBe(9600);
  for (let i = 2000; i < 7000; i += 7) expect(other[i]).toBeCloseTo(Math.sin((2 * Math.PI * 5000 * i) / 48000), 4);
});
