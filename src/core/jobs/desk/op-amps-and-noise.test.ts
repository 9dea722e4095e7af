import { dominantSection } from '../../analysis/roots/poles';
import { AS_BUILT, compile, compileStage } from '../../design/compiled/compile';
import { createDesign, createPlan } from '../../design/making/create';
import type { Design } from '../../design/document/schema';
import { designWay, type DesignedSection } from '../../design/stages/stage-design';
import { withTopology } from '../../design/making/with-topology';
import { must } from '../../result';
import { OP_AMPS } from '../../device/op-amps';
import { lonePath, withStages } from '../../testing/lone-path';
import { pathNoise } from './path-noise';
import { JobRunner } from '../run-job';

let n = 0;
const makeId = () => `o${n++}`;
const runner = new JobRunner();
const bare = (design: Design): Design => ({
  ...design,
  brief: { ...design.brief, source: { name: '', ohm: 0 }, load: { name: '', ohm: null } },
});
const filter = (order: number, cutoffHz: number, topology: string, patch: object = {}): Design => {
  const design = bare(
    createDesign('t', (id) => [{ ...createPlan(id(), 'lowpass', 'butterworth', order, cutoffHz), ...patch }], makeId),
  );
  return { ...design, variants: design.variants.map((v) => withTopology(v, topology)) };
};
const ask = (design: Design) => ({ design, variantId: design.currentVariant });
const K = 1.380649e-23;
const T = 300.15;

test('the noise of an RC behind a follower is √(kT/C) and the op-amp’s own over the band', async () => {
  const design = filter(1, 100, 'first-order-buffered');
  const range = must(await runner.run<'range'>({ kind: 'range', ...ask(design) }));
  const device = (await import('../../device/op-amps')).OP_AMPS[0];
  const [stage] = must(designWay(design.variants[0].ways[0], design, [])).stages;
  const C = stage.parts.find((p) => p.spec.name === 'C1')!.chosen;
  const R = stage.parts.find((p) => p.spec.name === 'R1')!.chosen;
  // From 20 Hz on the resistor's part is 4kTR ∫ df/(1 + (f/fc)²); the op-amp's e² (B + fl ln(20k/20)).
  const fc = 1 / (2 * Math.PI * R * C);
  const thermal = 4 * K * T * R * fc * (Math.atan(20e3 / fc) - Math.atan(20 / fc));
  const own = device.noiseVoltsPerRtHz ** 2 * (20e3 - 20 + 50 * Math.log(1000));
  expect(range.noiseV / Math.sqrt(thermal + own)).toBeCloseTo(1, 1);
  expect(range.stages[0].noiseV).toBeCloseTo(range.noiseV, 12);
});

test('stage by stage: powers add up to the whole, and the sharp stage’s own peak shows where it stands', async () => {
  const design = filter(6, 1000, 'sallen-key-unity-gain', { stageOrder: 'high-q-first' });
  const range = must(await runner.run<'range'>({ kind: 'range', ...ask(design) }));
  const sum = range.stages.reduce((power, s) => power + s.noiseV ** 2, 0);
  expect(Math.sqrt(sum) / range.noiseV).toBeCloseTo(1, 6);
  // The Q of 1.93 first: it peaks at Q/√(1 − 1/4Q²), 6.0 dB; low Q first never rises.
  const q = 1 / (2 * Math.cos((75 * Math.PI) / 180));
  expect(range.stages[0].peakDb).toBeCloseTo(20 * Math.log10(q / Math.sqrt(1 - 1 / (4 * q * q))), 0);
  expect(range.forHeadroom.peakDb).toBeLessThan(0.5);
  expect(range.forHeadroom.order).not.toEqual(range.now.order);
  expect(range.forNoise.noiseV).toBeLessThanOrEqual(range.now.noiseV * (1 + 1e-9));
});

test(
  'op-amps swapped: the quick one misses less, the quiet one is quieter, the decompensated one would ' + 'oscillate',
  async () => {
    const fine = filter(4, 10e3, 'sallen-key-unity-gain');
    const verdicts = must(
      await runner.run<'op-amp-swap'>({
        kind: 'op-amp-swap',
        ...ask({ ...fine, preferences: { ...fine.preferences, resistorSeries: 'E192' } }),
      }),
    );
    const of = (id: string) => verdicts.find((v) => v.id === id)!;
    expect(verdicts.filter((v) => v.current).map((v) => v.id)).toEqual(['jfet-audio-3mhz']);
    expect(of('fast-50mhz-decompensated').stable).toBe(false);
    expect(of('low-noise-bipolar-10mhz').stable).toBe(true);
    expect(Math.abs(of('low-noise-bipolar-10mhz').movesDb!)).toBeLessThan(Math.abs(of('micropower-1mhz').movesDb!));
    expect(of('low-noise-bipolar-10mhz').signalToNoiseDb).toBeGreaterThan(of('micropower-1mhz').signalToNoiseDb!);
    // 1 V RMS at 10 kHz wants 0.09 V/µs.
    expect(of('micropower-1mhz').slewShare).toBeCloseTo((2 * Math.PI * 10e3 * Math.SQRT2) / 0.5e6, 1);
  },
);

