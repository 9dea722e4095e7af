import * as z from 'zod';
import { defineJob, requestOf, ofVariant, gridSchema } from '../define-job';
import type { AcSolver } from '../../analysis/ac/solver';
import { currentSource } from '../../circuit/elements/current-source';
import { GROUND } from '../../circuit/netlist';
import { assemble } from '../../circuit/structure';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import { createNetwork } from '../../design/making/create';
import type { Design, Stage, Variant, Way } from '../../design/document/schema';
import { designStage } from '../../design/stages/stage-design';
import { add, complex, divide, magnitude, subtract, type Complex } from '../../math/complex';
import { driverImpedance } from '../../loudspeaker/measured-impedance';
import { findHump, type Hump } from '../../loudspeaker/hump';
import { driverOf } from '../../design/compiled/netlist-writer';
import { priceOf } from '../../parts/grades';
import { driverNotch } from '../../topology/loudspeaker/driver-notch';
import { failure, success, type Result } from '../../result';
import type { PartKind } from '../../topology/kit/part';
import { runAcoustics } from './acoustics';
import type { Acoustics } from './acoustics-types';
import type { Grid } from '../define-job';

const humpSchema = z.object({ centreHz: z.number(), widthOct: z.number(), depthDb: z.number() });

/** What a hump is looked for on. */
const HUMP_OF = ['driver', 'way', 'sum'] as const;
export type HumpOf = (typeof HUMP_OF)[number];

const notchRequest = requestOf('notch-outlook', {
  ...ofVariant,
  wayId: z.string(),
  /** Absent: the largest is looked for. */
  hump: humpSchema.optional(),
  on: z.enum(HUMP_OF),
  /** Half as broad and twice as broad beside it. */
  widths: z.boolean().optional(),
  grid: gridSchema,
});
export type NotchRequest = z.infer<typeof notchRequest>;

export interface NotchOffer {
  readonly form: string;
  /** Octaves between the places where half of its decibels are gone. */
  readonly widthOct: number;
  readonly ohm: number;
  readonly parts: readonly { readonly name: string; readonly kind: PartKind; readonly value: number }[];
  readonly price: number;
  /** What it takes down at the centre, dB, and the load's least, ohm. */
  readonly tookDb: number;
  readonly lowestOhm: number | null;
  /** The deepest that the neighbourhood falls below the target with it, dB. */
  readonly dipDb: number;
  readonly wayDb: Float64Array;
  /** The stage to put before the driver. */
  readonly stage: Stage;
}
export interface NotchOutlook {
  readonly hump: Hump;
  readonly freqHz: Float64Array;
  readonly offers: readonly NotchOffer[];
}

/**
 * Both notches for a hump, each made for the impedance that there is where it would stand, with what it does to
 * response and load. Fails with `no-hump`, or as the design does.
 */
export function runNotchOutlook(
  { design, variantId, wayId, hump: given, on, widths = false, grid }: NotchRequest,
  solver: AcSolver,
): Result<NotchOutlook> {
  const variant = design.variants.find((v) => v.id === variantId);
  const way = variant?.ways.find((w) => w.id === wayId);
  if (!variant || !way) return failure('no-such-variant', { variant: variantId });
  const before = runAcoustics({ kind: 'acoustics', design, variantId, ghostVariantId: null, grid }, solver);
  if (!before.ok) return before;
  const hump = given ?? humpOf(before.value, variant.ways.indexOf(way), on);
  if (!hump) return failure('no-hump', { way: way.name, on });
  const seen = impedancesAtDriver(design, variant, way, hump.centreHz, solver);
  if (!seen.ok) return seen;
  const offers: NotchOffer[] = [];
  const asked = (widths ? BROADER : [1]).flatMap((broader) =>
    driverNotch.modes.map((form) => ({ form, hump: { ...hump, widthOct: broader * hump.widthOct } })),
  );
  for (const { form, hump } of asked) {
    const ohm =
      form === 'in line'
        ? magnitude(add(seen.value.behind, seen.value.driver))
        : magnitude(divide(multiply(seen.value.behind, seen.value.driver), add(seen.value.behind, seen.value.driver)));
    // What it works against is no resistance: made a little deeper or shallower until it takes what it should.
    let depthDb = hump.depthDb;
    let best: NotchOffer | null = null;
    for (let round = 0; round < ROUNDS; round++) {
      const offer = offerOf(design, variant, way, form, ohm, { ...hump, depthDb }, before.value, grid, solver);
      if (!offer.ok) return offer;
      if (!best || Math.abs(offer.value.tookDb - hump.depthDb) < Math.abs(best.tookDb - hump.depthDb))
        best = offer.value;
      depthDb = Math.min(
        DEEPEST_DB,
        Math.max(SHALLOWEST_DB, (depthDb * hump.depthDb) / Math.max(0.1, offer.value.tookDb)),
      );
    }
    if (best) offers.push(best);
  }
  return success({ hump, freqHz: before.value.freqHz, offers });
}

