import { AcSolver } from '../../analysis/ac/solver';
import { must } from '../../result';
import { flatDriver, twoWays } from '../../testing/flat-two-way';
import { runAngles, runDecay } from './speaker-views';

const solver = new AcSolver();
const grid = { fromHz: 20, toHz: 20e3, points: 241 };

test('off the axis two drivers apart dip where their paths differ by half a wave, as geometry says', () => {
  const design = twoWays('linkwitz-riley', 4, false);
  const apart = {
    ...design,
    variants: design.variants.map((v) => ({
      ...v,
      ways: v.ways.map((way, i) => ({ ...way, position: { acrossM: 0, upM: i === 0 ? -0.1 : 0.1, backM: 0 } })),
    })),
  };
  const got = must(
    runAngles({ kind: 'angles', design: apart, variantId: apart.currentVariant, grid, lobeHz: 1000 }, solver),
  );
  // 0.2 m apart, half a wave of 0.343 m: sin θ = 0.1715/0.2.
  const wanted = (Math.asin(0.1715 / 0.2) * 180) / Math.PI;
  const dip = got.lobe.upDb.reduce(
    (best, v, i) => (got.lobe.deg[i] > 0 && v < got.lobe.upDb[best] ? i : best),
    got.lobe.deg.length - 1,
  );
  expect(Math.abs(got.lobe.deg[dip] - wanted)).toBeLessThanOrEqual(3);
  expect(got.window.toDeg).toBeLessThan(wanted);
});

test('a resonance rings on in the decay as its Q says', () => {
  const design = twoWays('linkwitz-riley', 4, false);
  const q = 20;
  const ringing = {
    ...flatDriver('low'),
    response: {
      kind: 'model' as const,
      sensitivityDb: 90,
      lowHz: 1,
      lowQ: 0.7,
      topHz: 1e5,
      topQ: 0.7,
      bumps: [{ freqHz: 2000, q, gainDb: 20 }],
    },
  };
  const alone = {
    ...design,
    drivers: [ringing, ringing],
    variants: design.variants.map((v) => ({
      ...v,
      ways: [
        { ...v.ways[0], stages: [], plans: [], load: { kind: 'driver' as const, driver: 'low', amplifier: null } },
      ],
    })),
  };
  const { slices, freqHz } = must(
    runDecay({ kind: 'decay', design: alone, variantId: alone.currentVariant, ghostVariantId: null }, solver),
  );
  const at = freqHz.findIndex((f) => f >= 2000);
  const [early, late] = [slices.find((s) => s.ms === 1)!, slices.find((s) => s.ms === 3)!];
  // Its denominator’s Q is q times the root of its height: it falls by π f/Q nepers a second.
  const wanted = (8.686 * Math.PI * 2000 * 2e-3) / (q * 10 ** 0.5);
  expect(Math.abs(early.levelDb[at] - late.levelDb[at] - wanted)).toBeLessThan(0.35 * wanted);
});
