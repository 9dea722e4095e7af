import equal from 'fast-deep-equal';
import type { Driver } from './driver';
import { modelFromParameters } from './voice-coil';

type Figures = Pick<Driver, 'nominalOhm' | 'radiusM' | 'safeFromHz' | 'maxWatts' | 'impedance' | 'response'>;

const figures = (
  [radiusM, safeFromHz, maxWatts]: readonly [number, number, number],
  coil: Parameters<typeof modelFromParameters>[0],
  [sensitivityDb, lowHz, topHz]: readonly [number, number, number],
): Figures => ({
  nominalOhm: 8,
  radiusM,
  safeFromHz,
  maxWatts,
  impedance: modelFromParameters(coil),
  response: { kind: 'model', sensitivityDb, lowHz, lowQ: 0.7, topHz, topQ: 0.7, bumps: [] },
});

/** What a driver of a kind is as a rule, before anything is known of it. */
export const USUAL_FIGURES: Readonly<Record<Driver['kind'], Figures>> = {
  woofer: figures([0.065, 40, 50], { reOhm: 6, leHenry: 0.4e-3, fsHz: 50, qms: 4, qes: 0.6 }, [88, 50, 5000]),
  midrange: figures([0.045, 200, 40], { reOhm: 6, leHenry: 0.25e-3, fsHz: 120, qms: 4, qes: 0.8 }, [89, 120, 8000]),
  tweeter: figures([0.0125, 1800, 20], { reOhm: 6, leHenry: 0.05e-3, fsHz: 900, qms: 2, qes: 1 }, [90, 900, 25e3]),
  'full-range': figures([0.04, 80, 20], { reOhm: 6.5, leHenry: 0.2e-3, fsHz: 90, qms: 4, qes: 0.6 }, [87, 90, 16e3]),
};

/** A driver as one of another kind: what was never touched follows the kind, what was set or measured stays. */
export function asKind(driver: Driver, kind: Driver['kind']): Partial<Driver> {
  const [before, after] = [USUAL_FIGURES[driver.kind], USUAL_FIGURES[kind]];
  const untouched = (Object.keys(after) as (keyof Figures)[]).filter((key) => equal(driver[key], before[key]));
  return { kind, ...Object.fromEntries(untouched.map((key) => [key, after[key]])) };
}
