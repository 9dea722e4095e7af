import { demoDesigns } from '../../design/demo/demo';
import { createDesign, createPlan } from '../../design/making/create';
import type { Design } from '../../design/document/schema';
import { AcSolver } from '../../analysis/ac/solver';
import { must } from '../../result';
import { runTime, type TimeRequest, type TimeResult } from './time';

const [, hiss, band] = demoDesigns();
const solver = new AcSolver();
const time = (design: Design, wave: TimeRequest['wave'], more: Partial<TimeRequest> = {}) =>
  must(
    runTime({ kind: 'time', design, variantId: design.currentVariant, ghostVariantId: null, wave, ...more }, solver),
  );
const square = (freqHz: number) => ({ kind: 'periodic' as const, wave: 'square' as const, freqHz });
let n = 0;
const lowPass = createDesign(
  'low',
  (id) => [createPlan(id(), 'lowpass', 'butterworth', 2, 1000)],
  () => `t${n++}`,
);

/** Peak of harmonic k of the two periods that were drawn, summed as a Fourier series by hand. */
function harmonicOf(volts: Float64Array, k: number): number {
  const count = (volts.length - 1) / 2;
  let [re, im] = [0, 0];
  for (let i = 0; i < count; i++) {
    re += volts[i] * Math.cos((2 * Math.PI * k * i) / count);
    im += volts[i] * Math.sin((2 * Math.PI * k * i) / count);
  }
  return (2 * Math.hypot(re, im)) / count;
}

test('harmonics that are said are those of the wave that is drawn', () => {
  const { harmonics, asBuilt } = time(lowPass, square(400));
  // Steep edges are gone behind a second order: what is drawn is smooth enough to transform.
  for (const k of [1, 3, 5]) expect(harmonics!.after[k - 1] / harmonicOf(asBuilt, k)).toBeCloseTo(1, 2);
  expect(harmonics!.after[1]).toBe(0);
  // M. R. Spiegel, Mathematical Handbook, 23.2: a square of height 1 has 4/πk of its odd harmonics.
  expect(harmonics!.before[2]).toBeCloseTo(4 / (3 * Math.PI), 12);
});

test('volts are those asked for, on what the source rests at', () => {
  const [one, tall] = [time(lowPass, square(100)), time(lowPass, square(100), { peakVolts: 2.5, offsetVolts: 0.4 })];
  const offset = tall.asBuilt.map((v, i) => v - 2.5 * one.asBuilt[i]);
  offset.forEach((v) => expect(v).toBeCloseTo(offset[0], 5));
  // What the source and the load take of it is less than half a per cent.
  expect(offset[0]).toBeGreaterThan(0.398);
  expect(offset[0]).toBeLessThan(0.4);
  expect(tall.harmonics!.after[0] / one.harmonics!.after[0]).toBeCloseTo(2.5, 9);
  expect(Math.max(...tall.drive)).toBeCloseTo(2.9, 12);
  // A high-pass lets nothing of the offset through.
  const passed = time(band, square(500), { offsetVolts: 3 });
  const mean = passed.asBuilt.slice(0, -1).reduce((s, v) => s + v, 0) / (passed.asBuilt.length - 1);
  expect(Math.abs(mean)).toBeLessThan(1e-3);
});

test('a step from an offset overshoots by the same share, and begins where the output stood', () => {
  const step = { kind: 'step' as const };
  const [one, off] = [time(lowPass, step), time(lowPass, step, { peakVolts: 0.5, offsetVolts: -2 })];
  expect(off.asBuilt[0]).toBeCloseTo(-2, 2);
  const rest = off.asBuilt.map((v, i) => v - 0.5 * one.asBuilt[i]);
  rest.forEach((v) => expect(v).toBeCloseTo(rest[0], 5));
  const overshoot = ({ settling }: TimeResult) => (settling?.figures === 'found' ? settling.end!.overshootPct : NaN);
  expect(overshoot(off)).toBeCloseTo(overshoot(one), 3);
  expect(off.harmonics).toBeNull();
});

test('without a stage’s capacitors the wave comes out square again', () => {
  const stage = lowPass.variants[0].ways[0].stages[0].id;
  const { bare, asBuilt, drive } = time(lowPass, square(2000), { bareStage: stage });
  const swing = (v: Float64Array) => Math.max(...v) - Math.min(...v);
  expect(swing(bare!)).toBeGreaterThan(1.9);
  expect(swing(asBuilt)).toBeLessThan(0.8);
  const apart = Array.from(bare!, (v, i) => Math.abs(v - drive[i])).sort((a, b) => a - b);
  expect(apart[Math.floor(0.9 * apart.length)]).toBeLessThan(0.05);
  expect(time(hiss, square(2000)).bare).toBeNull();
});
