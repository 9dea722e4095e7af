import type { Assembled } from '../circuit/structure';
import type { Design } from '../design/schema';
import { failure, success, type Result } from '../result';
import { builtVariant } from './built-variant';
import type { JobContext } from './job-context';
import { harmonicOf, settledPeriod, sine } from './settled-tone';

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
  /** Distortion against level: V peak, per cent in all, and of each harmonic from the 2nd. */
  readonly curve: readonly { readonly volts: number; readonly percent: number; readonly harmonics: readonly number[] }[];
}

const FIRST_VOLTS = 0.02;
const LOUDEST_VOLTS = 20;
const LEVEL_STEP = 2;
const CLOSING_STEPS = 7;
/** Share of the work that the way up is. */
const UPWARDS = 0.6;

const HARMONICS = 7;

/** Harmonics of a tone through the circuit. */
function toneThrough(circuit: Assembled, out: number, volts: number, freqHz: number): Result<{ levels: number[]; total: number }> {
  const period = settledPeriod(circuit, out, freqHz, sine(volts));
  if (!period.ok) return period;
  const levels = Array.from({ length: HARMONICS }, (_, h) => harmonicOf(period.value, h + 1));
  return success({ levels, total: Math.hypot(...levels.slice(1)) / levels[0] });
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
  const curve: { volts: number; percent: number; harmonics: number[] }[] = [];
  let [below, above, volts] = [0, FIRST_VOLTS, FIRST_VOLTS];
  let found = await tone(volts, 0);
  while (found.ok) {
    const { levels: at, total } = found.value;
    curve.push({ volts, percent: 100 * total, harmonics: at.slice(1).map((v) => (100 * v) / at[0]) });
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
  return success({ inputVolts: volts, outputVolts: levels[0], harmonics: levels.slice(1).map((v) => v / levels[0]), curve });
}
