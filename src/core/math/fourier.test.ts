import fc from 'fast-check';
import { fourierAt, powerOfTwo, realSpectrum, samplesOf } from './fourier';

const samples = (count: number) =>
  fc
    .array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: count, maxLength: count })
    .map((v) => Float64Array.from(v));

/** The sum as it is written down. */
function plain(x: ArrayLike<number>, cycles: number, origin = 0): [number, number] {
  let [re, im] = [0, 0];
  for (let i = 0; i < x.length; i++) {
    re += x[i] * Math.cos(-2 * Math.PI * cycles * (i - origin));
    im += x[i] * Math.sin(-2 * Math.PI * cycles * (i - origin));
  }
  return [re, im];
}

test.each([
  [0, 2],
  [1, 2],
  [2, 2],
  [3, 4],
  [1024, 1024],
  [1025, 2048],
])('the power of two that holds %p is %p', (count, power) => expect(powerOfTwo(count)).toBe(power));

test('a spectrum is the sum of every bin, zeros after the samples', () => {
  fc.assert(
    fc.property(samples(24), (x) => {
      const spectrum = realSpectrum(x, 32);
      expect(spectrum).toHaveLength(34);
      for (let k = 0; k <= 16; k++) {
        const [re, im] = plain(x, k / 32);
        expect(spectrum[2 * k]).toBeCloseTo(re, 9);
        expect(spectrum[2 * k + 1]).toBeCloseTo(im, 9);
      }
    }),
    { numRuns: 20, seed: 5 },
  );
});

test('and back again it is the samples', () => {
  fc.assert(
    fc.property(samples(64), (x) => {
      samplesOf(realSpectrum(x, 64), 64).forEach((v, i) => expect(v).toBeCloseTo(x[i], 12));
    }),
    { numRuns: 20, seed: 6 },
  );
});

test('tables are kept for a few sizes and made anew for others, and all of them are right', () => {
  const x = Float64Array.from({ length: 8 }, (_, i) => i - 3);
  for (const size of [8, 16, 32, 64, 128, 256, 8, 512, 16])
    expect(realSpectrum(x, size)[0]).toBeCloseTo(
      x.reduce((a, b) => a + b, 0),
      12,
    );
});

test.each([0, 0.01, 0.123456, 0.4999])('the sum at %p cycles a sample, however long, from any origin', (cycles) => {
  const x = Float64Array.from({ length: 5000 }, (_, i) => Math.sin(i * i * 0.001));
  for (const origin of [0, 250, -17]) {
    const [re, im] = fourierAt(x, cycles, origin);
    const [wantedRe, wantedIm] = plain(x, cycles, origin);
    expect(Math.abs(re - wantedRe)).toBeLessThan(1e-8);
    expect(Math.abs(im - wantedIm)).toBeLessThan(1e-8);
  }
});
