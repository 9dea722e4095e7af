import { must } from '../../result';
import { runMeasuredDecay } from './speaker-views';

const freqHz = Array.from({ length: 400 }, (_, i) => 100 * 220 ** (i / 399));
const of = (response: (f: number) => readonly [number, number]) => {
  const points = freqHz.map(response);
  let [before, turns] = [0, 0];
  const phaseDeg = points.map(([re, im]) => {
    const deg = (Math.atan2(im, re) * 180) / Math.PI;
    turns -= Math.round((deg - before) / 360);
    before = deg;
    return deg + 360 * turns;
  });
  const levelDb = points.map(([re, im]) => 20 * Math.log10(Math.hypot(re, im)));
  return must(runMeasuredDecay({ freqHz, levelDb, phaseDeg }));
};
const fallOf = ({ freqHz: shown, slices }: ReturnType<typeof of>, hz: number, fromMs: number, toMs: number) => {
  const at = shown.findIndex((f) => f >= hz);
  const levelAt = (ms: number) => slices.find((s) => s.ms === ms)?.levelDb[at] ?? NaN;
  return levelAt(fromMs) - levelAt(toMs);
};
/** 1 + a resonance of 2 kHz, Q 20, as a response. */
const ringing = (f: number): [number, number] => {
  const [x, q] = [f / 2000, 20];
  const [a, b] = [1 - x * x, x / q];
  const size = a * a + b * b;
  return [1 + (b * b) / size, (a * b) / size];
};

test('a resonance falls by its own law: 8.69 dB in every 2 Q / ω', () => {
  // e^(−ω t / 2 Q): at 2 kHz with Q 20, 314 nepers a second.
  const expected = (8.686 * Math.PI * 2000) / 20 / 1000;
  expect(Math.abs(fallOf(of(ringing), 2000, 1, 3) - 2 * expected)).toBeLessThan(0.5);
});

test('what does not ring is gone at once, and lateness is none of it', () => {
  const flat = of(() => [1, 0]);
  expect(fallOf(flat, 1000, 0, 1)).toBeGreaterThan(20);
  const late = of((f) => [Math.cos(2 * Math.PI * f * 3e-4), -Math.sin(2 * Math.PI * f * 3e-4)]);
  expect(fallOf(late, 1000, 0, 1)).toBeGreaterThan(20);
});

test('a few points, or a level without its phase, have no decay', () => {
  const asked = { freqHz: [1, 2], levelDb: [0, 0], phaseDeg: [0, 0] } as const;
  expect(runMeasuredDecay({ ...asked, freqHz: [1, 2], levelDb: [0, 0], phaseDeg: [0, 0] })).toMatchObject({
    ok: false,
  });
  expect(runMeasuredDecay({ freqHz, levelDb: freqHz, phaseDeg: [] })).toMatchObject({
    ok: false,
    code: 'nothing-measured',
  });
});
