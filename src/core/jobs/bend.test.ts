import { demoDesigns } from '../design/demo';
import { must } from '../result';
import { runBend } from './bend';
import { RUN_THROUGH } from './job-context';

const voice = demoDesigns().find((d) => d.title.startsWith('Reed voice'))!;
const asked = { kind: 'bend' as const, design: voice, variantId: voice.currentVariant, freqHz: 110 };

test('the level that is named is the level that was heard: its harmonics come to what was asked', async () => {
  for (const percent of [0.5, 2, 8]) {
    const { harmonics, inputVolts, curve } = must(await runBend({ ...asked, percent }, RUN_THROUGH));
    const total = 100 * Math.sqrt(harmonics.reduce((sum, h) => sum + h * h, 0));
    expect(total / percent).toBeGreaterThan(0.97);
    expect(total / percent).toBeLessThan(1.03);
    // It lies between the last two levels on the way up.
    expect(inputVolts).toBeLessThanOrEqual(curve[curve.length - 1].volts);
    expect(inputVolts).toBeGreaterThanOrEqual(curve[curve.length - 2].volts);
  }
});

test('bending that is never reached is said, with how far it got; the first tone may be enough', async () => {
  const never = await runBend({ ...asked, percent: 500 }, RUN_THROUGH);
  expect(never).toMatchObject({ ok: false, code: 'bends-no-further' });
  expect(never.ok || Number(never.data?.percent)).toBeLessThan(500);
  const { inputVolts, curve } = must(await runBend({ ...asked, percent: 1e-7 }, RUN_THROUGH));
  expect(curve).toHaveLength(1);
  expect(inputVolts).toBe(curve[0].volts);
});

test('it can be called off between tones', async () => {
  const signal = { aborted: false };
  const calledOff = await runBend({ ...asked, percent: 5 }, { ...RUN_THROUGH, signal, progress: (share) => void (signal.aborted = share > 0.2) });
  expect(calledOff).toMatchObject({ ok: false, code: 'cancelled' });
  expect(await runBend({ ...asked, variantId: 'nobody', percent: 5 }, RUN_THROUGH)).toMatchObject({ ok: false, code: 'no-such-variant' });
});
