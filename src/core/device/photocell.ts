import * as z from 'zod';

/** A photocell faced by a lamp, as a maker has measured it or taken it from a sheet. */
export const photocellSchema = z.object({
  points: z
    .array(
      z.tuple([
        z.number().positive().max(1).describe('lamp, A'),
        z.number().positive().max(1e10).describe('cell, ohm'),
      ]),
    )
    .min(2)
    .max(16)
    .refine(
      (points) => points.every(([amps, ohm], i) => i === 0 || (amps > points[i - 1][0] && ohm < points[i - 1][1])),
      { error: 'currents rise, and resistances fall' },
    )
    .describe('cell against lamp, once it is used to the light, at 25 °C'),
  darkOhm: z.number().positive().max(1e12).describe('ohm, after a while in the dark'),
  riseS: z.number().positive().max(10).describe('s, following a lamp that grows brighter'),
  fallS: z.number().positive().max(60).describe('s, following one that fades'),
  temperatureC: z.number().min(-20).max(80),
  perDegreePct: z.number().min(-5).max(5).describe('of its resistance, per cent a degree over 25 °C'),
  history: z
    .enum(['rested', 'used', 'lit'])
    .describe('what light it had before: a night in the dark, some of both, hours of it'),
  memoryPct: z
    .number()
    .min(0)
    .max(80)
    .describe('how much lower a rested cell’s resistance is than a lit one’s, per cent'),
});
export type Photocell = z.infer<typeof photocellSchema>;

/**
 * Typical, our own figures: a kilohm and a half at a milliampere, bending above, up in five milliseconds and down in
 * eighty.
 */
export const USUAL_PHOTOCELL: Photocell = {
  points: [
    [1e-5, 94.6e3],
    [1e-4, 11.9e3],
    [1e-3, 1500],
    [1e-2, 260],
  ],
  darkOhm: 5e6,
  riseS: 5e-3,
  fallS: 80e-3,
  temperatureC: 25,
  perDegreePct: 0.4,
  history: 'used',
  memoryPct: 25,
};

/** The lamp: one junction pair. Saturation, A, and emission. */
const LAMP = [1e-18, 2] as const;
const BENCH_C = 25;

/** What warmth and the light it had before make of its resistances. */
export function conditionFactor({ temperatureC, perDegreePct, history, memoryPct }: Photocell): number {
  const warm = 1 + (perDegreePct / 100) * (temperatureC - BENCH_C);
  const apart = Math.sqrt(1 - memoryPct / 100);
  return Math.max(0.05, warm) * (history === 'rested' ? apart : history === 'lit' ? 1 / apart : 1);
}

/** Values of an optocoupler that follows the table: straight between its points on logarithms, and on past its ends. */
export function photocellValues(cell: Photocell): { values: number[]; bends: number } {
  const factor = conditionFactor(cell);
  const at = cell.points.map(([amps, ohm]) => [Math.log(1000 * amps), -Math.log(ohm * factor)] as const);
  const slopes = at.slice(1).map(([x, y], i) => (y - at[i][1]) / (x - at[i][0]));
  const atOne = Math.exp(-(at[0][1] - slopes[0] * at[0][0]));
  const bends = slopes.slice(1).flatMap((slope, i) => [at[i + 1][0], slope - slopes[i]]);
  return {
    values: [...LAMP, atOne, slopes[0], cell.darkOhm, cell.riseS, cell.fallS, ...bends],
    bends: bends.length / 2,
  };
}
