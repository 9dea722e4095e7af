import { AcSolver } from '../../analysis/ac/solver';
import { demoDesigns } from '../../design/demo/demo';
import { must } from '../../result';
import { countingIds } from '../../design/making/create';
import type { Design } from '../../design/document/schema';
import { singlePath } from '../../design/making/single-path';
import { runBend } from './bend';
import { sounding } from '../sound/sounding';
import { RUN_THROUGH } from '../job-context';

const voice = demoDesigns().find((d) => d.title.startsWith('Reed voice'))!;
const asked = { kind: 'bend' as const, design: voice, variantId: voice.currentVariant };
const solver = new AcSolver();

test('the level that is named is the level that was heard: its harmonics come to what was asked', async () => {
  for (const percent of [0.5, 2, 8]) {
    const { harmonics, inputVolts, curve } = must(await runBend({ ...asked, percent }, solver, RUN_THROUGH));
    const total = 100 * Math.sqrt(harmonics.reduce((sum, h) => sum + h * h, 0));
    expect(total / percent).toBeGreaterThan(0.97);
    expect(total / percent).toBeLessThan(1.03);
    // It lies between the last two levels on the way up.
    expect(inputVolts).toBeLessThanOrEqual(curve[curve.length - 1].volts);
    if (curve.length > 1) expect(inputVolts).toBeGreaterThanOrEqual(curve[curve.length - 2].volts);
  }
});

test('bending that is never reached is said, with how far it got; the first tone may be enough', async () => {
  const never = await runBend({ ...asked, percent: 500 }, solver, RUN_THROUGH);
  expect(never).toMatchObject({ ok: false, code: 'bends-no-further' });
  expect(never.ok || Number(never.data?.percent)).toBeLessThan(500);
  const { inputVolts, curve } = must(await runBend({ ...asked, percent: 1e-7 }, solver, RUN_THROUGH));
  expect(inputVolts).toBe(curve[0].volts);
});

test('it can be called off between tones', async () => {
  const signal = { aborted: false };
  const calledOff = await runBend({ ...asked, percent: 5 }, solver, {
    ...RUN_THROUGH,
    signal,
    progress: (share) => void (signal.aborted = share > 0.2),
  });
  expect(calledOff).toMatchObject({ ok: false, code: 'cancelled' });
  expect(await runBend({ ...asked, variantId: 'nobody', percent: 5 }, solver, RUN_THROUGH)).toMatchObject({
    ok: false,
    code: 'no-such-variant',
  });
});

/**
 * Share of all but the fundamental in a tone's steady end, per cent, by rendering the circuit and projecting: nothing
 * of the search is in it.
 */
async function distortionOf(design: Design, freqHz: number, volts: number): Promise<number> {
  const rate = 384_000;
  const cycle = Math.round(rate / freqHz);
  const input = Float64Array.from(
    { length: Math.max(cycle * 24, 0.25 * rate) },
    (_, i) => volts * Math.sin((2 * Math.PI * i) / cycle),
  );
  const { volts: out } = must(await sounding(design, design.currentVariant, input, rate, RUN_THROUGH));
  const last = out.subarray(out.length - (out.length % cycle) - cycle, out.length - (out.length % cycle));
  const part = (h: number) =>
    Math.hypot(
      ...[Math.cos, Math.sin].map((f) => last.reduce((sum, v, i) => sum + v * f((2 * Math.PI * h * i) / cycle), 0)),
    );
  return (100 * Math.hypot(...[2, 3, 4, 5, 6, 7].map(part))) / part(1);
}

test('diode legs bear least where it is said, and nowhere across the band less', async () => {
  const made = must(singlePath({ topology: 'diode-legs' }, countingIds('b')));
  const found = must(
    await runBend({ kind: 'bend', design: made, variantId: made.currentVariant, percent: 1 }, solver, RUN_THROUGH),
  );
  expect(await distortionOf(made, found.freqHz, found.inputVolts)).toBeCloseTo(1, 1);
  expect(found.atCutoff!.inputVolts).toBeGreaterThanOrEqual(found.inputVolts);
  for (const factor of [0.125, 0.5, 1])
    expect(await distortionOf(made, found.atCutoff!.freqHz * factor, 0.9 * found.inputVolts)).toBeLessThan(1.05);
});
