import * as z from 'zod';
import { ALIGNMENT_IDS } from '../../filter/alignments/index';
import { PLAN_RESPONSES } from '../../filter/plan-sections';
import { FILTER_RESPONSES } from '../../filter/section';
import { GRADES } from '../../parts/grades';
import { PASSIVE_LADDER } from '../../topology/loudspeaker/passive-ladder-circuit';
import { DECK } from '../../format/deck/deck-topology';
import { findTopology } from '../../topology/index';
import { findChain } from '../../topology/voice/control/index';

import { decibel, hertz, id, MANY, metre, name, ohm, quality } from './fields';

const prototypeSection = z.discriminatedUnion('order', [
  z.object({ order: z.literal(1), omega: z.number().positive().max(1e3) }),
  z.object({
    order: z.literal(2),
    omega: z.number().positive().max(1e3),
    q: quality,
    zero: z.number().positive().max(1e4).optional(),
  }),
]);

export const planSchema = z.object({
  id,
  response: z.enum(PLAN_RESPONSES),
  alignment: z.enum(ALIGNMENT_IDS),
  order: z.int().min(1).max(20).describe('number of poles; of a band, twice its prototype’s'),
  cutoffHz: hertz.describe('Hz; of a band, its geometric centre'),
  bandwidthHz: hertz.describe('Hz, of a band: between the edges'),
  rippleDb: z.number().min(0.01).max(3).describe('dB, for alignments that have ripple'),
  attenuationDb: z.number().min(10).max(140).describe('dB, for alignments with a stop band of their own'),
  custom: z.array(prototypeSection).max(10).optional().describe('the maker’s own sections, relative to the cutoff'),
  cutoffAt: z.enum(['own', '-3db']).describe('what the cutoff means: the alignment’s own mark, or half power'),
  gainDb: z.number().min(-60).max(60).describe('pass-band peak gain, dB'),
  stageOrder: z.enum(['low-q-first', 'high-q-first', 'free']),
  topologies: z
    .object({ first: id, second: id, notch: id, whole: z.literal(PASSIVE_LADDER).optional() })
    .describe(
      'circuits for new stages of first and second order, and with a null; or one that builds the whole plan at once',
    ),
});

const stageTargetSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('section'),
    plan: id,
    section: z.int().min(0).describe('index into the plan’s sections, lowest Q first'),
  }),
  z.object({
    kind: z.literal('own'),
    of: z
      .object({ plan: id, section: z.int().min(0) })
      .nullable()
      .describe('the section it was retuned from, whose place it keeps'),
    response: z.enum(FILTER_RESPONSES),
    order: z.union([z.literal(0), z.literal(1), z.literal(2)]),
    freqHz: hertz,
    q: quality,
    gainDb: decibel,
    zeroHz: hertz.optional().describe('Hz, where a notch has its null'),
  }),
  z
    .object({ kind: z.literal('plan'), plan: id, ohm })
    .describe('the whole of a plan at once, as a ladder into a resistance'),
  z
    .object({ kind: z.literal('deck'), text: z.string().min(1).max(2_000_000), input: name, output: name })
    .describe('a circuit of one’s own, and the nodes where the signal comes in and goes out'),
  z.object({
    kind: z.literal('network'),
    parameters: z
      .record(z.string().max(40), z.number())
      .describe('what the circuit is asked for, by its own names; SI units, dB, degrees'),
  }),
]);

const controlId = id.describe('a control of the variant');
const endOhm = z
  .number()
  .min(0)
  .max(1e9)
  .describe('what is left at the low end, ohm: a stop resistor, the end of the track');
const jackVolts = z.number().min(-30).max(30);
const mismatchPct = z.number().min(-50).max(50).describe('how far this gang lies from the first, per cent');

