import { createCrossover, createDriverWay, createPlan } from '../design/making/create';
import type { Design, Plan } from '../design/document/schema';
import { designStage } from '../design/stages/stage-design';
import type { AlignmentId } from '../filter/alignments/index';
import type { Driver } from '../loudspeaker/driver';
import { must } from '../result';

let made = 0;
/** Ids that no two things of a test share. */
export const makeId = () => `a${made++}`;
/** A resistor that radiates alike at all frequencies: what crossovers are written for. */
export const flatDriver = (id: string, kind: Driver['kind'] = 'woofer'): Driver => ({
  id,
  name: id,
  kind,
  nominalOhm: 8,
  impedance: { reOhm: 8, leHenry: 0, lossy: [], resonances: [] },
  measuredImpedance: null,
  response: { kind: 'curve', curve: { freqHz: [1, 1e5], values: [90, 90], phaseDeg: [0, 0] } },
  radiusM: 1e-4,
  safeFromHz: 100,
  maxWatts: 100,
  price: null,
});

/** Two ways that meet at 1 kHz, on such drivers, with exact values and no losses. */
export function twoWays(alignment: AlignmentId, order: number, turned: boolean): Design {
  const plan = (response: Plan['response']) => createPlan(makeId(), response, alignment, order, 1000);
  const [low, high] = [flatDriver('low'), flatDriver('high', 'tweeter')];
  const design = createCrossover(
    'test',
    (id) => [
      createDriverWay(id, 'Low', low, [plan('lowpass')]),
      createDriverWay(id, 'High', high, [plan('highpass')], { polarity: turned ? -1 : 1 }),
    ],
    [low, high],
    makeId,
  );
  return {
    ...design,
    brief: { ...design.brief, source: { name: 'a', ohm: 0 } },
    preferences: { ...design.preferences, grades: undefined },
    variants: design.variants.map((v) => ({
      ...v,
      listening: { fromHz: 20, toHz: 20e3, levelDb: 90, distanceM: 10, acrossDeg: 0, upDeg: 0, lowestOhm: 4 },
      ways: v.ways.map((way) => ({
        ...way,
        stages: way.stages.map((stage) => ({ ...stage, parts: exactParts(stage, way.plans, design) })),
      })),
    })),
  };
}
/** Exact values typed in, so that the series does not move them. */
function exactParts(stage: Design['variants'][0]['ways'][0]['stages'][0], plans: readonly Plan[], design: Design) {
  const { parts } = must(designStage(stage, null, design, [], plans));
  return Object.fromEntries(parts.map((p) => [p.spec.name, { use: { kind: 'single' as const, values: [p.exact] } }]));
}
