import { squareWave, stepWave, timeResponse } from '../analysis/time-response';
import { AS_BUILT, compile, IDEAL } from '../design/compile';
import type { Design } from '../design/schema';
import { failure, success, type Result } from '../result';

export interface TimeRequest {
  readonly kind: 'time';
  readonly design: Design;
  readonly variantId: string;
  readonly ghostVariantId: string | null;
  readonly wave: { readonly kind: 'step' } | { readonly kind: 'square'; readonly freqHz: number };
}

export interface TimeResult {
  readonly timeS: Float64Array;
  readonly drive: Float64Array;
  readonly asBuilt: Float64Array;
  readonly ideal: Float64Array | null;
  readonly ghost: Float64Array | null;
  /** Of a step on a low-pass: per cent above the final value, and the time it last leaves ±2 % of it (s). Null when it does not settle on a value. */
  readonly settling: { readonly overshootPct: number; readonly settledS: number } | null;
}

const POINTS = 601;
/** A time view shows this many periods of the lowest cutoff after a step. */
const STEP_PERIODS = 3;
const SQUARE_PERIODS = 3;
const SETTLED = 0.02;

/** The output in time for a unit step or square wave of the source. */
export function runTime({ design, variantId, ghostVariantId, wave }: TimeRequest): Result<TimeResult> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return built;
  const lowest = Math.min(...built.value.ways[0].stages.filter((s) => s.target.order > 0).map((s) => s.target.freqHz), 1e9);
  const stopS = wave.kind === 'step' ? STEP_PERIODS / lowest : SQUARE_PERIODS / wave.freqHz;
  const form = wave.kind === 'step' ? stepWave : squareWave(wave.freqHz, stopS);
  const asBuilt = timeResponse(built.value.circuit, built.value.ways[0].output, form, stopS, POINTS);
  if (!asBuilt.ok) return asBuilt;
  const other = (compiled: ReturnType<typeof compile>) => {
    const response = compiled.ok ? timeResponse(compiled.value.circuit, compiled.value.ways[0].output, form, stopS, POINTS) : null;
    return response?.ok ? response.value : null;
  };
  const ghost = design.variants.find((v) => v.id === ghostVariantId);
  const timeS = Float64Array.from({ length: POINTS }, (_, i) => (i * stopS) / (POINTS - 1));
  return success({
    timeS, drive: timeS.map(form.at), asBuilt: asBuilt.value, ideal: other(compile(design, variant, IDEAL)), ghost: ghost ? other(compile(design, ghost, AS_BUILT)) : null,
    settling: wave.kind === 'step' ? settlingOf(timeS, asBuilt.value) : null,
  });
}

function settlingOf(timeS: Float64Array, response: Float64Array): TimeResult['settling'] {
  const final = response[response.length - 1];
  const largest = response.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
  if (Math.abs(final) < 0.2 * largest) return null;
  let last = response.length - 1;
  while (last > 0 && Math.abs(response[last] / final - 1) <= SETTLED) last--;
  const extreme = response.reduce((m, v) => Math.max(m, v / final), 0);
  return { overshootPct: Math.max(0, 100 * (extreme - 1)), settledS: timeS[Math.min(last + 1, timeS.length - 1)] };
}
