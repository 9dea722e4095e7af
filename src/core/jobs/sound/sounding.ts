import { LinearSound } from '../../analysis/sound/linear-sound';
import { compiledRunner } from '../../analysis/sound/sound';
import type { CompileOptions } from '../../design/compiled/writing';
import type { Design } from '../../design/document/schema';
import { stageOfElement } from '../../design/compiled/compile';
import { swingRoom } from '../../device/op-amps';
import { failure, success, type Result } from '../../result';
import { builtVariant, IN_TIME, restOfSource, runningCircuit, type BuiltVariant } from '../reading/built-variant';
import type { JobContext } from '../job-context';
import { opAmpOutputs } from '../desk/op-amp-strain';
import type { Place } from './sounding-place';

/** Steps of the circuit for each sample that is heard, when there is time to be exact. */
export const RENDER_OVERSAMPLED = 8;

/** What moves the circuit's values while it sounds: where they stand at a time, s. */
export type Mover = (timeS: number) => Place;

export interface Sounding {
  /** At the output, V, at the rate of the input. */
  readonly volts: Float64Array;
  /** Whether it was run as a linear circuit, which is exact, or step by step with all that bends. */
  readonly linear: boolean;
}

/** What may differ from a variant as it is built, with nothing moved. */
export interface SoundingWays {
  readonly mover?: Mover | null;
  /** What differs from as built. */
  readonly options?: Partial<CompileOptions>;
  /** Told now and then of a stepped run’s output (V, at the rate of the input), and how much of it there is. */
  readonly soFar?: (volts: Float64Array, count: number) => void;
}

const BLOCK = 64;
const BLOCKS_BETWEEN_PAUSES = 240;
const LINEAR_PIECE = 1 << 15;
/** With more steps than this share that would not settle, what comes out is no sound of the circuit. */
const MOST_UNSETTLED = 1e-4;

/**
 * A variant's output for so many volts at its source. A linear circuit whose op-amps stay within their swing and slew
 * is stepped exactly; any other runs step by step, op-amps limited. Fails as the design or its rest does, with
 * `did-not-settle` (`share`, `timeS`), or `cancelled`.
 *
 * @param input volts at the oversampled rate.
 */
export async function sounding(
  design: Design,
  variantId: string,
  input: Float64Array,
  rateHz: number,
  context: JobContext,
  { mover = null, options = {}, soFar = () => {} }: SoundingWays = {},
): Promise<Result<Sounding>> {
  if (!mover) {
    const linear = await linearSounding(design, variantId, input, rateHz, context, options);
    if (!linear.ok || linear.value) return linear as Result<Sounding>;
  }
  const built = builtVariant(design, variantId, { ...options, ...IN_TIME });
  if (!built.ok) return built;
  return steppedSounding(built.value, input, rateHz, context, { mover, soFar });
}

/** Null where anything bends: a device, or an op-amp that this input asks too much of. */
async function linearSounding(
  design: Design,
  variantId: string,
  input: Float64Array,
  rateHz: number,
  context: JobContext,
  options: Partial<CompileOptions>,
): Promise<Result<Sounding | null>> {
  const built = builtVariant(design, variantId, options);
  // A rest that is not found is the stepped run's to report.
  if (!built.ok || built.value.live) return success(null);
  const {
    circuit,
    ways: [way],
  } = built.value;
  const amplifiers = opAmpOutputs(built.value)
    .flatMap(({ element, node }) => {
      const device = stageOfElement([way], element)?.device;
      return device
        ? [
            {
              unknown: circuit.structure.nodeOf(node) ?? -1,
              room: swingRoom(design.brief, device),
              step: device.slewVoltsPerSec / rateHz,
            },
          ]
        : [];
    })
    .filter((a) => a.unknown >= 0);
  const made = LinearSound.of(
    circuit,
    [circuit.structure.nodeOf(way.output) ?? -1, ...amplifiers.map((a) => a.unknown)],
    rateHz,
  );
  if (!made.ok) return made;
  const volts = new Float64Array(input.length);
  const last = amplifiers.map(() => 0);
  for (let at = 0; at < input.length; at += LINEAR_PIECE) {
    const [out, ...inner] = made.value.process(input.subarray(at, at + LINEAR_PIECE));
    volts.set(out, at);
    const bends = inner.some((wave, k) => {
      const { room, step } = amplifiers[k];
      return wave.some((v) => {
        const over = Math.abs(v) > room || Math.abs(v - last[k]) > step;
        last[k] = v;
        return over;
      });
    });
    if (bends) return success(null);
    context.progress(at / input.length);
    await context.pause();
    if (context.signal.aborted) return failure('cancelled', { done: at / rateHz });
  }
  return success({ volts, linear: true });
}

async function steppedSounding(
  built: BuiltVariant,
  input: Float64Array,
  rateHz: number,
  context: JobContext,
  { mover, soFar }: Required<Pick<SoundingWays, 'mover' | 'soFar'>>,
): Promise<Result<Sounding>> {
  const circuit = runningCircuit(built);
  const made = compiledRunner(circuit, {
    sampleRateHz: rateHz,
    wanted: [circuit.structure.nodeOf(built.ways[0].output) ?? -1],
  });
  if (!made.ok) return made;
  const runner = made.value;
  const inputs = runner.sources.map((name) => new Float64Array(BLOCK).fill(restOfSource(circuit, name)));
  const vin = runner.sources.indexOf('Vin');
  const volts = new Float64Array(input.length);
  const piece = [new Float64Array(BLOCK)];
  for (let start = 0, block = 0; start < input.length; start += BLOCK, block++) {
    const count = Math.min(BLOCK, input.length - start);
    if (mover) {
      const { values, dc } = mover(start / rateHz);
      if (!runner.setValues(values)) return failure('no-unique-solution', { unknown: 'a value that was nothing' });
      runner.sources.forEach((name, s) => name !== 'Vin' && inputs[s].fill(dc.get(name) ?? 0));
    }
    if (vin >= 0) inputs[vin].set(input.subarray(start, start + count));
    runner.process(inputs, piece, count);
    volts.set(piece[0].subarray(0, count), start);
    if (runner.unsettled > MOST_UNSETTLED * input.length)
      return failure('did-not-settle', { timeS: start / rateHz, share: runner.unsettled / (start + count) });
    if (block % BLOCKS_BETWEEN_PAUSES === 0) {
      soFar(volts, start + count);
      context.progress(start / input.length);
      await context.pause();
      if (context.signal.aborted) return failure('cancelled', { done: start / rateHz });
    }
  }
  return success({ volts, linear: false });
}
