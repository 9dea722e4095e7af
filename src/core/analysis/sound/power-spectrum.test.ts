import { powerSpectrum } from './power-spectrum';

test(
  'a full-scale sine stands at 0 dB in its own bin, half of it 6 dB lower, and elsewhere there is next ' + 'to nothing',
  () => {
    const rate = 48_000;
    const hz = (rate / 8192) * 200;
    const sine = (size: number) =>
      Float32Array.from({ length: 40_000 }, (_, i) => size * Math.sin((2 * Math.PI * hz * i) / rate));
    const [full, half] = [powerSpectrum(sine(1), rate), powerSpectrum(sine(0.5), rate)];
    const at = full.freqHz.findIndex((f) => Math.abs(f - hz) < 1);
    expect(full.levelDb[at]).toBeCloseTo(0, 2);
    expect(half.levelDb[at]).toBeCloseTo(-6.02, 2);
    expect(Math.max(...full.levelDb.filter((_, i) => Math.abs(i - at) > 3))).toBeLessThan(-90);
  },
);
