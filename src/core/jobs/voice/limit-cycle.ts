import { compiledRunner } from '../../analysis/sound/sound';
import type { SampleRunner } from '../../analysis/sound/sound-runner';
import type { Assembled } from '../../circuit/structure';
import { failure, success, type Result } from '../../result';
import type { JobContext } from '../job-context';
import { restOfSource } from '../reading/built-variant';

/** What a circuit that oscillates comes to rest in: one wave that repeats. */
export interface LimitCycle {
  readonly freqHz: number;
  /** About its mean, V. */
  readonly rmsVolts: number;
  readonly peakVolts: number;
  /** From the second on, as shares of the first. */
  readonly harmonics: readonly number[];
  /** One period, V about its mean, evenly spaced. */
  readonly wave: Float64Array;
}

/** Steps a period: ever more of them, until two in turn agree. */
const STEPS_A_PERIOD = [128, 256, 1024, 4096, 16_384] as const;
/** That they agree in frequency and in level, as shares: smooth waves do at once, those with jumps in them later. */
const SAME_HZ = 3e-3;
const SAME_LEVEL = 1e-2;
const CHUNK_PERIODS = 16;
/** Before it is given up, steps, and in the finest ones chunks: what has not come to repeat by then does not. */
const MOST_STEPS = 700_000;
const FEWEST_CHUNKS = 5;
/** Jumps before it is given up: a wave that has so many in it and still does not repeat, wanders. */
const MOST_JUMPS = 6000;
/** A chunk that differs from the last by less than this is the cycle: its period and its peak, as shares. */
const SAME_PERIOD = 1e-5;
const SAME_PEAK = 1e-3;
/** The push it is begun with: so many periods of so many volts. */
const PUSH_VOLTS = 0.05;
const PUSH_PERIODS = 3;
const DEAD_VOLTS = 1e-7;
/** Nothing on a bench gives so much: op-amps without limits do. */
const UNBOUNDED_VOLTS = 200;
const HARMONICS = 9;
const WAVE_POINTS = 512;

/**
 * Runs a circuit in time with nothing at its input but a push, until what it does repeats, and again in finer steps
 * until it does the same: trapezoidal, so that its frequency is (ωh)²/12 low, a ten-thousandth at most. Fails as the
 * operating point does, with `dies-away` where it does not keep going, `no-bounds` where nothing holds it, `no-cycle`
 * where it does not repeat within some thousand periods or is another in ever finer steps, or `cancelled`.
 *
 * @param out the unknown that is listened to. @param aboutHz what it sings at as far as small signals know.
 */
export async function limitCycle(
  circuit: Assembled,
  out: number,
  aboutHz: number,
  context: JobContext,
): Promise<Result<LimitCycle>> {
  let coarser: LimitCycle | null = null;
  for (const steps of STEPS_A_PERIOD) {
    const made = compiledRunner(circuit, { sampleRateHz: aboutHz * steps, wanted: [out] });
    if (!made.ok) return made;
    const cycle = await settled(made.value, steps, circuit, aboutHz, context);
    if (!cycle.ok) return cycle;
    const { freqHz, rmsVolts } = cycle.value;
    if (
      coarser &&
      Math.abs(freqHz / coarser.freqHz - 1) < SAME_HZ &&
      Math.abs(rmsVolts / coarser.rmsVolts - 1) < SAME_LEVEL
    )
      return cycle;
    coarser = cycle.value;
  }
  return failure('no-cycle', { freqHz: aboutHz });
}

