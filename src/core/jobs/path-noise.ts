import { noiseSpectrum, totalNoise } from '../analysis/noise';
import { AS_BUILT, compile, type Compilation } from '../design/compile';
import { placeOf } from '../design/create';
import type { Design, Variant } from '../design/schema';
import { stageName, valuesOf } from '../design/stage-design';
import { reachedTarget } from '../design/stage-error';
import { sectionResponse } from '../filter/section';
import { logGrid } from '../math/grid';
import { magnitude } from '../math/complex';
import { failure, success, type Result } from '../result';
import { decibels } from '../units/quantity';

const AUDIO = logGrid(20, 20e3, 61);

function spectrumOf({ circuit, ways }: Compilation): ReturnType<typeof noiseSpectrum> {
  // Linear circuits rest at zero: thermal and op-amp noise need no operating point.
  const rest = new Float64Array(circuit.structure.size);
  return noiseSpectrum(circuit, rest, { freqHz: AUDIO, output: [circuit.structure.nodeOf(ways[0].output) ?? -1, -1], source: 'Vin' });
}

/** Noise at a path's output from 20 Hz to 20 kHz, V RMS: resistors, and op-amps by their voltage and current noise. */
export function outputNoise(built: Compilation): Result<number> {
  const spectrum = spectrumOf(built);
  return spectrum.ok ? success(totalNoise(AUDIO, spectrum.value.output)) : spectrum;
}

/** Noise and headroom of a path, stage by stage, and the order in which each would be best. */
export interface RangeRequest {
  readonly kind: 'range';
  readonly design: Design;
  readonly variantId: string;
}

export interface StageRange {
  readonly stageId: string;
  readonly name: string;
  /** Its parts' noise as it comes out at the end of the path, V RMS over the audio band. */
  readonly noiseV: number;
  /** Largest level between the source and the stage's end at any frequency, dB: how far its own peak lifts the signal. */
  readonly peakDb: number;
}

export interface OrderOffer {
  /** Stage ids in order. */
  readonly order: readonly string[];
  readonly names: readonly string[];
  /** Highest level at any stage's end, dB; and noise at the output, V RMS. */
  readonly peakDb: number;
  readonly noiseV: number;
}

export interface PathRange {
  readonly stages: readonly StageRange[];
  readonly noiseV: number;
  readonly now: OrderOffer;
  readonly forHeadroom: OrderOffer;
  readonly forNoise: OrderOffer;
}

/** More stages than this are not tried in every order. */
const MOST_STAGES = 6;

/** Fails with `no-such-variant`, or as the design does. */
export function runRange({ design, variantId }: RangeRequest): Result<PathRange> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return built;
  const spectrum = spectrumOf(built.value);
  if (!spectrum.ok) return spectrum;
  const { byPart, output } = spectrum.value;
  const way = variant.ways[0];
  const ids = way.stages.map((stage) => stage.id);
  const names = way.stages.map((stage) => stageName(way, stage));
  const own = way.stages.map(({ id }) => densityOf(byPart, id));
  const noiseV = totalNoise(AUDIO, output);
  const now = way.stages.map((_, i) => i);
  const sections = sectionsOf(variant, built.value, own);
  const peaks = sections && peaksOf(sections, now);
  const stages = ids.map((stageId, k): StageRange => ({ stageId, name: names[k], noiseV: totalNoise(AUDIO, own[k]), peakDb: peaks ? peaks[k] : NaN }));
  const offers = sections && sections.length <= MOST_STAGES ? permutations(now).map((order) => offerOf(order, sections, ids, names)) : [];
  const here = sections ? offerOf(now, sections, ids, names) : { order: ids, names, peakDb: NaN, noiseV };
  const best = (key: 'peakDb' | 'noiseV') => offers.reduce((a, b) => (b[key] < a[key] * (1 - 1e-9) - 1e-12 ? b : a), here);
  return success({ stages, noiseV, now: here, forHeadroom: best('peakDb'), forNoise: best('noiseV') });
}

/** What every stage does to a signal and adds of its own, over the audio band and by itself; null where a stage stands for no section. */
interface SectionOfPath {
  readonly gain: Float64Array;
  readonly noise: Float64Array;
}

/** A stage's own noise as it comes out at the end of the path, V/√Hz. */
function densityOf(byPart: ReadonlyMap<string, Float64Array>, stageId: string): Float64Array {
  const shares = [...byPart].filter(([element]) => element.startsWith(`${stageId}.`));
  return AUDIO.map((_, i) => Math.sqrt(shares.reduce((sum, [, share]) => sum + share[i], 0)));
}

/** `own`: what every stage's noise is at the end of the path, V/√Hz. */
function sectionsOf(variant: Variant, built: Compilation, own: readonly Float64Array[]): SectionOfPath[] | null {
  const { stages } = built.ways[0];
  if (stages.some((s) => s.role !== 'section' || s.stage.bypassed) || variant.ways[0].stages.every((s) => placeOf(s) === null)) return null;
  const gains = stages.map((s) => (s.role === 'section' ? AUDIO.map((f) => magnitude(sectionResponse(reachedTarget(s, valuesOf(s, 'chosen')), f))) : new Float64Array(AUDIO.length)));
  return gains.map((gain, k) => {
    // At its own output: what arrives at the end, taken back through the stages after it.
    const after = AUDIO.map((_, i) => gains.slice(k + 1).reduce((p, g) => p * g[i], 1));
    return { gain, noise: own[k].map((density, i) => density / Math.max(after[i], 1e-9)) };
  });
}

/** Highest level (dB) at the end of every stage of an order. */
function peaksOf(sections: readonly SectionOfPath[], order: readonly number[]): number[] {
  const level = new Float64Array(AUDIO.length).fill(1);
  return order.map((k) => {
    sections[k].gain.forEach((g, i) => (level[i] *= g));
    return decibels(level.reduce((m, v) => Math.max(m, v), 0));
  });
}

function offerOf(order: readonly number[], sections: readonly SectionOfPath[], ids: readonly string[], names: readonly string[]): OrderOffer {
  const power = new Float64Array(AUDIO.length);
  order.forEach((k, at) =>
    sections[k].noise.forEach((density, i) => {
      const after = order.slice(at + 1).reduce((p, n) => p * sections[n].gain[i], 1);
      power[i] += (density * after) ** 2;
    }),
  );
  return { order: order.map((k) => ids[k]), names: order.map((k) => names[k]), peakDb: Math.max(...peaksOf(sections, order)), noiseV: totalNoise(AUDIO, power.map(Math.sqrt)) };
}

const permutations = (list: readonly number[]): number[][] => (list.length < 2 ? [[...list]] : list.flatMap((item, i) => permutations([...list.slice(0, i), ...list.slice(i + 1)]).map((rest) => [item, ...rest])));
