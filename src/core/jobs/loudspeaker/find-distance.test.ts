import { demoDesigns } from '../../design/demo/demo';
import type { Design } from '../../design/document/schema';
import { logGrid } from '../../math/grid';
import { must } from '../../result';
import { seeded } from '../../testing/seeded';
import { AcSolver } from '../../analysis/ac/solver';
import { JobRunner } from '../run-job';
import { builtVariant } from '../reading/built-variant';
import { driverResponse } from '../../loudspeaker/driver-response';

const runner = new JobRunner();
const design = demoDesigns().find((d) => d.title.includes('Tone cabinet, two-way')) as Design;
const variantOf = (d: Design) => d.variants.find((v) => v.id === d.currentVariant) as Design['variants'][number];
const freqHz = logGrid(300, 15e3, 140);

/**
 * What a microphone on the axis of the origin, so far away, has of both drivers: each voltage through its driver's
 * response, over its way and later by it, whole; the tweeter so many metres further back than the design has it.
 */
function heard(d: Design, furtherM: number, noiseDb = 0): number[] {
  const variant = variantOf(d);
  const built = must(builtVariant(d, variant.id));
  const rows = must(
    new AcSolver().sweep(
      built.circuit,
      freqHz,
      built.ways.map((w) => w.output),
    ),
  );
  const next = seeded('room');
  const distanceM = variant.listening?.distanceM ?? 2;
  return Array.from(freqHz, (f, i) => {
    let [re, im] = [0, 0];
    variant.ways.forEach((way, w) => {
      const load = way.load.kind === 'driver' ? way.load.driver : '';
      const driver = d.drivers?.find((x) => x.id === load);
      if (!driver) throw new Error('no driver');
      const [p, q] = driverResponse(driver, Float64Array.of(f));
      const { acrossM = 0, upM = 0, backM = 0 } = way.position ?? {};
      const far = Math.hypot(distanceM + backM + (w === 1 ? furtherM : 0), acrossM, upM);
      const turn = (-2 * Math.PI * f * far) / 343;
      const [c, s] = [(way.polarity * Math.cos(turn)) / far, (way.polarity * Math.sin(turn)) / far];
      const [a, b] = [rows[w][2 * i], rows[w][2 * i + 1]];
      const [x, y] = [a * p - b * q, a * q + b * p];
      re += x * c - y * s;
      im += x * s + y * c;
    });
    return 20 * Math.log10(Math.hypot(re, im)) + 7 + noiseDb * (next() - 0.5);
  });
}
const find = async (levelDb: number[], of = design) =>
  runner.run<'find-distance'>({
    kind: 'find-distance',
    design: of,
    variantId: of.currentVariant,
    freqHz: [...freqHz],
    levelDb,
    setting: null,
  });
/** The tweeter turned over, as it is measured for its null. */
const reversed: Design = {
  ...design,
  variants: design.variants.map((v) => ({
    ...v,
    ways: v.ways.map((w, i) => (i === 1 ? { ...w, polarity: w.polarity === 1 ? -1 : 1 } : w)),
  })),
};

test.each([-0.02, 0, 0.013, 0.03])(
  'a tweeter %d m further back is found to 2 mm, from a null and from a sum',
  async (off) => {
    for (const cabinet of [reversed, design]) {
      const { ways, setDb, foundDb } = must(await find(heard(cabinet, off, 0.4), cabinet));
      expect(ways).toHaveLength(1);
      expect(Math.abs(ways[0].foundM - ways[0].setM - off)).toBeLessThan(0.002);
      expect(foundDb).toBeLessThan(0.5);
      if (off !== 0) expect(setDb).toBeGreaterThan(foundDb);
    }
  },
);

test('one way, or ways that are joined by wire, have no distance to be found', async () => {
  const [filter] = demoDesigns();
  expect(await find(heard(design, 0), filter)).toMatchObject({ ok: false, code: 'not-acoustic' });
  const few = await runner.run<'find-distance'>({
    kind: 'find-distance',
    design,
    variantId: design.currentVariant,
    freqHz: [100, 200],
    levelDb: [0, 0],
    setting: null,
  });
  expect(few).toMatchObject({ ok: false, code: 'nothing-measured' });
});
