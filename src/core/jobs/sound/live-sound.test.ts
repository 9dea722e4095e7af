import { demoDesigns } from '../../design/demo/demo';
import type { Design } from '../../design/document/schema';
import { must } from '../../result';
import { lonePath } from '../../testing/lone-path';
import { LIVE_BLOCK, LiveSound, type LiveRequest } from './live-sound';
import { RATE_HZ } from './rate';

const voice = demoDesigns().find((d) => d.title.startsWith('Reed voice'))!;
const HZ = 187.5;
/** A clock by which the circuit is so many times faster than real time: every look at it is a moment later. */
const clockOf = (times: number) => {
  let looks = 0;
  return () => (looks++ * ((80 * LIVE_BLOCK) / RATE_HZ) * 1000) / times;
};
const request: LiveRequest = { design: voice, variantId: voice.variants[1].id, source: 'saw', hz: HZ, volts: 1 };
const at = (position: number): Design => ({
  ...voice,
  variants: voice.variants.map((v) => ({ ...v, controls: v.controls.map((c) => ({ ...c, position })) })),
});

function take(sound: LiveSound, blocks: number): Float32Array {
  const out = new Float32Array(blocks * LIVE_BLOCK);
  for (let b = 0; b < blocks; b++) out.set(sound.next(), b * LIVE_BLOCK);
  return out;
}
const rms = (x: Float32Array) => Math.sqrt(x.reduce((s, v) => s + v * v, 0) / x.length);
const steepest = (x: Float32Array) => x.reduce((m, v, i) => (i === 0 ? 0 : Math.max(m, Math.abs(v - x[i - 1]))), 0);
/** Size of a harmonic of the tone, over whole periods. */
function harmonic(x: Float32Array, h: number): number {
  let [re, im] = [0, 0];
  x.forEach((v, i) => {
    re += v * Math.cos((2 * Math.PI * h * HZ * i) / RATE_HZ);
    im += v * Math.sin((2 * Math.PI * h * HZ * i) / RATE_HZ);
  });
  return (2 * Math.hypot(re, im)) / x.length;
}

test('it sounds at a gentle level, without end and without a seam between blocks: period upon period the same', () => {
  const sound = must(LiveSound.start(request, clockOf(10)));
  expect(sound.oversampled).toBe(2);
  take(sound, 100);
  const heard = take(sound, 100);
  expect(rms(heard)).toBeGreaterThan(0.05);
  expect(rms(heard)).toBeLessThan(0.2);
  const period = RATE_HZ / HZ;
  for (let i = period; i < heard.length; i++) expect(Math.abs(heard[i] - heard[i - period])).toBeLessThan(1e-3);
  expect(sound.unsettled).toBe(0);
});

test('a slow machine runs it at the output’s own rate, and it sounds the same where it matters', () => {
  const [fine, plain] = [must(LiveSound.start(request, clockOf(10))), must(LiveSound.start(request, clockOf(1.2)))];
  expect(plain.oversampled).toBe(1);
  for (const sound of [fine, plain]) take(sound, 100);
  const [a, b] = [take(fine, 64), take(plain, 64)];
  for (const h of [1, 2, 3]) expect(20 * Math.log10(harmonic(a, h) / harmonic(b, h))).toBeCloseTo(0, 0);
});

test('turned, it glides to what the same circuit sounds like when begun there, without a click', () => {
  const sound = must(LiveSound.start({ ...request, design: at(0.8) }, clockOf(10)));
  take(sound, 100);
  const before = take(sound, 64);
  expect(sound.follow(at(0.3), request.variantId)).toMatchObject({ ok: true });
  const moving = take(sound, 20);
  take(sound, 200);
  const after = take(sound, 64);
  // As steep as the open filter's own saw at the most.
  expect(steepest(moving)).toBeLessThan(1.2 * steepest(before));
  expect(harmonic(after, 8) / harmonic(after, 1)).toBeLessThan(0.05 * (harmonic(before, 8) / harmonic(before, 1)));
  const there = must(LiveSound.start({ ...request, design: at(0.3) }, clockOf(10)));
  take(there, 200);
  const begun = take(there, 64);
  // Its limiter is set by the level it began at: a decibel.
  for (const h of [2, 3, 4])
    expect(
      Math.abs(20 * Math.log10(harmonic(after, h) / harmonic(after, 1) / (harmonic(begun, h) / harmonic(begun, 1)))),
    ).toBeLessThan(1);
});

test('another circuit is not glided to, nor one that is not there; what sounded goes on', () => {
  const sound = must(LiveSound.start(request, clockOf(10)));
  expect(sound.follow(voice, voice.variants[0].id)).toMatchObject({ ok: false, code: 'other-circuit' });
  expect(sound.follow(voice, 'nobody')).toMatchObject({ ok: false, code: 'no-such-variant' });
  expect(rms(take(sound, 50))).toBeGreaterThan(0.02);
});

test('noise and a cluster of drones sound too, and a linear filter', () => {
  for (const source of ['noise', 'drone', 'square', 'reed'] as const)
    expect(rms(take(must(LiveSound.start({ ...request, source }, clockOf(10))), 50))).toBeGreaterThan(0.02);
  const [filter] = demoDesigns();
  expect(
    rms(take(must(LiveSound.start({ ...request, design: filter, variantId: filter.variants[0].id }, clockOf(10))), 50)),
  ).toBeGreaterThan(0.02);
});

test('what rests is kept from the ears, and the lowest notes are not: a saw at 47 Hz has its fundamental whole', () => {
  // On one supply the output rests at half of it.
  const flute = demoDesigns().find((d) => d.title.startsWith('Stopped flute'))!;
  const resting = must(
    LiveSound.start({ ...request, design: flute, variantId: flute.variants[0].id, source: 'saw' }, clockOf(10)),
  );
  take(resting, 400);
  const heard = take(resting, 128);
  expect(Math.abs(heard.reduce((sum, v) => sum + v, 0) / heard.length)).toBeLessThan(0.01 * rms(heard) + 1e-4);
  // A wide path: harmonics of a saw fall as 1/h (J. Fourier), but for a corner of a few hertz.
  const low = RATE_HZ / 1024;
  const wide = lonePath({ topology: 'buffer', form: 'lowpass', wanted: { gainDb: 0 } }, { device: 'ideal' });
  const sound = must(
    LiveSound.start({ ...request, design: wide, variantId: wide.currentVariant, hz: low, volts: 0.2 }, clockOf(10)),
  );
  take(sound, 400);
  const x = take(sound, 64);
  const size = (h: number) => {
    let [re, im] = [0, 0];
    x.forEach((v, i) => {
      re += v * Math.cos((2 * Math.PI * h * i) / 1024);
      im += v * Math.sin((2 * Math.PI * h * i) / 1024);
    });
    return Math.hypot(re, im);
  };
  const lost = 20 * Math.log10((4 * size(4)) / size(1));
  expect(lost).toBeLessThan(0.3);
  expect(lost).toBeGreaterThan(0.02);
});
