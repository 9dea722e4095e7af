import * as z from 'zod';

const positive = z.number().positive();
const hertz = positive.max(1e6).describe('Hz');

/** A driver's impedance as a circuit: its wire, its coil with what the pole piece loses, its resonances. */
export const impedanceModelSchema = z.object({
  reOhm: positive.max(1e4).describe('resistance of the voice coil, ohm'),
  leHenry: z.number().min(0).max(1).describe('the part of its inductance without loss, H'),
  lossy: z
    .array(z.object({ henry: positive.max(1), ohm: positive.max(1e6) }))
    .max(2)
    .describe('inductance with a resistance across it: eddy currents'),
  resonances: z
    .array(z.object({ freqHz: hertz, q: positive.max(200), ohm: positive.max(1e5) }))
    .max(3)
    .describe('ohm above Re at the peak, and Q of the parallel circuit'),
});
export type ImpedanceModel = z.infer<typeof impedanceModelSchema>;

/** As many as a file may have. */
const MOST_POINTS = 100_000;

/** How the columns of a curve do not go together; null where they do: as long as one another, frequencies rising. */
export function faultOfColumns(
  freqHz: readonly number[],
  values: readonly number[],
  phaseDeg: readonly number[] | null,
): string | null {
  if (values.length !== freqHz.length || (phaseDeg && phaseDeg.length !== freqHz.length))
    return 'its columns differ in length';
  return freqHz.some((f, i) => i > 0 && f <= freqHz[i - 1]) ? 'its frequencies do not rise' : null;
}

export const curveSchema = z
  .object({
    freqHz: z.array(hertz).min(2).max(MOST_POINTS),
    values: z.array(z.number()).min(2).max(MOST_POINTS),
    phaseDeg: z.array(z.number()).max(MOST_POINTS).nullable(),
  })
  .superRefine(({ freqHz, values, phaseDeg }, context) => {
    const fault = faultOfColumns(freqHz, values, phaseDeg);
    if (fault) context.addIssue({ code: 'custom', path: ['freqHz'], message: fault });
  });

export const driverSchema = z.object({
  id: z.string().min(1).max(80),
  name: z.string().min(1).max(80),
  kind: z.enum(['woofer', 'midrange', 'tweeter', 'full-range']),
  nominalOhm: positive.max(1000).describe('what is printed on it, ohm'),
  impedance: impedanceModelSchema,
  measuredImpedance: curveSchema.nullable().describe('ohm and degrees'),
  response: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('curve'), curve: curveSchema.describe('dB SPL at 1 m for 2.83 V, and degrees') }),
    z.object({
      kind: z.literal('model'),
      sensitivityDb: z.number().min(40).max(140).describe('dB SPL at 1 m for 2.83 V, in its flat part'),
      lowHz: hertz.describe('resonance in its box, Hz'),
      lowQ: positive.max(20),
      topHz: hertz.describe('where the cone or dome gives up, Hz'),
      topQ: positive.max(20),
      bumps: z.array(z.object({ freqHz: hertz, q: positive.max(50), gainDb: z.number().min(-30).max(30) })).max(8),
    }),
  ]),
  angles: z
    .array(z.object({ offDeg: z.number().min(1).max(180), curve: curveSchema }))
    .max(24)
    .optional()
    .describe('responses measured to its side, degrees off its axis: dB as on it; their phase is not used'),
  radiusM: positive.max(1).describe('effective radius of the cone or dome, m'),
  excursionM: positive.max(0.1).optional().describe('how far its cone may go from its rest, m'),
  safeFromHz: hertz.describe('lowest frequency it can be driven hard at, Hz'),
  maxWatts: positive.max(1e5),
  price: z.number().min(0).max(1e6).nullable(),
});
export type Driver = z.infer<typeof driverSchema>;
export type Curve = z.infer<typeof curveSchema>;
