import type * as z from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import { noiseGainOf } from '../../design/compiled/noise-gain';
import type { Design, Variant } from '../../design/document/schema';
import { OP_AMPS, swingRoom, type OpAmp } from '../../device/op-amps';
import { failure, success, type Result } from '../../result';
import { decibels } from '../../units/quantity';
import { worstInBand } from './desk';
import { strains, type Strain } from './op-amp-strain';
import { outputNoise } from './path-noise';
import { readWay } from '../reading/read-way';

/** What every op-amp of the library would make of a path, all its stages with the same. */
const opAmpSwapRequest = requestOf('op-amp-swap', { ...ofVariant });
export type OpAmpSwapRequest = z.infer<typeof opAmpSwapRequest>;

export interface OpAmpVerdict {
  readonly id: string;
  readonly name: string;
  /** All stages have it now. */
  readonly current: boolean;
  /**
   * No natural frequency of the path grows with it, and every stage's noise gain is enough for it; of what sings there
   * are no figures.
   */
  readonly stable: boolean;
  /** What it makes of the pass band with these parts, against the same parts and an ideal one: the worst, dB. */
  readonly movesDb: number | null;
  /** Noise at the output, 20 Hz to 20 kHz, V RMS, and under the signal as it comes out, dB. */
  readonly noiseV: number | null;
  readonly signalToNoiseDb: number | null;
  /**
   * Largest share of the swing (at any op-amp's output; null where it has no room to swing) and of the slew rate that
   * the signal takes.
   */
  readonly swingShare: number | null;
  readonly slewShare: number | null;
  readonly supplyAmps: number;
}

/** Fails with `no-such-variant`, or as the design does. */
export function runOpAmpSwap(
  { design, variantId }: OpAmpSwapRequest,
  solver: AcSolver,
): Result<readonly OpAmpVerdict[]> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const verdicts: OpAmpVerdict[] = [];
  for (const device of [...OP_AMPS, ...(design.preferences.ownOpAmps ?? [])]) {
    const verdict = judge(design, variant, device, solver);
    if (!verdict.ok) return verdict;
    verdicts.push(verdict.value);
  }
  return success(verdicts);
}

function judge(design: Design, variant: Variant, device: OpAmp, solver: AcSolver): Result<OpAmpVerdict> {
  const [way] = variant.ways;
  const swapped = { ...variant, ways: [{ ...way, stages: way.stages.map((s) => ({ ...s, device: device.id })) }] };
  const built = compile(design, swapped, AS_BUILT);
  if (!built.ok) return built;
  const { stages } = built.value.ways[0];
  const live = stages.filter((s) => !s.stage.bypassed && s.opAmps > 0);
  const read = readWay(built.value, swapped.ways[0], built.value.ways[0], solver);
  if (!read.ok) return read;
  const { reader, natural, stability } = read.value;
  const common = {
    id: device.id,
    name: device.name,
    current:
      live.length > 0 &&
      way.stages.filter((s) => live.some((l) => l.stage.id === s.id)).every((s) => s.device === device.id),
    supplyAmps: device.supplyAmps * live.reduce((sum, s) => sum + s.opAmps, 0),
  };
  if (!stability.stable)
    return success({
      ...common,
      stable: false,
      movesDb: null,
      noiseV: null,
      signalToNoiseDb: null,
      swingShare: null,
      slewShare: null,
    });
  const perfect = compile(design, swapped, { ...AS_BUILT, devices: 'ideal' });
  if (!perfect.ok) return perfect;
  const solved = solver.sweep(perfect.value.circuit, reader.freqHz, [perfect.value.ways[0].output]);
  if (!solved.ok) return solved;
  const perfectDb = levelsDb(solved.value[0]);
  const noise = outputNoise(built.value, natural);
  if (!noise.ok) return noise;
  const room = swingRoom(design.brief, device);
  const strain = [...strains(built.value, design.brief, natural, solver).values()];
  const most = (of: (s: Strain) => number) => Math.max(0, ...strain.map(of));
  return success({
    ...common,
    stable:
      device.unityGainStable ||
      live.every((s) => (noiseGainOf(design, s, solver) ?? Infinity) >= device.lowestNoiseGain),
    movesDb: worstInBand(
      reader.levelDb,
      perfectDb,
      perfectDb.reduce((m, v) => Math.max(m, v), -Infinity),
    ),
    noiseV: noise.value,
    signalToNoiseDb: decibels(design.brief.signalVolts / noise.value) + reader.highest().levelDb,
    swingShare: room > 0 ? most((s) => s.volts) / room : null,
    slewShare: most((s) => s.slewVoltsPerSec) / device.slewVoltsPerSec,
  });
}

export const opAmpSwapJob = defineJob(opAmpSwapRequest, (request, { solver }) => runOpAmpSwap(request, solver));
