import { recordedBy, WORKSHOP_CARD, type Card } from './card';

const RATE = 48e3;
const QUIET: Card = { ...WORKSHOP_CARD, humDbfs: -400, noiseDbfs: -400, latencyS: 0, lowHz: 1e-9 };
const tone = (hz: number, volts: number, count = RATE) =>
  Float64Array.from({ length: count }, (_, i) => volts * Math.sin((2 * Math.PI * hz * i) / RATE));
const rms = (v: Float64Array) => Math.sqrt(v.reduce((sum, x) => sum + x * x, 0) / v.length);

test('what comes in at full scale is full scale, in steps of its bits, held at its ends', () => {
  const seen = recordedBy({ ...QUIET, bits: 16 }, tone(1000, 1), RATE, 1);
  expect(rms(seen)).toBeCloseTo(0.5 / Math.SQRT2, 4);
  expect(seen.every((v) => Math.abs(v * 32768 - Math.round(v * 32768)) < 1e-9)).toBe(true);
  const loud = recordedBy(QUIET, tone(1000, 5), RATE, 1);
  expect([Math.min(...loud), Math.max(...loud)]).toEqual([-1, 1 - 2 ** -23]);
});

test('it is late by its latency, and keeps direct current out', () => {
  const late = recordedBy({ ...QUIET, latencyS: 0.01 }, tone(1000, 1), RATE, 1);
  expect(late.length).toBe(RATE + 480);
  expect(late.subarray(0, 480).every((v) => v === 0)).toBe(true);
  const direct = recordedBy({ ...QUIET, lowHz: 5 }, new Float64Array(RATE).fill(1), RATE, 1);
  // One pole at 5 Hz: after a tenth of a second e^(−2π·5·0.1) of the step is left.
  expect(direct[4800]).toBeCloseTo(0.5 * Math.exp(-Math.PI), 3);
});

test('noise as loud as it is said to be: the card’s own, or so far under what comes in', () => {
  const own = recordedBy({ ...QUIET, noiseDbfs: -60 }, new Float64Array(RATE), RATE, 3);
  expect(20 * Math.log10(rms(own))).toBeCloseTo(-60, 0);
  const clean = recordedBy(QUIET, tone(1000, 1), RATE, 3);
  const noisy = recordedBy(QUIET, tone(1000, 1), RATE, 3, 40);
  expect(20 * Math.log10(rms(noisy.map((v, i) => v - clean[i])) / rms(clean))).toBeCloseTo(-40, 0);
  expect(recordedBy(QUIET, tone(1000, 1), RATE, 3, 40)).toEqual(noisy);
});

test('the mains hums in it, at its frequency and its harmonics', () => {
  const hum = recordedBy({ ...QUIET, humDbfs: -40, humHz: 60 }, new Float64Array(RATE), RATE, 1);
  const at = (hz: number) => {
    let [re, im] = [0, 0];
    hum.forEach((v, i) => {
      re += (2 * v * Math.cos((2 * Math.PI * hz * i) / RATE)) / RATE;
      im += (2 * v * Math.sin((2 * Math.PI * hz * i) / RATE)) / RATE;
    });
    return 20 * Math.log10(Math.hypot(re, im) + 1e-9);
  };
  expect(at(60)).toBeCloseTo(-40, 1);
  expect(at(180)).toBeCloseTo(-46, 1);
  expect(at(50)).toBeLessThan(-80);
});
