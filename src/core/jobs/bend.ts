import { compiledRunner } from '../analysis/sound';
import type { Assembled } from '../circuit/structure';
import type { Design } from '../design/schema';
import { failure, success, type Result } from '../result';
import { builtVariant, restOfSource } from './built-variant';
import type { JobContext } from './job-context';

/** How much of a tone the filter bears before it bends by so much. */
export interface BendRequest {
  readonly kind: 'bend';
  readonly design: Design;
  readonly variantId: string;
  readonly freqHz: number;
  readonly percent: number;
}

export interface Bend {
  /** Peak at the input, V, and the harmonics there (2nd on) as shares of the tone. */
  readonly inputVolts: number;
  readonly outputVolts: number;
  readonly harmonics: readonly number[];
  /** Distortion against level: V peak, per cent. */
  readonly curve: readonly { readonly volts: number; readonly percent: number }[];
}

const FIRST_VOLTS = 0.02;
const LOUDEST_VOLTS = 20;
const LEVEL_STEP = 2;
const CLOSING_STEPS = 7;
/** Share of the work that the way up is. */
const UPWARDS = 0.6;

const POINTS_A_PERIOD = 512;
const FIRST_PERIODS = 12;
const MOST_PERIODS = 400;
/** A period that repeats the last to this share of its swing is settled. */
const SETTLED = 1e-5;
const HARMONICS = 7;

/** Harmonics of a tone, sample by sample at so many a period, until one period repeats the last. */
function toneThrough(circuit: Assembled, out: number, volts: number, freqHz: number): Result<{ levels: Float64Array; total: number }> {
  const made = compiledRunner(circuit, { sampleRateHz: freqHz * POINTS_A_PERIOD, wanted: [out] });
  if (!made.ok) return made;
  const runner = made.value;
  const inputs = runner.sources.map((name) => (name === 'Vin' ? Float64Array.from({ length: POINTS_A_PERIOD }, (_, i) => volts * Math.sin((2 * Math.PI * (i + 1)) / POINTS_A_PERIOD)) : new Float64Array(POINTS_A_PERIOD).fill(restOfSource(circuit, name))));
  let before = new Float64Array(POINTS_A_PERIOD);
  let now = new Float64Array(POINTS_A_PERIOD);
  for (let period = 0; period < MOST_PERIODS; period++) {
    [before, now] = [now, before];
    runner.process(inputs, [now], POINTS_A_PERIOD);
    if (period < FIRST_PERIODS) continue;
    const swing = now.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
    if (now.every((v, i) => Math.abs(v - before[i]) <= SETTLED * swing + 1e-12)) break;
  }
  const levels = Float64Array.from({ length: HARMONICS }, (_, h) => {
    let [re, im] = [0, 0];
    now.forEach((v, i) => {
      re += v * Math.cos((2 * Math.PI * (h + 1) * i) / POINTS_A_PERIOD);
      im += v * Math.sin((2 * Math.PI * (h + 1) * i) / POINTS_A_PERIOD);
    });
    return (2 * Math.hypot(re, im)) / POINTS_A_PERIOD;
  });
  return success({ levels, total: Math.sqrt(levels.subarray(1).reduce((sum, v) => sum + v * v, 0)) / levels[0] });
}

/** Fails as the design or time does, `nothing-bends` for a linear circuit, `bends-no-further` (`percent`, `volts`) where the loudest tone bends by less, or `cancelled`. */
export async function runBend({ design, variantId, freqHz, percent }: BendRequest, context: JobContext): Promise<Result<Bend>> {
  const built = builtVariant(design, variantId);
  if (!built.ok) return built;
  const { live, ways } = built.value;
  if (!live) return failure('nothing-bends');
  const out = live.circuit.structure.nodeOf(ways[0].output) ?? -1;
  const tone = async (volts: number, share: number): Promise<ReturnType<typeof toneThrough>> => {
    context.progress(share);
    await context.pause();
    return context.signal.aborted ? failure('cancelled') : toneThrough(live.circuit, out, volts, freqHz);
  };
  const enough = ({ total }: { total: number }) => 100 * total >= percent;
  // Upwards until it bends by as much, then closer between the last two.
  const curve: { volts: number; percent: number }[] = [];
  let [below, above, volts] = [0, FIRST_VOLTS, FIRST_VOLTS];
  let found = await tone(volts, 0);
  while (found.ok) {
    curve.push({ volts, percent: 100 * found.value.total });
    if (enough(found.value)) break;
    if (volts * LEVEL_STEP > LOUDEST_VOLTS) return failure('bends-no-further', { percent: 100 * found.value.total, volts });
    [below, above, volts] = [volts, volts * LEVEL_STEP, volts * LEVEL_STEP];
    found = await tone(volts, Math.min(UPWARDS, curve.length / 12));
  }
  for (let i = 0; found.ok && below > 0 && i < CLOSING_STEPS; i++) {
    volts = Math.sqrt(below * above);
    found = await tone(volts, UPWARDS + ((1 - UPWARDS) * (i + 1)) / CLOSING_STEPS);
    if (found.ok && enough(found.value)) above = volts;
    else below = volts;
  }
  if (!found.ok) return found;
  const { levels } = found.value;
  return success({ inputVolts: volts, outputVolts: levels[0], harmonics: Array.from(levels.subarray(1), (v) => v / levels[0]), curve });
}