test('aimed elsewhere, the real op-amp brings the section where it belongs', async () => {
  const design = filter(2, 8000, 'multiple-feedback', {});
  const grid = { fromHz: 100, toHz: 100e3, points: 201 };
  const desk = must(await runner.run<'desk'>({ kind: 'desk', ...ask(design), ghostVariantId: null, grid }));
  const check = desk.checks.find((c) => c.code === 'bandwidth')!;
  expect(check.cure?.kind).toBe('predistort');
  const factors = check.cure as Extract<typeof check.cure, { kind: 'predistort' }>;
  const landed = (of: Design) => {
    const stage = must(designWay(of.variants[0].ways[0], of, [])).stages[0] as DesignedSection;
    return dominantSection(compileStage(of, stage, { values: 'exact', devices: 'real' }), 2, 8000)!;
  };
  const aimed = withStages(design, () => ({ predistortion: { freq: factors.freq, q: factors.q } }));
  const [before, after] = [landed(design), landed(aimed)];
  expect(Math.abs(before.freqHz / 8000 - 1)).toBeGreaterThan(0.005);
  expect(Math.abs(after.freqHz / 8000 - 1)).toBeLessThan(Math.abs(before.freqHz / 8000 - 1) / 5);
  expect(Math.abs(after.q! / Math.SQRT1_2 - 1)).toBeLessThan(Math.abs(before.q! / Math.SQRT1_2 - 1) / 2 + 1e-4);
});

test(
  'what an op-amp makes of the pass band: a gain of ten at its gain-bandwidth, by the closed form of ' + 'one pole',
  async () => {
    const design = lonePath({ topology: 'buffer', form: 'lowpass', wanted: { gainDb: 20 } });
    const exact = { ...design, preferences: { ...design.preferences, resistorSeries: 'E192' as const } };
    const verdicts = must(await runner.run<'op-amp-swap'>({ kind: 'op-amp-swap', ...ask(exact) }));
    const [stage] = must(designWay(exact.variants[0].ways[0], exact, [])).stages;
    const part = (name: string) => stage.parts.find((p) => p.spec.name === name)!.chosen;
    const gain = 1 + part('Rb') / part('Ra');
    for (const { dcGainDb, gainBandwidthHz, outputOhm, id } of OP_AMPS.filter((o) => o.unityGainStable)) {
      // G/(1 + G/A), A = 1/(1/A0 + j f/fT), less what its output resistance drops before the divider: over 20 Hz to 20
      // kHz the end at the top is furthest off.
      const lost = 1 + outputOhm / (part('Ra') + part('Rb'));
      const [dc, turn] = [(lost * gain) / 10 ** (dcGainDb / 20), (lost * gain * 20e3) / gainBandwidthHz];
      const moved = -10 * Math.log10((1 + dc) ** 2 + turn ** 2);
      const verdict = verdicts.find((v) => v.id === id)!;
      expect([id, Math.abs(verdict.movesDb!) / Math.abs(moved)]).toEqual([id, expect.closeTo(1, 2)]);
    }
  },
);

test('A-weighted noise of an RC with an ideal follower: 4kTR under the weighting’s own formula', () => {
  const design = lonePath(
    { topology: 'first-order-buffered', form: 'lowpass', wanted: { freqHz: 800 } },
    { device: 'ideal' },
  );
  const built = must(compile(design, design.variants[0], AS_BUILT));
  const noise = must(pathNoise(built));
  const part = (name: string) => built.ways[0].stages[0].parts.find((p) => p.spec.name === name)!.chosen;
  const [R, fc] = [part('R1'), 1 / (2 * Math.PI * part('R1') * part('C1'))];
  // IEC 61672-1, equation E.6, with its own pole frequencies to four places; 2.000 dB at 1 kHz taken off.
  const weight = (f: number) => {
    const [f1, f2, f3, f4] = [20.599, 107.6527, 737.8622, 12194.217].map((p) => p * p);
    const square = f * f;
    return (
      ((f4 * square * square) / ((square + f1) * Math.sqrt((square + f2) * (square + f3)) * (square + f4))) *
      10 ** (2 / 20)
    );
  };
  const n = 20_000;
  const power = (of: (f: number) => number) => {
    let sum = 0;
    for (let i = 0; i < n; i++) {
      const [a, b] = [20 * 1000 ** (i / n), 20 * 1000 ** ((i + 1) / n)];
      const middle = Math.sqrt(a * b);
      sum += ((4 * K * T * R) / (1 + (middle / fc) ** 2)) * of(middle) ** 2 * (b - a);
    }
    return sum;
  };
  expect(noise.aWeightedV / Math.sqrt(power(weight))).toBeCloseTo(1, 3);
  expect(noise.totalV / Math.sqrt(power(() => 1))).toBeCloseTo(1, 4);
});

test.each([
  [4.9, false],
  [5.1, true],
])('an op-amp that wants a noise gain of five is %d: stable %s', async (gain, stable) => {
  const design = lonePath({ topology: 'buffer', form: 'lowpass', wanted: { gainDb: 20 * Math.log10(gain) } });
  const exact = { ...design, preferences: { ...design.preferences, resistorSeries: 'E192' as const } };
  const verdicts = must(await runner.run<'op-amp-swap'>({ kind: 'op-amp-swap', ...ask(exact) }));
  expect(verdicts.find((v) => v.id === 'fast-50mhz-decompensated')!.stable).toBe(stable);
});