const ROUNDS = 4;
const BROADER = [0.5, 1, 2];
const [SHALLOWEST_DB, DEEPEST_DB] = [0.2, 25];

const multiply = (a: Complex, b: Complex): Complex => complex(a.re * b.re - a.im * b.im, a.re * b.im + a.im * b.re);

/** What lies before a way's driver with the source at rest, and the driver itself, ohm. */
function impedancesAtDriver(
  design: Design,
  variant: Variant,
  way: Way,
  freqHz: number,
  solver: AcSolver,
): Result<{ behind: Complex; driver: Complex }> {
  const driver = driverOf(design, way);
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return built;
  if (!driver) return failure('no-hump', { way: way.name });
  const node = built.value.ways[variant.ways.indexOf(way)].output;
  const elements = built.value.netlist.elements.map((e) => (e.name === 'Vin' ? { ...e, values: [0, 0] } : e));
  const probed = assemble({
    ...built.value.netlist,
    elements: [...elements, { name: 'probe', definition: currentSource, nodes: [GROUND, node], values: [1, 0] }],
  });
  const solved = solver.sweep(probed, Float64Array.of(freqHz), [node]);
  if (!solved.ok) return solved;
  const both = complex(solved.value[0][0], solved.value[0][1]);
  const own = driverImpedance(driver)(freqHz);
  // 1/behind = 1/both − 1/driver.
  return success({
    behind: divide(complex(1), subtract(divide(complex(1), both), divide(complex(1), own))),
    driver: own,
  });
}

function offerOf(
  design: Design,
  variant: Variant,
  way: Way,
  form: string,
  ohm: number,
  { centreHz, widthOct, depthDb }: Hump,
  before: Acoustics,
  grid: Grid,
  solver: AcSolver,
): Result<NotchOffer> {
  const { stage } = createNetwork(driverNotch, () => `notch-${form.replace(/ /g, '-')}`, {
    form,
    parameters: { centreHz, widthOct, depthDb, ohm },
  });
  const designed = designStage(stage, null, design, variant.controls, way.plans);
  if (!designed.ok) return designed;
  const w = variant.ways.indexOf(way);
  const changed: Variant = {
    ...variant,
    ways: variant.ways.map((other) => (other === way ? { ...way, stages: [...way.stages, stage] } : other)),
  };
  const after = runAcoustics(
    {
      kind: 'acoustics',
      design: { ...design, variants: design.variants.map((v) => (v === variant ? changed : v)) },
      variantId: variant.id,
      ghostVariantId: null,
      grid,
    },
    solver,
  );
  if (!after.ok) return after;
  const at = nearest(before.freqHz, centreHz);
  const { levelDb: wayDb, targetDb } = after.value.ways[w];
  const around = Array.from(before.freqHz.keys()).filter(
    (i) => Math.abs(Math.log2(before.freqHz[i] / centreHz)) < widthOct * 1.5 && targetDb[i] > before.targetLevelDb - 6,
  );
  return success({
    form,
    widthOct,
    ohm,
    stage,
    wayDb,
    parts: designed.value.parts.map((p) => ({ name: p.spec.name, kind: p.spec.kind, value: p.chosen })),
    price: designed.value.parts.reduce((sum, p) => sum + (p.grade ? priceOf(p.chosen, p.grade) : 0), 0),
    tookDb: before.ways[w].levelDb[at] - wayDb[at],
    lowestOhm: after.value.load?.lowestOhm ?? null,
    dipDb: Math.min(0, ...around.map((i) => wayDb[i] - targetDb[i])),
  });
}

const nearest = (freqHz: Float64Array, hz: number): number =>
  freqHz.reduce((best, f, i) => (Math.abs(Math.log(f / hz)) < Math.abs(Math.log(freqHz[best] / hz)) ? i : best), 0);
/** A way plays where its target is within so many decibels of the level, and its humps are heard there. */
const HEARD_DB = 12;

/** The largest hump of what is in front: the driver by itself, the way as it is filtered, or the sum of all. */
function humpOf({ ways, sumDb, targetDb, freqHz, targetLevelDb, flat }: Acoustics, w: number, on: HumpOf): Hump | null {
  const way = ways[w];
  const heard = Array.from(freqHz.keys()).filter((i) => way.targetDb[i] > targetLevelDb - HEARD_DB);
  if (heard.length === 0) return null;
  const [fromHz, toHz] = [
    Math.max(flat.fromHz, freqHz[heard[0]]),
    Math.min(flat.toHz, freqHz[heard[heard.length - 1]]),
  ];
  const levelDb = {
    // By itself a driver has no slope to take off: what rises is its own.
    driver: way.bareDb ?? way.levelDb,
    way: way.levelDb.map((level, i) => level - way.targetDb[i]),
    sum: sumDb.map((level, i) => level - targetDb[i]),
  }[on];
  return findHump(levelDb, freqHz, fromHz, toHz);
}

export const notchJob = defineJob(notchRequest, (request, { solver }) => runNotchOutlook(request, solver));
