import { AS_BUILT, compile } from '../../design/compiled/compile';
import { createPlan } from '../../design/making/create';
import type { Design } from '../../design/document/schema';
import type { SinglePath } from '../../design/making/single-path';
import { must } from '../../result';
import { downsampled, upsampled } from '../../analysis/sound/resample';
import { lonePath } from '../../testing/lone-path';
import { RUN_THROUGH } from '../job-context';
import { limited } from './limiter';
import { JobRunner } from '../run-job';
import { RENDER_OVERSAMPLED, sounding } from './sounding';

const RATE = 48_000;
const runner = new JobRunner();
const path = (given: SinglePath, patch: Partial<Design['brief']> = {}): Design => lonePath(given, {}, patch);
async function rendered(design: Design, input: Float64Array): Promise<{ out: Float64Array; linear: boolean }> {
  const { volts, linear } = must(
    await sounding(
      design,
      design.currentVariant,
      upsampled(input, RENDER_OVERSAMPLED),
      RATE * RENDER_OVERSAMPLED,
      RUN_THROUGH,
    ),
  );
  return { out: downsampled(volts, RENDER_OVERSAMPLED), linear };
}
const tone = (hz: number, volts: number, seconds: number) =>
  Float64Array.from({ length: seconds * RATE }, (_, i) => volts * Math.sin((2 * Math.PI * hz * i) / RATE));
/** Size of a tone over the last stretch, a whole number of its cycles, by projection. */
function sizeOf(signal: Float64Array, hz: number, seconds: number): number {
  const count = Math.round(Math.floor(seconds * hz) * (RATE / hz));
  const from = signal.length - count - 200;
  let [re, im] = [0, 0];
  for (let i = from; i < from + count; i++) {
    re += signal[i] * Math.cos((2 * Math.PI * hz * i) / RATE);
    im += signal[i] * Math.sin((2 * Math.PI * hz * i) / RATE);
  }
  return (2 * Math.hypot(re, im)) / count;
}

test.each<[string, SinglePath]>([
  ['a Butterworth of order 4 at 9 kHz', { plan: createPlan('p', 'lowpass', 'butterworth', 4, 9000) }],
  ['a high-pass at 15 kHz', { topology: 'multiple-feedback', form: 'highpass', wanted: { freqHz: 15e3 } }],
  ['a first-order low-pass at 3 kHz', { topology: 'first-order-buffered', form: 'lowpass', wanted: { freqHz: 3000 } }],
])('%s sounds as its curve says, within 0.1 dB to 0.4 of the rate', async (_name, given) => {
  const design = path(given);
  const { circuit, ways } = must(compile(design, design.variants[0], AS_BUILT));
  for (const hz of [100, 1000, 6000, 12_000, 16_000, 19_200]) {
    const { out, linear } = await rendered(design, tone(hz, 0.3, 0.12));
    expect(linear).toBe(true);
    const [h] = must(runner.solver.sweep(circuit, Float64Array.of(hz), [ways[0].output]));
    expect(20 * Math.log10(sizeOf(out, hz, 0.05) / 0.3 / Math.hypot(h[0], h[1]))).toBeCloseTo(0, 0);
    expect(Math.abs(20 * Math.log10(sizeOf(out, hz, 0.05) / 0.3 / Math.hypot(h[0], h[1])))).toBeLessThan(0.1);
  }
});

test('louder than its op-amp can swing, the same filter clips at its rails instead', async () => {
  const design = path(
    { topology: 'first-order-buffered', form: 'lowpass', wanted: { freqHz: 3000 } },
    { supply: { kind: 'single', volts: 9, virtualGroundOhm: 100 } },
  );
  const { out, linear } = await rendered(design, tone(200, 8, 0.05));
  expect(linear).toBe(false);
  // Half of 9 V less 1.5 V of headroom.
  expect(Math.max(...out.subarray(500))).toBeGreaterThan(2.7);
  expect(Math.max(...out.subarray(500))).toBeLessThan(3.3);
});

