import { binsHz, filteredBy } from '../math/fourier';
import { gaussian } from '../math/gaussian';
import { must } from '../result';
import { analyse } from './analyse';
import { recordedBy, WORKSHOP_CARD } from './card';
import { analyseTones, tonesOf, toneSamples, type Tones } from './stepped';
import { sweepSamples, type Sweep } from './sweep';
import { orLong } from '@/testing/extent';

const RATE = 48_000;
/** The middle one, in the logarithm, at 1 kHz. */
const TONES: Tones = { fromHz: 900, toHz: 1e6 / 900, count: 21, secondsEach: 0.2, rateHz: RATE, levelDbfs: -12 };

/** A notch of second order at 1 kHz, Q 5, so deep: re and im by turns. */
const notch =
  (depth: number) =>
  (freqHz: Float64Array): Float64Array => {
    const out = new Float64Array(2 * freqHz.length);
    freqHz.forEach((f, i) => {
      const x = f / 1000;
      // (1 − x² + j d x / Q) / (1 − x² + j x / Q)
      const [a, b, c] = [1 - x * x, (depth * x) / 5, x / 5];
      const size = a * a + c * c;
      out[2 * i] = (a * a + b * c) / size;
      out[2 * i + 1] = (a * b - a * c) / size;
    });
    return out;
  };
const through = (played: Float64Array, response: (f: Float64Array) => Float64Array) =>
  filteredBy(played, response(binsHz(played.length, RATE)));
/** What the workshop's card makes of it, so noisy. */
const recorded = (volts: Float64Array, seed: number, snrDb: number) => ({
  samples: recordedBy(
    WORKSHOP_CARD,
    volts.map((v) => v * WORKSHOP_CARD.fullScaleVolts),
    RATE,
    seed,
    snrDb,
  ),
  rateHz: RATE,
});

test('a notch of 80 dB comes out of noise that a sweep drowns it in: to 3 dB at its bottom', () => {
  const response = notch(1e-4);
  const played = must(toneSamples(TONES));
  const found = must(analyseTones(recorded(through(played, response), 1, 60), TONES, recorded(played, 2, 90)));
  const exact = response(found.freqHz);
  found.freqHz.forEach((_, i) => {
    const [re, im] = [exact[2 * i], exact[2 * i + 1]];
    expect(Math.abs(found.levelDb[i] - 20 * Math.log10(Math.hypot(re, im)))).toBeLessThan(i === 10 ? 3 : 0.3);
    if (i === 10) return;
    const off = found.phaseDeg[i] - (Math.atan2(im, re) * 180) / Math.PI;
    expect(Math.abs(off - 360 * Math.round(off / 360))).toBeLessThan(2);
  });
  const at = (TONES.count - 1) / 2;
  expect(found.freqHz[at]).toBeCloseTo(1000, 6);
  expect(found.levelDb[at]).toBeLessThan(-77);
  expect(found.noiseDb[at]).toBeLessThan(-85);
  // The sweep of the same card and noise does not get there.
  const sweep: Sweep = { fromHz: 100, toHz: 10e3, seconds: 1, rateHz: RATE, levelDbfs: -12 };
  const swept = must(sweepSamples(sweep));
  const beside = must(analyse(recorded(through(swept, response), 1, 60), { samples: swept, rateHz: RATE }));
  expect(Math.min(...beside.levelDb)).toBeGreaterThan(-75);
});

test('harmonics of every tone are told: third of a cubed sine, no second', () => {
  const tones = { ...TONES, fromHz: 200, toHz: 2000, count: 5 };
  const played = must(toneSamples(tones));
  // (3 sin a − sin 3a) / 4: a third, over the first, of 20 log 1/3 of the cube's share.
  const found = must(analyseTones({ samples: played.map((v) => v - 0.4 * v ** 3), rateHz: RATE }, tones));
  const size = 10 ** (TONES.levelDbfs / 20);
  const third = (0.4 * size ** 3) / 4 / size;
  found.freqHz.forEach((_, i) => {
    expect(found.harmonicsDb[1][i]).toBeCloseTo(20 * Math.log10(third), 1);
    expect(found.harmonicsDb[0][i]).toBeLessThan(-100);
  });
});