export const partControlSchema = z.discriminatedUnion('kind', [
  z
    .object({ kind: z.literal('rheostat'), control: controlId, totalOhm: ohm, endOhm, mismatchPct })
    .describe('a pot as a variable resistor in this part’s place'),
  z
    .object({ kind: z.literal('switch'), control: controlId, ohms: z.array(ohm).min(2).max(12) })
    .describe('a resistor for each position of a switch'),
  z
    .object({
      kind: z.literal('exponential'),
      control: controlId,
      octaves: z.number().min(0.1).max(20),
      scaleErrorPct: z.number().min(-50).max(50),
    })
    .describe(
      'a control current that doubles with every so many volts: octaves from end to end, its designed ' +
        'value in the middle',
    ),
  z
    .object({ kind: z.literal('wiper'), control: controlId, endOhm, mismatchPct })
    .describe('what turns a pot that the circuit has of itself'),
  z
    .object({ kind: z.literal('voltage'), control: controlId, fromVolts: jackVolts, toVolts: jackVolts })
    .describe('a control voltage at a jack: volts at the ends of the control'),
]);

export const gradeId = z
  .string()
  .refine((value) => GRADES.some((g) => g.id === value), { error: 'no grade of part is called this' });

export const partChoiceSchema = z.object({
  use: z
    .object({
      kind: z.enum(['single', 'series', 'parallel']),
      values: z.array(z.number().positive()).min(1).max(2),
      typed: z.literal(true).optional().describe('the maker’s own figure: what is chosen later leaves it as it is'),
    })
    .optional()
    .describe('what the maker decided; absent: nearest of the series. ohm, farad or henry'),
  pinned: z.boolean().optional().describe('the other parts are computed around it'),
  leftOut: z.boolean().optional(),
  trimmerOhm: ohm
    .optional()
    .describe('the second of two resistors in series is a trimmer of so much, end to end; its value is its setting'),
  tolerancePct: z.number().positive().max(50).optional(),
  grade: gradeId.optional().describe('how it is made: what it loses, bears and costs'),
  control: partControlSchema.optional(),
});

export const stageSchema = z.object({
  id,
  topology: id.refine((value) => value === DECK || value === PASSIVE_LADDER || findTopology(value) !== undefined, {
    error: 'no topology is called this',
  }),
  target: stageTargetSchema,
  parts: z.record(z.string().max(20), partChoiceSchema),
  device: id.describe('an op-amp of the library or one of the design’s own'),
  output: z.string().max(40),
  mode: z.string().max(40),
  bypassed: z.boolean(),
  controlledBy: z
    .object({
      circuit: id.refine((value) => findChain(value) !== undefined, { error: 'no control chain is called this' }),
      form: z.string().max(40),
      parameters: z.record(z.string().max(40), z.number()),
    })
    .optional()
    .describe('the circuit that makes its control current from voltages; without one, a current by itself'),
  number: z
    .number()
    .int()
    .min(1)
    .max(100_000)
    .optional()
    .describe('its own in the variant: parts of stage 2 are called R101, C101 …; without one, the lowest that is free'),
  predistortion: z
    .object({ freq: z.number().min(0.5).max(2), q: z.number().min(0.2).max(5) })
    .optional()
    .describe('factors that the parts are designed for, so that the real op-amp brings the section where it belongs'),
});

export const waySchema = z.object({
  id,
  name,
  from: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('source') }),
    z.object({ kind: z.literal('stage'), way: id, stage: id, output: z.string().max(40) }),
  ]),
  plans: z.array(planSchema).max(MANY),
  stages: z.array(stageSchema).max(MANY),
  outputResistor: z.object({ ohm, tolerancePct: z.number().positive().max(50).optional() }).nullable(),
  load: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('brief') }),
    z.object({ kind: z.literal('resistance'), ohm }),
    z.object({
      kind: z.literal('driver'),
      driver: id,
      amplifier: z
        .object({ inputOhm: ohm, gainDb: decibel })
        .nullable()
        .describe('one of its own, for an active way; null where the network feeds the driver itself'),
    }),
  ]),
  polarity: z.union([z.literal(1), z.literal(-1)]),
  levelTrimDb: decibel,
  aim: planSchema
    .optional()
    .describe(
      'what the sound is to do, where it is not what the network’s plans say: the driver has a slope of its own',
    ),
  position: z
    .object({ acrossM: metre, upM: metre, backM: metre })
    .optional()
    .describe('of the driver’s acoustic centre on the cabinet, m; the listener’s axis starts at zero'),
});