async function settled(
  runner: SampleRunner,
  stepsAPeriod: number,
  circuit: Assembled,
  aboutHz: number,
  context: JobContext,
): Promise<Result<LimitCycle>> {
  const count = CHUNK_PERIODS * stepsAPeriod;
  const push = Float64Array.from({ length: count }, (_, i) =>
    i < PUSH_PERIODS * stepsAPeriod ? PUSH_VOLTS * Math.sin((2 * Math.PI * i) / stepsAPeriod) : 0,
  );
  const still = new Float64Array(count);
  const resting = runner.sources.map((name) => new Float64Array(count).fill(restOfSource(circuit, name)));
  const heard = new Float64Array(count);
  let before: Chunk | null = null;
  const chunks = Math.max(FEWEST_CHUNKS, Math.floor(MOST_STEPS / count));
  for (let k = 0; k < chunks && runner.jumps < MOST_JUMPS; k++) {
    runner.process(
      runner.sources.map((name, s) => (name !== 'Vin' ? resting[s] : k === 0 ? push : still)),
      [heard],
      count,
    );
    await context.pause();
    if (context.signal.aborted) return failure('cancelled');
    if (k === 0) continue;
    if (!heard.every((v) => Math.abs(v) < UNBOUNDED_VOLTS)) return failure('no-bounds', { freqHz: aboutHz });
    const now = chunkOf(heard);
    if (!now || (now.peak < DEAD_VOLTS && (!before || now.peak < before.peak)))
      return failure('dies-away', { freqHz: aboutHz });
    if (
      before &&
      Math.abs(now.period / before.period - 1) < SAME_PERIOD &&
      Math.abs(now.peak / before.peak - 1) < SAME_PEAK
    )
      return success(cycleOf(heard, now, aboutHz * stepsAPeriod));
    before = now;
  }
  return failure('no-cycle', { freqHz: aboutHz, periods: chunks * CHUNK_PERIODS });
}

interface Chunk {
  readonly mean: number;
  readonly peak: number;
  /** In samples, and the last two upward crossings of the mean. */
  readonly period: number;
  readonly from: number;
  readonly to: number;
}

function chunkOf(wave: Float64Array): Chunk | null {
  // The mean of whole periods: first of all there is, then between its crossings.
  let mean = wave.reduce((s, v) => s + v, 0) / wave.length;
  let crossings = upward(wave, mean);
  if (crossings.length < 3) return null;
  const [first, last] = [Math.ceil(crossings[0]), Math.floor(crossings[crossings.length - 1])];
  mean = wave.subarray(first, last).reduce((s, v) => s + v, 0) / (last - first);
  crossings = upward(wave, mean);
  if (crossings.length < 3) return null;
  const peak = wave.reduce((m, v) => Math.max(m, Math.abs(v - mean)), 0);
  return {
    mean,
    peak,
    period: (crossings[crossings.length - 1] - crossings[0]) / (crossings.length - 1),
    from: crossings[crossings.length - 2],
    to: crossings[crossings.length - 1],
  };
}

function upward(wave: Float64Array, mean: number): number[] {
  const found: number[] = [];
  for (let i = 1; i < wave.length; i++) {
    const [a, b] = [wave[i - 1] - mean, wave[i] - mean];
    if (a < 0 && b >= 0) found.push(i - 1 + a / (a - b));
  }
  return found;
}

function cycleOf(heard: Float64Array, { mean, period, from, to }: Chunk, sampleRateHz: number): LimitCycle {
  const wave = Float64Array.from({ length: WAVE_POINTS }, (_, i) => {
    const at = from + ((to - from) * i) / WAVE_POINTS;
    const k = Math.floor(at);
    return heard[k] + (at - k) * (heard[k + 1] - heard[k]) - mean;
  });
  const sizes = Array.from({ length: HARMONICS }, (_, h) => {
    let [re, im] = [0, 0];
    wave.forEach((v, i) => {
      re += v * Math.cos((2 * Math.PI * (h + 1) * i) / WAVE_POINTS);
      im += v * Math.sin((2 * Math.PI * (h + 1) * i) / WAVE_POINTS);
    });
    return Math.hypot(re, im);
  });
  return {
    freqHz: sampleRateHz / period,
    rmsVolts: Math.sqrt(wave.reduce((s, v) => s + v * v, 0) / WAVE_POINTS),
    peakVolts: wave.reduce((m, v) => Math.max(m, Math.abs(v)), 0),
    harmonics: sizes.slice(1).map((size) => size / sizes[0]),
    wave,
  };
}
