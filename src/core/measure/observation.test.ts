import { observationOf, residualsOf, SHARE_OFF, slopesOf, weighed } from './observation';

const freqHz = Array.from({ length: 400 }, (_, i) => 20 * 10 ** (i / 130));
/** First-order low-pass at 1 kHz, re and im by turns. */
const lowPass = (f: ArrayLike<number>, gain = 1, cornerHz = 1000): Float64Array =>
  Float64Array.from({ length: 2 * f.length }, (_, k) => {
    const x = f[k >> 1] / cornerHz;
    return (gain * (k % 2 === 0 ? 1 : -x)) / (1 + x * x);
  });
const curve = (response: Float64Array) => ({
  freqHz,
  levelDb: freqHz.map((_, i) => 10 * Math.log10(response[2 * i] ** 2 + response[2 * i + 1] ** 2)),
  phaseDeg: freqHz.map((_, i) => (Math.atan2(response[2 * i + 1], response[2 * i]) * 180) / Math.PI),
});

test('a long curve is thinned to points evenly apart, both ends kept, and what is no number passed over', () => {
  const given = curve(lowPass(freqHz));
  given.levelDb[7] = NaN;
  given.levelDb[8] = -Infinity;
  const seen = observationOf({ ...given, noiseDb: null });
  expect(seen.freqHz.length).toBeLessThanOrEqual(76);
  expect(seen.freqHz.length).toBeGreaterThan(60);
  expect([seen.freqHz[0], seen.freqHz[seen.freqHz.length - 1]]).toEqual([freqHz[0], freqHz[399]]);
  expect([...seen.freqHz]).not.toContain(freqHz[7]);
  expect([...seen.freqHz]).not.toContain(freqHz[8]);
});

test('noise that nothing is said of lies 70 dB under the loudest, of what was heard or a sound board has', () => {
  const given = { ...curve(lowPass(freqHz)), noiseDb: null };
  const top = Math.max(...given.levelDb);
  expect(20 * Math.log10(observationOf(given).noise[0])).toBeCloseTo(top - 70, 6);
  expect(20 * Math.log10(observationOf(given, 12).noise[0])).toBeCloseTo(12 - 70, 6);
  expect(20 * Math.log10(observationOf(given, -30).noise[0])).toBeCloseTo(top - 70, 6);
  const told = observationOf({ ...given, noiseDb: freqHz.map(() => -90) });
  expect(20 * Math.log10(told.noise[3])).toBeCloseTo(-90, 6);
});

test('what would give the very curve leaves nothing; a dB more leaves a dB over what a level may be off', () => {
  const seen = observationOf({ ...curve(lowPass(freqHz)), noiseDb: freqHz.map(() => -140) });
  const held = weighed(seen, SHARE_OFF);
  const left: number[] = [];
  residualsOf(held, lowPass(seen.freqHz), left);
  expect(left).toHaveLength(2 * seen.freqHz.length);
  expect(Math.max(...left.map(Math.abs))).toBeLessThan(1e-3);
  const louder: number[] = [];
  residualsOf(held, lowPass(seen.freqHz, 10 ** (1 / 20)), louder);
  expect(louder[0]).toBeCloseTo(Math.LN10 / 20 / SHARE_OFF, 0);
  expect(Math.abs(louder[seen.freqHz.length])).toBeLessThan(1e-3);
});

test('under the noise nothing is told apart: level and phase of a dead output leave next to nothing', () => {
  const dead = freqHz.map(() => -150);
  const seen = observationOf({ freqHz, levelDb: dead, phaseDeg: freqHz.map((f) => f), noiseDb: freqHz.map(() => -80) });
  const left: number[] = [];
  residualsOf(weighed(seen, SHARE_OFF), new Float64Array(2 * seen.freqHz.length), left);
  expect(Math.max(...left.map(Math.abs))).toBeLessThan(0.1);
  // And a board that is not dead leaves very much.
  const alive: number[] = [];
  residualsOf(weighed(seen, SHARE_OFF), lowPass(seen.freqHz), alive);
  expect(alive[0]).toBeGreaterThan(5);
});

test('a turn of almost all round is a small one', () => {
  const given = curve(lowPass(freqHz));
  const seen = observationOf({
    ...given,
    phaseDeg: given.phaseDeg.map((p) => p + 719),
    noiseDb: freqHz.map(() => -140),
  });
  const left: number[] = [];
  residualsOf(weighed(seen, SHARE_OFF), lowPass(seen.freqHz), left);
  expect(left[seen.freqHz.length] * SHARE_OFF).toBeCloseTo(Math.PI / 180, 3);
});

test.each([-140, -30])('slopes are the differences of the residuals, with noise at %p dB', (noiseDb) => {
  const seen = observationOf({ ...curve(lowPass(freqHz)), noiseDb: freqHz.map(() => noiseDb) });
  const held = weighed(seen, SHARE_OFF);
  const at = lowPass(seen.freqHz, 1.02, 1100);
  const step = 1e-6;
  const [here, there, slopes]: number[][] = [[], [], []];
  residualsOf(held, at, here);
  residualsOf(held, lowPass(seen.freqHz, 1.02, 1100 * Math.exp(step)), there);
  // Of a corner: H = 1/(1 + jx) moves by jx/(1 + jx) for each share of it.
  const relative = Float64Array.from({ length: at.length }, (_, k) => {
    const x = seen.freqHz[k >> 1] / 1100;
    return (k % 2 === 0 ? x * x : x) / (1 + x * x);
  });
  slopesOf(held, at, relative, slopes);
  const count = seen.freqHz.length;
  slopes.forEach((slope, i) => {
    // How sure a phase is moves as well, where it is half lost; that is left out.
    if (i >= count && noiseDb > -100) return;
    expect(Math.abs(slope - (there[i] - here[i]) / step)).toBeLessThan(1e-3 * (1 + Math.abs(slope)));
  });
});

test('without a phase there is none to leave', () => {
  const given = curve(lowPass(freqHz));
  const seen = observationOf({ ...given, phaseDeg: null, noiseDb: null });
  const left: number[] = [];
  residualsOf(weighed(seen, SHARE_OFF), lowPass(seen.freqHz), left);
  expect(left).toHaveLength(seen.freqHz.length);
});