test(
  'the one-op-amp filter past its threshold sings within its rails on 9 V, at the frequency its poles ' + 'say',
  async () => {
    const design = path(
      { topology: 'diode-band-pass', form: 'LED pair', wanted: { cutoffHz: 500, q: 5, gain: 0.5 } },
      { supply: { kind: 'single', volts: 9, virtualGroundOhm: 100 } },
    );
    const [variant] = design.variants;
    const [stage] = variant.ways[0].stages;
    // Resonance well past singing: twice what comes round to the plus.
    const law = must(await runner.run<'control-law'>({ kind: 'control-law', design, variantId: variant.id }));
    const loud: Design = {
      ...design,
      variants: [
        {
          ...variant,
          ways: [
            {
              ...variant.ways[0],
              stages: [
                {
                  ...stage,
                  parts: { ...stage.parts, R6: { use: { kind: 'single', values: [1.5 * law.singing!.atOhm] } } },
                },
              ],
            },
          ],
        },
      ],
    };
    const shown = must(
      await runner.run<'desk'>({
        kind: 'desk',
        design: loud,
        variantId: variant.id,
        ghostVariantId: null,
        grid: { fromHz: 20, toHz: 20e3, points: 101 },
      }),
    );
    expect(shown.stability.stable).toBe(false);
    expect(shown.marks).toEqual([]);
    expect(shown.checks.map((c) => c.code)).toEqual(['sings']);
    const kick = new Float64Array(0.3 * RATE);
    kick[100] = 0.5;
    const { out, linear } = await rendered(loud, kick);
    // Before anything is filtered out of it, it stays within the rails: half of 9 V less the op-amp's headroom.
    const { volts } = must(
      await sounding(
        loud,
        loud.currentVariant,
        upsampled(kick, RENDER_OVERSAMPLED),
        RATE * RENDER_OVERSAMPLED,
        RUN_THROUGH,
      ),
    );
    expect(volts.reduce((m, v) => Math.max(m, Math.abs(v)), 0)).toBeLessThan(3.01);
    expect(linear).toBe(false);
    const late = out.subarray(0.2 * RATE);
    const peak = late.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
    // It goes all the way to 3 V; heard without its highest harmonics a square's corners stand over it by 8.95 % of the
    // jump (H. Wilbraham, On a certain periodic function, 1848).
    expect(peak).toBeGreaterThan(2.5);
    expect(peak).toBeLessThan(3 + 0.0895 * 6 + 0.01);
  },
);

test('a ladder driven hard at 10 kHz: what is no harmonic is 80 dB down', async () => {
  const design = path({ topology: 'transistor-ladder' }, {});
  const open = {
    ...design,
    variants: design.variants.map((v) => ({ ...v, controls: v.controls.map((c) => ({ ...c, position: 0.95 })) })),
  };
  const hz = 9984.375;
  const { out } = await rendered(open, tone(hz, 2, 0.2));
  // 4,096 samples hold 852 cycles: what is no harmonic, nor folded from one, falls between.
  const count = 4096;
  const piece = out.subarray(out.length - count - 400, out.length - 400);
  const bin = (k: number) => {
    let [re, im] = [0, 0];
    for (let i = 0; i < count; i++) {
      re += piece[i] * Math.cos((2 * Math.PI * k * i) / count);
      im += piece[i] * Math.sin((2 * Math.PI * k * i) / count);
    }
    return Math.hypot(re, im);
  };
  const fundamental = bin(852);
  // Harmonics 3 on fold to 48,000 − 3·9984, 5·9984 − 48,000 …: where they would be heard.
  const folded = [3, 4, 5, 6, 7, 8, 9]
    .map((h) => Math.abs(852 * h - count * Math.round((852 * h) / count)))
    .filter((k) => k > 4 && k < 1640);
  expect(folded.length).toBeGreaterThan(4);
  for (const k of folded) expect(20 * Math.log10(bin(k) / fundamental)).toBeLessThan(-80);
});

describe('limiter', () => {
  test('is out of circuit under its ceiling, and keeps to it above', () => {
    const quiet = tone(300, 0.9, 0.1);
    expect(limited(quiet, RATE)).toBe(quiet);
    const loud = tone(300, 0.4, 0.2).map((v, i) => v * (i > 0.1 * RATE && i < 0.12 * RATE ? 6 : 1));
    const out = limited(loud, RATE);
    expect(Math.max(...out.map(Math.abs))).toBeLessThanOrEqual(1 + 1e-12);
    // Long before the burst nothing is touched.
    for (let i = 0; i < 0.09 * RATE; i += 11) expect(out[i]).toBeCloseTo(loud[i], 9);
  });
  test('turns down a steady tone without adding a harmonic', () => {
    const out = limited(tone(1000, 3, 0.5), RATE);
    const [first, third] = [sizeOf(out, 1000, 0.1), sizeOf(out, 3000, 0.1)];
    expect(first).toBeCloseTo(1, 2);
    expect(20 * Math.log10(third / first)).toBeLessThan(-60);
  });
});
