import * as z from 'zod';
import { MOST_BANDS } from '../../filter/bank';
import { OP_AMP_IDS, opAmpSchema } from '../../device/op-amps';
import { photocellSchema } from '../../device/photocell';
import { SERIES_IDS } from '../../parts/preferred';
import { driverSchema, faultOfColumns, curveSchema } from '../../loudspeaker/driver';
import { TURNED } from '../../parts/grades';
import { playedSchema } from './played';
import { settingSchema } from './setting-schema';

import { checkWay } from './check-way';
import { decibel, hertz, id, MANY, MOST_POINTS, name, ohm } from './fields';
import type { planSchema, stageSchema, partChoiceSchema, partControlSchema } from './way-schema';
import { waySchema, gradeId } from './way-schema';

export const DESIGN_FORMAT = 'jaunty-reed-design';
export const DESIGN_VERSION = 8;

export const maskLimitSchema = z.object({
  id,
  kind: z.enum(['at-most', 'at-least']).describe('at most, or at least, this far down'),
  freqHz: hertz,
  side: z.enum(['below', 'above']).describe('holds from the frequency down, or up'),
  db: z.number().min(0).max(200).describe('dB down from the pass band'),
  upDb: z
    .number()
    .min(0)
    .max(200)
    .optional()
    .describe('of a pass limit, dB above the pass band; as far as below when absent'),
});

export const nuisanceSchema = z.object({
  id,
  name,
  kind: z.enum(['tone', 'band']),
  fromHz: hertz,
  toHz: hertz.describe('of a band; a tone’s is the same as fromHz'),
  levelDb: decibel.describe('at the source, dB re the signal'),
});

export const briefSchema = z.object({
  note: z.string().max(4000),
  signalVolts: z.number().positive().max(100).describe('V RMS at the source'),
  supply: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('dual'), volts: z.number().min(1).max(60).describe('each rail, V') }),
    z.object({ kind: z.literal('single'), volts: z.number().min(1).max(60).describe('V'), virtualGroundOhm: ohm }),
  ]),
  source: z.object({ name, ohm: z.number().min(0).max(1e9).describe('ohm') }),
  load: z.object({ name, ohm: ohm.nullable().describe('ohm; null for none') }),
  mask: z.array(maskLimitSchema).max(MANY),
  nuisances: z.array(nuisanceSchema).max(MANY).describe('sounds whose level is read with and without the circuit'),
});

const share = z.number().min(0).max(1);
const taperSchema = z.union([
  z.enum(['linear', 'log', 'reverse-log']),
  z
    .object({
      points: z
        .array(z.tuple([share, share]))
        .min(2)
        .max(101)
        .refine((points) => points.every(([x, y], i) => i === 0 || (x > points[i - 1][0] && y >= points[i - 1][1])), {
          error: 'rotations rise, and shares never fall',
        }),
    })
    .describe('measured: rotation and share of the track'),
]);
export const controlSchema = z.object({
  id,
  name,
  kind: z.enum(['pot', 'cv', 'lamp', 'switch', 'pedal']),
  position: share,
  taper: taperSchema,
});

export const bankSchema = z.object({
  rule: z.enum(['octave', 'two-thirds', 'half', 'third', 'free']),
  firstHz: hertz,
  count: z.int().min(2).max(MOST_BANDS),
  centresHz: z.array(hertz).max(MOST_BANDS),
  stages: z.int().min(1).max(3),
  flatnessDb: z.number().min(0.01).max(3),
  ends: z.boolean(),
});

export const batchSchema = z.object({
  id,
  name,
  matchPct: z.number().min(0).max(50).describe('how far its parts lie from one another, per cent'),
  parts: z
    .array(z.object({ stage: id, part: z.string().max(20) }))
    .min(1)
    .max(2000),
});

const coilPlace = z.object({ stage: id, part: z.string().max(20) });
export const couplingSchema = z.object({
  id,
  first: coilPlace,
  second: coilPlace,
  distanceM: z.number().min(0.005).max(2).describe('between their middles, m'),
  turned: z.enum(TURNED),
});

export const listeningSchema = z.object({
  fromHz: hertz,
  toHz: hertz.describe('the range that counts'),
  levelDb: z
    .number()
    .min(40)
    .max(140)
    .nullable()
    .describe('what the sum is to have, dB SPL at 1 m for 2.83 V; null: what the quietest driver can'),
  distanceM: z.number().min(0.3).max(20),
  acrossDeg: z.number().min(-90).max(90),
  upDeg: z.number().min(-90).max(90),
  lowestOhm: ohm.describe('the least the amplifier bears'),
  house: z
    .object({
      tiltDb: z.number().min(-3).max(3).describe('dB an octave, turning about 1 kHz'),
      curve: curveSchema.nullable().describe('dB against its own level at 1 kHz'),
    })
    .optional()
    .describe('what the sum is to be instead of level'),
});

