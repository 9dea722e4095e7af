import { cellOhmOf } from '../circuit/elements/optocoupler';
import { createNetwork } from '../design/making/create';
import { AS_BUILT, compile } from '../design/compiled/compile';
import { base, makeId } from '../topology/testing/designed-network';
import { optocouplerGate } from '../topology/voice/optocoupler-gate';
import { must } from '../result';
import { conditionFactor, photocellSchema, photocellValues, USUAL_PHOTOCELL, type Photocell } from './photocell';

const at = (cell: Photocell, amps: number) => cellOhmOf(photocellValues(cell).values, 1000 * amps);

test(
  'the law passes through every point of its table, straight between them on logarithms, and goes on ' +
    'past the ends',
  () => {
    const cell: Photocell = {
      ...USUAL_PHOTOCELL,
      darkOhm: 1e12,
      points: [
        [1e-5, 200e3],
        [1e-4, 20e3],
        [1e-3, 3e3],
        [5e-3, 900],
        [2e-2, 400],
      ],
    };
    for (const [amps, ohm] of cell.points) expect(at(cell, amps) / ohm).toBeCloseTo(1, 6);
    expect(at(cell, Math.sqrt(1e-5 * 1e-4)) / Math.sqrt(200e3 * 20e3)).toBeCloseTo(1, 6);
    expect(at(cell, Math.sqrt(5e-3 * 2e-2)) / Math.sqrt(900 * 400)).toBeCloseTo(1, 6);
    expect(at(cell, 1e-6) / 2e6).toBeCloseTo(1, 5);
  },
);

test('in the dark it is what it is said to be; warmth and the light it had before move the rest', () => {
  expect(at(USUAL_PHOTOCELL, 1e-12) / USUAL_PHOTOCELL.darkOhm).toBeCloseTo(1, 2);
  expect(conditionFactor({ ...USUAL_PHOTOCELL, temperatureC: 35, perDegreePct: 0.4 })).toBeCloseTo(1.04, 12);
  const [rested, lit] = (['rested', 'lit'] as const).map((history) =>
    conditionFactor({ ...USUAL_PHOTOCELL, history, memoryPct: 36 }),
  );
  expect(rested / lit).toBeCloseTo(1 - 0.36, 12);
});

test('a table that rises, or has too few points, is refused', () => {
  expect(
    photocellSchema.safeParse({
      ...USUAL_PHOTOCELL,
      points: [
        [1e-4, 1e3],
        [1e-3, 2e3],
      ],
    }).success,
  ).toBe(false);
  expect(
    photocellSchema.safeParse({
      ...USUAL_PHOTOCELL,
      points: [
        [1e-3, 1e3],
        [1e-4, 2e3],
      ],
    }).success,
  ).toBe(false);
  expect(photocellSchema.safeParse({ ...USUAL_PHOTOCELL, points: [[1e-4, 1e3]] }).success).toBe(false);
  expect(photocellSchema.safeParse(USUAL_PHOTOCELL).success).toBe(true);
});

test('the gate’s circuit has the cell of the design: its rest follows the table', () => {
  const photocell: Photocell = {
    ...USUAL_PHOTOCELL,
    points: [
      [1e-5, 300e3],
      [1e-3, 1e3],
      [1e-2, 500],
    ],
  };
  const { stage, controls } = createNetwork(optocouplerGate, makeId, {
    form: 'gate',
    parameters: { cellOhm: 5e3, shuntOhm: 10e3 },
  });
  const design = {
    ...base,
    preferences: { ...base.preferences, photocell },
    brief: { ...base.brief, source: { name: 's', ohm: 0 }, load: { name: 'l', ohm: null } },
  };
  const variant = {
    ...design.variants[0],
    controls,
    ways: design.variants[0].ways.map((w) => ({ ...w, stages: [{ ...stage, device: 'ideal' }] })),
  };
  const built = must(compile(design, variant, AS_BUILT));
  // The lamp's current for 5 kΩ, from the table's first stretch: 300 k to 1 k over two decades.
  const slope = Math.log(300) / Math.log(100);
  const milliamps = 0.01 * (300e3 / 5e3) ** (1 / slope);
  const light = built.live!.rest[built.live!.circuit.structure.nodeOf(`${stage.id}.light1`)!];
  expect(light / milliamps).toBeCloseTo(1, 2);
});
