import { AcSolver } from '../../analysis/ac/solver';
import { demoDesigns } from '../../design/demo/demo';
import { must } from '../../result';
import { RUN_THROUGH } from '../job-context';
import { runAcoustics } from '../loudspeaker/acoustics';
import { crossoverSound } from './crossover-sound';
import { runListen } from './listen';

const solver = new AcSolver();
const design = demoDesigns().find((d) => d.title.startsWith('Tone cabinet, two'))!;
const [variant] = design.variants;
const RATE = 48_000;
const sine = (hz: number) => Float64Array.from({ length: RATE }, (_, i) => Math.sin((2 * Math.PI * hz * i) / RATE));
/** Size of a tone in the second half of a sound, when all has settled. */
function sizeOf(sound: Float64Array, hz: number): number {
  let [re, im] = [0, 0];
  const from = sound.length / 2;
  for (let i = from; i < sound.length; i++) {
    const turn = (2 * Math.PI * hz * i) / RATE;
    re += sound[i] * Math.cos(turn);
    im += sound[i] * Math.sin(turn);
  }
  return (2 * Math.hypot(re, im)) / (sound.length - from);
}

test.each([120, 1000, 2200, 4000, 9000])(
  'a tone of %d Hz is as loud as the curves say: of the sum, and of each way',
  (hz) => {
    const heard = must(
      runAcoustics(
        {
          kind: 'acoustics',
          design,
          variantId: variant.id,
          ghostVariantId: null,
          grid: { fromHz: hz, toHz: hz * 1.0001, points: 2 },
        },
        solver,
      ),
    );
    const db = (part: Parameters<typeof crossoverSound>[2]) =>
      20 * Math.log10(sizeOf(must(crossoverSound(design, variant, part, sine(hz), RATE, solver)), hz));
    expect(Math.abs(db('sum') - (heard.sumDb[0] - heard.targetLevelDb))).toBeLessThan(0.1);
    for (const way of heard.ways) {
      const level = way.levelDb[0] - heard.targetLevelDb;
      if (level > -60) expect(Math.abs(db({ way: way.name }) - level)).toBeLessThan(0.1);
    }
  },
);

test('two slopes are heard at one loudness, and differ; no volts are claimed for what is air', async () => {
  const hear = async (variantId: string, part: 'sum' | { way: string }) =>
    must(
      await runListen(
        {
          kind: 'listen',
          design,
          variantId,
          source: 'saw',
          notesHz: [220],
          noteS: 0.3,
          volts: 1,
          envelope: null,
          part,
        },
        RUN_THROUGH,
        () => 0,
        solver,
      ),
    );
  const [formula, fitted] = await Promise.all(design.variants.map((v) => hear(v.id, 'sum')));
  const rms = (x: Float32Array) => Math.sqrt(x.reduce((sum, v) => sum + v * v, 0) / x.length);
  expect(rms(fitted.samples) / rms(formula.samples)).toBeCloseTo(1, 1);
  expect(formula.samples.some((v, i) => Math.abs(v - fitted.samples[i]) > 0.02)).toBe(true);
  expect(formula).toMatchObject({ peakVolts: null, rmsVolts: null, exact: true });
  // A tweeter by itself has none of a saw's first harmonics: it is another sound than the woofer's.
  const [low, high] = [await hear(variant.id, { way: 'Woofer' }), await hear(variant.id, { way: 'Tweeter' })];
  const slope = (x: Float32Array) => x.reduce((sum, v, i) => sum + (i > 0 ? (v - x[i - 1]) ** 2 : 0), 0) / rms(x) ** 2;
  expect(slope(high.samples)).toBeGreaterThan(10 * slope(low.samples));
});

test('a way that another variant calls otherwise is said, not left silent', () => {
  expect(crossoverSound(design, variant, { way: 'Top' }, sine(1000), RATE, solver)).toMatchObject({
    ok: false,
    code: 'no-such-way',
    data: { way: 'Top' },
  });
});
