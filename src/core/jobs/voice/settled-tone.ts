import { compiledRunner } from '../../analysis/sound/sound';
import type { SampleRunner } from '../../analysis/sound/sound-runner';
import type { Assembled } from '../../circuit/structure';
import { success, type Result } from '../../result';
import { restOfSource } from '../reading/built-variant';

const POINTS_A_PERIOD = 512;
const FIRST_PERIODS = 12;
const MOST_PERIODS = 400;
/** A period that repeats the last to this share of its swing is settled. */
const SETTLED = 1e-5;

/** What comes of one period at the input, over and over until it settles: as many points of the unknown, V. */
export type Settled = (input: Float64Array) => Float64Array;

/**
 * What an unknown settles to for waves that repeat `freqHz` times a second, each from rest: compiled once for all of
 * them. Fails as the operating point does, or with `no-unique-solution`.
 */
export function settledAt(circuit: Assembled, unknown: number, freqHz: number): Result<Settled> {
  const made = compiledRunner(circuit, { sampleRateHz: freqHz * POINTS_A_PERIOD, wanted: [unknown] });
  if (!made.ok) return made;
  const runner = made.value;
  const resting = runner.sources.map((name) => new Float64Array(POINTS_A_PERIOD).fill(restOfSource(circuit, name)));
  return success((input) => {
    runner.restart();
    return settled(
      runner,
      runner.sources.map((name, s) => (name === 'Vin' ? input : resting[s])),
    );
  });
}

function settled(runner: SampleRunner, inputs: readonly Float64Array[]): Float64Array {
  let before = new Float64Array(POINTS_A_PERIOD);
  let now = new Float64Array(POINTS_A_PERIOD);
  for (let period = 0; period < MOST_PERIODS; period++) {
    [before, now] = [now, before];
    runner.process(inputs, [now], POINTS_A_PERIOD);
    if (period < FIRST_PERIODS) continue;
    const swing = now.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
    if (now.every((v, i) => Math.abs(v - before[i]) <= SETTLED * swing + 1e-12)) break;
  }
  return now;
}

/** A sine of so many periods in the one. */
export const sine = (volts: number, harmonic = 1): Float64Array =>
  Float64Array.from(
    { length: POINTS_A_PERIOD },
    (_, i) => volts * Math.sin((2 * Math.PI * harmonic * (i + 1)) / POINTS_A_PERIOD),
  );

/** Size of a harmonic of a period, V peak. */
export function harmonicOf(period: Float64Array, harmonic: number): number {
  let [re, im] = [0, 0];
  period.forEach((v, i) => {
    re += v * Math.cos((2 * Math.PI * harmonic * i) / POINTS_A_PERIOD);
    im += v * Math.sin((2 * Math.PI * harmonic * i) / POINTS_A_PERIOD);
  });
  return (2 * Math.hypot(re, im)) / POINTS_A_PERIOD;
}
