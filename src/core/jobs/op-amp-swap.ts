import { levelsDb } from '../analysis/response';
import type { AcSolver } from '../analysis/solver';
import { AS_BUILT, compile, type Compilation } from '../design/compile';
import type { Design, Variant } from '../design/schema';
import { OP_AMPS, type OpAmp } from '../device/op-amps';
import { logGrid } from '../math/grid';
import { failure, success, type Result } from '../result';
import { decibels } from '../units/quantity';
import { worstInBand } from './desk';
import { askedLevelDb, idealResponse } from './ideal-response';
import { outputNoise } from './path-noise';

/** What every op-amp of the library would make of a path, all its stages with the same. */
export interface OpAmpSwapRequest {
  readonly kind: 'op-amp-swap';
  readonly design: Design;
  readonly variantId: string;
}

export interface OpAmpVerdict {
  readonly id: string;
  readonly name: string;
  /** All stages have it now. */
  readonly current: boolean;
  /** Every stage's noise gain is enough for it. */
  readonly stable: boolean;
  /** Worst miss of the ideal in the pass band with the parts as chosen, dB. */
  readonly missDb: number;
  /** Noise at the output, 20 Hz to 20 kHz, V RMS, and under the signal as it comes out, dB. */
  readonly noiseV: number;
  readonly signalToNoiseDb: number;
  /** Largest share of the swing (at any op-amp's output) and of the slew rate that the signal takes. */
  readonly swingShare: number;
  readonly slewShare: number;
  readonly supplyAmps: number;
}

const POINTS = 121;

/** Fails with `no-such-variant`, or as the design does. */
export function runOpAmpSwap({ design, variantId }: OpAmpSwapRequest, solver: AcSolver): Result<readonly OpAmpVerdict[]> {
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
  const { stages, output } = built.value.ways[0];
  const corners = stages.flatMap((s) => s.cornersHz).concat(stages.every((s) => s.cornersHz.length === 0) ? [1000] : []);
  const freqHz = logGrid(Math.min(20, ...corners.map((f) => f / 20)), Math.max(20e3, ...corners.map((f) => f * 20)), POINTS);
  const outputs = opAmpOutputs(built.value);
  const solved = solver.sweep(built.value.circuit, freqHz, [output, ...outputs]);
  if (!solved.ok) return solved;
  const [response, ...inner] = solved.value.map((r) => levelsDb(r));
  const idealDb = levelsDb(idealResponse(design, swapped.ways[0], stages, freqHz, solver));
  const noise = outputNoise(built.value);
  if (!noise.ok) return noise;
  const live = stages.filter((s) => !s.stage.bypassed && s.opAmps > 0);
  const peak = response.reduce((m, v) => Math.max(m, v), -Infinity);
  return success({
    id: device.id, name: device.name, current: live.length > 0 && way.stages.filter((s) => live.some((l) => l.stage.id === s.id)).every((s) => s.device === device.id),
    stable: device.unityGainStable || live.every((s) => s.noiseGain >= device.lowestNoiseGain), missDb: worstInBand(response, idealDb, askedLevelDb(swapped.ways[0], idealDb)),
    noiseV: noise.value, signalToNoiseDb: decibels(design.brief.signalVolts / noise.value) + peak, ...strain(design, device, freqHz, inner), supplyAmps: device.supplyAmps * live.reduce((sum, s) => sum + s.opAmps, 0),
  });
}

/** Nodes that op-amps drive: inside a stage as well as at its end. */
export const opAmpOutputs = ({ netlist }: Compilation): string[] => [...new Set(netlist.elements.flatMap((e) => (e.definition.kind === 'ideal-op-amp' ? [e.nodes[2]] : e.name.endsWith('.output') ? [e.nodes[1]] : [])))];

function strain(design: Design, device: OpAmp, freqHz: Float64Array, levels: readonly Float64Array[]): Pick<OpAmpVerdict, 'swingShare' | 'slewShare'> {
  const peakIn = design.brief.signalVolts * Math.SQRT2;
  const { supply } = design.brief;
  const room = (supply.kind === 'dual' ? supply.volts : supply.volts / 2) - device.headroomVolts;
  let [swing, slew] = [0, 0];
  for (const level of levels)
    freqHz.forEach((f, i) => {
      const volts = peakIn * 10 ** (level[i] / 20);
      swing = Math.max(swing, volts);
      if (f <= 20e3) slew = Math.max(slew, 2 * Math.PI * f * volts);
    });
  return { swingShare: room > 0 ? swing / room : Infinity, slewShare: slew / device.slewVoltsPerSec };
}