export const variantSchema = z.object({
  id,
  name,
  label: name,
  ways: z.array(waySchema).min(1).max(MOST_BANDS),
  join: z.enum(['none', 'electrical', 'acoustic']),
  currentWay: id.optional().describe('the way being worked on; the first when absent'),
  bank: bankSchema.optional().describe('what the ways were made from, when they are the bands of a bank'),
  controls: z.array(controlSchema).max(MANY),
  batches: z.array(batchSchema).max(MANY).optional().describe('parts that track'),
  couplings: z.array(couplingSchema).max(MANY).optional().describe('coils that see one another'),
  listening: listeningSchema.optional().describe('where a crossover is judged'),
  played: playedSchema.optional().describe('what is played on it to hear it'),
});

export const measurementSchema = z
  .object({
    id,
    name,
    at: z.iso.datetime(),
    freqHz: z.array(z.number().positive()).min(2).max(MOST_POINTS),
    levelDb: z.array(z.number()).min(2).max(MOST_POINTS),
    phaseDeg: z.array(z.number()).max(MOST_POINTS).nullable(),
    aligned: z.boolean().describe('shifted to the prediction’s level when compared'),
    noiseDb: z
      .array(z.number())
      .max(MOST_POINTS)
      .optional()
      .describe('of the noise, on the level’s scale; absent: not known'),
    place: z.string().max(120).optional().describe('where on the board: a way, the sum, a joint; absent: its output'),
    variant: id.optional().describe('which variant the board was built from'),
    board: name.optional().describe('which board of them'),
    instrument: name.optional().describe('what it was measured with'),
    setting: settingSchema.optional().describe('how its controls and switches stood; absent: as they stand'),
    harmonicsDb: z
      .array(z.array(z.number().nullable()).max(MOST_POINTS))
      .max(4)
      .optional()
      .describe('second to fifth harmonic of a tone of each frequency, on the level’s scale; null: over the top'),
  })
  .superRefine(({ freqHz, levelDb, phaseDeg }, context) => {
    const fault = faultOfColumns(freqHz, levelDb, phaseDeg);
    if (fault) context.addIssue({ code: 'custom', path: ['freqHz'], message: fault });
  });

export const readingSchema = z.object({
  id,
  at: z.iso.datetime(),
  place: z.string().max(120).describe('a node of the board at rest, or its supply’s current'),
  value: z.number().min(-1e4).max(1e4).describe('volts as the expected ones are counted, or amperes'),
  variant: id,
  board: name,
  setting: settingSchema,
});

export const snapshotSchema = z.object({
  variant: name,
  cutoffs: z.array(hertz),
  gainDb: decibel,
  stages: z.array(z.object({ name, freqHz: hertz, q: z.number().nullable(), gainDb: decibel })),
  parts: z.array(z.object({ part: name, value: z.number().positive() })),
  brief: z.string().max(400),
});

export const logEntrySchema = z.object({
  id,
  at: z.iso.datetime(),
  text: z.string().max(8000),
  snapshot: snapshotSchema.nullable(),
});

export const preferencesSchema = z.object({
  resistorSeries: z.enum(SERIES_IDS),
  capacitorSeries: z.enum(SERIES_IDS),
  resistorTolerancePct: z.number().positive().max(50),
  capacitorTolerancePct: z.number().positive().max(50),
  chooseFirst: z.enum(['capacitors', 'resistors']),
  resistorSymbol: z.enum(['box', 'zigzag']),
  boards: z.int().min(1).max(1000),
  grades: z
    .object({ inductor: gradeId, capacitor: gradeId, resistor: gradeId })
    .optional()
    .describe('of parts that say nothing else'),
  ownOpAmps: z.array(opAmpSchema).max(MANY).optional().describe('op-amps that are not in the library'),
  photocell: photocellSchema.optional().describe('what faces the lamps of optocouplers; a usual one when absent'),
  opAmpPackage: z
    .union([z.literal(1), z.literal(2), z.literal(4)])
    .optional()
    .describe('units in a package; two when absent'),
});