test('noise is said to be what it is: of so many samples, twice its deviation over their root, re the tone', () => {
  const tones = { ...TONES, fromHz: 200, toHz: 2000, count: 12 };
  const played = must(toneSamples(tones));
  const sigma = 0.01;
  const gauss = gaussian(5);
  const found = must(analyseTones({ samples: played.map((v) => v + sigma * gauss()), rateHz: RATE }, tones));
  const size = 10 ** (TONES.levelDbfs / 20);
  const expected = 20 * Math.log10((2 * sigma) / Math.sqrt(0.2 * RATE) / size);
  for (const db of found.noiseDb) expect(Math.abs(db - expected)).toBeLessThan(0.5);
  // And levels are off by as much, root mean square: of the tones there are, within a factor of two.
  const off = Math.sqrt(found.levelDb.reduce((s, db) => s + (10 ** (db / 20) - 1) ** 2, 0) / found.levelDb.length);
  expect(off).toBeLessThan(10 ** (expected / 20) * 1.5);
  expect(off).toBeGreaterThan(10 ** (expected / 20) / 4);
});

test('lateness is found by the leader, and that of a reference taken off the phase', () => {
  const tones = { ...TONES, fromHz: 100, toHz: 5000, count: 9 };
  const played = must(toneSamples(tones));
  const late = (by: number) => ({ samples: Float64Array.from([...new Float64Array(by), ...played]), rateHz: RATE });
  expect(must(analyseTones(late(777), tones)).delayS * RATE).toBe(777);
  // The circuit is 10 samples later than the cable: a slope of phase.
  const found = must(analyseTones(late(787), tones, late(777)));
  found.freqHz.forEach((f, i) => {
    const off = found.phaseDeg[i] + (360 * f * 10) / RATE;
    expect(Math.abs(off - 360 * Math.round(off / 360))).toBeLessThan(0.5);
    expect(found.levelDb[i]).toBeCloseTo(0, 2);
  });
});

test.each([
  ['a top over what the rate plays', { toHz: 23e3 }, 'top'],
  ['a range that is none', { toHz: 900 }, 'range'],
  ['one tone', { count: 1 }, 'count'],
  ['hours', { count: 400, secondsEach: 3 }, 'seconds'],
  ['a rate of a telephone', { rateHz: 4000, toHz: 1000 }, 'rate'],
])('%s is refused', (_, change, what) => {
  expect(toneSamples({ ...TONES, ...change })).toMatchObject({ ok: false, code: 'bad-sweep', data: { what } });
});

test('recordings that are silent, cut off, or of another rate say so', () => {
  const played = must(toneSamples(TONES));
  const of = (samples: Float64Array, rateHz = RATE) => analyseTones({ samples, rateHz }, TONES);
  expect(of(new Float64Array(played.length))).toMatchObject({ code: 'silent-recording' });
  expect(of(played.subarray(0, played.length >> 1))).toMatchObject({ code: 'recording-too-short' });
  expect(of(played, 44_100)).toMatchObject({ code: 'rate-differs', data: { wantedHz: RATE } });
  expect(of(played.map((v) => Math.max(-1, Math.min(1, 8 * v))))).toMatchObject({ code: 'recording-clipped' });
});

test.each([60, orLong(120, 400)])(
  '%d tones over all of the range rise, each within a hundredth of where it is wanted',
  (count) => {
    const tones = { ...TONES, fromHz: 5, toHz: 21e3, count, secondsEach: 0.04, rateHz: 96e3 };
    const played = must(toneSamples(tones));
    const { freqHz } = must(analyseTones({ samples: played, rateHz: 96e3 }, tones));
    expect(freqHz).toHaveLength(count);
    freqHz.forEach((f, i) => expect(Math.abs(f / (5 * 4200 ** (i / (count - 1))) - 1)).toBeLessThan(0.01));
    for (let i = 1; i < count; i++) expect(freqHz[i]).toBeGreaterThan(freqHz[i - 1]);
  },
);

test('in place of a sweep tones take about its time, over its range', () => {
  const sweep: Sweep = { fromHz: 20, toHz: 23e3, seconds: 6, rateHz: RATE, levelDbfs: -12 };
  const tones = tonesOf(sweep, 60);
  expect(tones).toMatchObject({ fromHz: 20, toHz: 0.45 * RATE, count: 60, secondsEach: 0.1 });
  expect(must(toneSamples(tones)).length / RATE).toBeLessThan(18);
});
