import { sweepSamples, type Sweep } from '../../measure/sweep';
import { must } from '../../result';
import { seeded } from '../../testing/seeded';
import { demoDesigns } from '../../design/demo/demo';
import { JobRunner } from '../run-job';

const runner = new JobRunner();
const [design] = demoDesigns();
const RATE = 100_000;
const SWEEP: Sweep = { fromHz: 50, toHz: 10e3, seconds: 0.5, rateHz: RATE, levelDbfs: 0 };

const analysed = (samples: Float64Array, source: Float64Array | null, rateHz = RATE, sweep = SWEEP) =>
  runner.run<'analyse-capture'>({
    kind: 'analyse-capture',
    design,
    variantId: design.currentVariant,
    samples,
    source,
    rateHz,
    sweep,
  });

/** R and C of 1 kHz, exactly over each sample for a voltage straight between samples. */
function lowPassed(source: Float64Array, rateHz = RATE): Float64Array {
  const tau = (rateHz * 1) / (2 * Math.PI * 1000);
  const decay = Math.exp(-1 / tau);
  let [y, before] = [0, source[0]];
  return source.map((u) => {
    y = y * decay + before * (1 - decay) + (u - before) * (1 - tau * (1 - decay));
    before = u;
    return y;
  });
}
/** A tone that rises evenly with time: no law that the desk plays. */
const chirp = Float64Array.from({ length: 50_000 }, (_, i) => {
  const t = i / RATE;
  return 0.8 * Math.sin(2 * Math.PI * (50 * t + ((10e3 - 50) / 0.5 / 2) * t * t));
});
/** In steps of eight bits of a range of ±2 V, with half a step of noise, beside an offset. */
const scoped = (samples: Float64Array, seed: string, offset = 0.3): Float64Array => {
  const next = seeded(seed);
  return samples.map((v) => Math.round((v + offset) * 64 + next() - 0.5) / 64);
};
const first = (f: number) => {
  const x = f / 1000;
  return { db: -10 * Math.log10(1 + x * x), deg: (-Math.atan(x) * 180) / Math.PI };
};

test('two channels of eight bits tell a circuit whatever was played, within 0.3 dB and 2°', async () => {
  const found = must(await analysed(scoped(lowPassed(chirp), 'out'), scoped(chirp, 'in', -0.1)));
  let points = 0;
  found.freqHz.forEach((f, i) => {
    if (f < 90 || f > 8000) return;
    points++;
    expect(Math.abs(found.levelDb[i] - first(f).db)).toBeLessThan(0.3);
    expect(Math.abs(found.phaseDeg[i] - first(f).deg)).toBeLessThan(2);
    // What eight bits leave is said, and lies under the level.
    expect(found.noiseDb[i]).toBeLessThan(found.levelDb[i] - 15);
  });
  expect(points).toBeGreaterThan(140);
});

test('more noise is more noise: its estimate is of the size of what was added', async () => {
  const noisy = (size: number) => {
    const next = seeded('noise');
    return lowPassed(chirp).map((v) => v + size * (next() + next() + next() - 1.5) * 2);
  };
  const [little, much] = [must(await analysed(noisy(0.02), chirp)), must(await analysed(noisy(0.2), chirp))];
  const middle = Math.floor(little.freqHz.length / 2);
  expect(much.noiseDb[middle] - little.noiseDb[middle]).toBeGreaterThan(14);
  expect(much.noiseDb[middle] - little.noiseDb[middle]).toBeLessThan(26);
});

test('one channel is held against the sweep that was played; its level is its own', async () => {
  const played = must(sweepSamples(SWEEP));
  const late = new Float64Array(played.length + 2000);
  late.set(
    lowPassed(played).map((v) => 3 * v),
    1500,
  );
  const found = must(await analysed(late, null));
  const [low, high] = [100, 5000].map((hz) => found.freqHz.findIndex((f) => f >= hz));
  const expected = first(found.freqHz[high]).db - first(found.freqHz[low]).db;
  // A voltage that is straight between samples has lost 0.07 dB of 5 kHz.
  expect(Math.abs(found.levelDb[high] - found.levelDb[low] - expected)).toBeLessThan(0.1);
});

test('a capture far finer than its tones is thinned to the same; one too coarse is refused', async () => {
  const rateHz = 2_000_000;
  const fine = Float64Array.from({ length: 400_000 }, (_, i) =>
    Math.sin(2 * Math.PI * (50 + (2e3 * i) / rateHz / 0.2 / 2) * (i / rateHz)),
  );
  const sweep = { ...SWEEP, toHz: 2000 };
  const found = must(await analysed(lowPassed(fine, rateHz), fine, rateHz, sweep));
  const at = found.freqHz.findIndex((f) => f >= 1000);
  expect(Math.abs(found.levelDb[at] - first(found.freqHz[at]).db)).toBeLessThan(0.2);
  expect(await analysed(chirp, null, 15_000)).toMatchObject({
    ok: false,
    code: 'capture-too-coarse',
    data: { neededHz: expect.closeTo(20_202, 0) },
  });
});

test.each([
  ['a silent source', new Float64Array(4096), chirp.subarray(0, 4096), 'reference'],
  ['a silent output', chirp.subarray(0, 4096), new Float64Array(4096), 'recording'],
])('%s is said', async (_, source, samples, what) => {
  expect(await analysed(samples, source)).toMatchObject({ ok: false, code: 'silent-recording', data: { what } });
});