export const designSchema = z
  .object({
    format: z.literal(DESIGN_FORMAT),
    version: z.literal(DESIGN_VERSION),
    id,
    title: name,
    family: z.enum(['op-amp-filter', 'rc-network', 'loudspeaker', 'voltage-controlled']),
    brief: briefSchema,
    variants: z.array(variantSchema).min(1).max(MANY),
    currentVariant: id,
    measurements: z.array(measurementSchema).max(MANY),
    readings: z
      .array(readingSchema)
      .max(10 * MANY)
      .optional()
      .describe('of a meter, the board at rest'),
    log: z.array(logEntrySchema).max(100_000),
    preferences: preferencesSchema,
    drivers: z.array(driverSchema).max(MANY).optional(),
  })
  .superRefine((design, context) => {
    if (!design.variants.some((v) => v.id === design.currentVariant))
      context.addIssue({ code: 'custom', path: ['currentVariant'], message: 'names no variant of this design' });
    const devices = new Set([...OP_AMP_IDS, ...(design.preferences.ownOpAmps ?? []).map((o) => o.id)]);
    const twice = (things: readonly { readonly id: string }[], path: (string | number)[]) => {
      const seen = new Set<string>();
      things.forEach((thing, i) => {
        if (seen.has(thing.id))
          context.addIssue({ code: 'custom', path: [...path, i, 'id'], message: `“${thing.id}” is there twice` });
        seen.add(thing.id);
      });
    };
    twice(design.variants, ['variants']);
    twice(design.measurements, ['measurements']);
    twice(design.readings ?? [], ['readings']);
    twice(design.log, ['log']);
    twice(design.brief.mask, ['brief', 'mask']);
    twice(design.drivers ?? [], ['drivers']);
    design.variants.forEach((variant, v) => {
      twice(variant.ways, ['variants', v, 'ways']);
      twice(variant.controls, ['variants', v, 'controls']);
      const stageIds = variant.ways.flatMap((way) => way.stages);
      twice(stageIds, ['variants', v, 'stages']);
      twice(
        variant.ways.flatMap((way) => way.plans),
        ['variants', v, 'plans'],
      );
      const report = (path: (string | number)[], message: string) =>
        context.addIssue({ code: 'custom', path: ['variants', v, ...path], message });
      const drivers = new Set((design.drivers ?? []).map((d) => d.id));
      variant.ways.forEach(
        ({ load }, w) =>
          load.kind !== 'driver' ||
          drivers.has(load.driver) ||
          report(['ways', w, 'load', 'driver'], 'names no driver of this design'),
      );
      const stages = new Set(stageIds.map((s) => s.id));
      variant.couplings?.forEach((coupling, c) =>
        (
          [
            ['first', coupling.first],
            ['second', coupling.second],
          ] as const
        ).forEach(
          ([end, { stage }]) =>
            stages.has(stage) || report(['couplings', c, end, 'stage'], 'names no stage of this variant'),
        ),
      );
      variant.batches?.forEach((batch, b) =>
        batch.parts.forEach(
          ({ stage }, p) =>
            stages.has(stage) || report(['batches', b, 'parts', p, 'stage'], 'names no stage of this variant'),
        ),
      );
      variant.ways.forEach((way, w) => {
        checkWay(variant, way, (path, message) => report(['ways', w, ...path], message));
        way.stages.forEach(
          ({ device }, s) =>
            devices.has(device) || report(['ways', w, 'stages', s, 'device'], 'no op-amp is called this'),
        );
      });
    });
  });

export type Design = z.infer<typeof designSchema>;

/**
 * What keeps a changed design from being written and read again, as “place: what is wrong”; null where nothing does.
 * Records that the change left alone were looked at when they came in.
 */
export function faultOf(changed: Design, before: Design): string | null {
  const read = designSchema.safeParse({
    ...changed,
    measurements: changed.measurements === before.measurements ? [] : changed.measurements,
    log: changed.log === before.log ? [] : changed.log,
  });
  if (read.success) return null;
  const [issue] = read.error.issues;
  return `${issue.path.join('.') || 'design'}: ${issue.message}`;
}
export type Brief = z.infer<typeof briefSchema>;
export type Variant = z.infer<typeof variantSchema>;
export type Way = z.infer<typeof waySchema>;
export type Plan = z.infer<typeof planSchema>;
export type Stage = z.infer<typeof stageSchema>;
export type PartChoice = z.infer<typeof partChoiceSchema>;
export type Coupling = z.infer<typeof couplingSchema>;
export type Listening = z.infer<typeof listeningSchema>;
export type Batch = z.infer<typeof batchSchema>;
export type Nuisance = z.infer<typeof nuisanceSchema>;
export type Control = z.infer<typeof controlSchema>;
export type PartControl = z.infer<typeof partControlSchema>;
export type MaskLimit = z.infer<typeof maskLimitSchema>;
export type Measurement = z.infer<typeof measurementSchema>;
export type Reading = z.infer<typeof readingSchema>;
export type LogEntry = z.infer<typeof logEntrySchema>;
export type Snapshot = z.infer<typeof snapshotSchema>;
export type Preferences = z.infer<typeof preferencesSchema>;
