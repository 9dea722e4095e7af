import type * as z from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import { samplingGrid } from '../../analysis/curves/curve-sampling';
import { integrals } from '../../analysis/time/integrals';
import { aWeighting, NoiseAnalysis, totalNoise } from '../../analysis/ac/noise';
import { highestPoint } from '../../analysis/curves/marks';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile, compileStage, type Compilation } from '../../design/compiled/compile';
import { placeOf } from '../../design/making/create';
import type { Design, Variant } from '../../design/document/schema';
import { stageName } from '../../design/stages/stage-design';
import type { Complex } from '../../math/complex';
import { failure, success, type Result } from '../../result';
import { decibels, figureOrNull, fromDecibels } from '../../units/quantity';
import { naturalOf, notSteady, stabilityOf } from '../reading/read-way';
import { AUDIO_BAND } from '../../math/grid';

/**
 * Noise at a path's output, V RMS: of everything, the same A-weighted, and of every stage's own parts as it comes out
 * at the end.
 */
export interface PathNoise {
  readonly totalV: number;
  readonly aWeightedV: number;
  readonly byStage: ReadonlyMap<string, number>;
}

function noiseOf({ circuit, live, ways }: Compilation): ReturnType<typeof NoiseAnalysis.of> {
  // Where devices bend, they are noisy at the currents they rest at; a linear circuit rests at zero.
  const rest = live?.rest ?? new Float64Array(circuit.structure.size);
  const { structure } = live?.circuit ?? circuit;
  return NoiseAnalysis.of(live?.circuit ?? circuit, rest, {
    output: [structure.nodeOf(ways[0].output) ?? -1, -1],
    source: 'Vin',
  });
}

/**
 * Adds up noise from 20 Hz to 20 kHz, on points as close as the circuit's natural frequencies ask for. Fails as the
 * spectrum does.
 */
export function pathNoise(built: Compilation, natural: readonly Complex[] = naturalOf(built)): Result<PathNoise> {
  const ids = built.ways[0].stages.map((s) => s.stage.id);
  const analysis = noiseOf(built);
  if (!analysis.ok) return analysis;
  // The order of elimination is chosen in the middle of the band.
  const first = analysis.value.at(Float64Array.of(Math.sqrt(AUDIO_BAND.fromHz * AUDIO_BAND.toHz)));
  if (!first.ok) return first;
  const powers = integrals(
    (freqHz) => {
      const spectrum = analysis.value.at(freqHz);
      if (!spectrum.ok) return Array.from({ length: 2 + ids.length }, () => new Float64Array(freqHz.length).fill(NaN));
      const total = spectrum.value.output.map((v) => v * v);
      return [
        total,
        total.map((v, i) => v * aWeighting(freqHz[i])),
        ...ids.map((id) => densityOf(spectrum.value.byPart, id, freqHz.length).map((v) => v * v)),
      ];
    },
    samplingGrid(natural, AUDIO_BAND),
  );
  const [total, weighted, ...own] = Array.from(powers, Math.sqrt);
  return success({ totalV: total, aWeightedV: weighted, byStage: new Map(ids.map((id, k) => [id, own[k]])) });
}

/** The total alone. */
export function outputNoise(built: Compilation, natural?: readonly Complex[]): Result<number> {
  const noise = pathNoise(built, natural);
  return noise.ok ? success(noise.value.totalV) : noise;
}

/** Noise and headroom of a path, stage by stage, and the order in which each would be best. */
const rangeRequest = requestOf('range', { ...ofVariant });
export type RangeRequest = z.infer<typeof rangeRequest>;

export interface StageRange {
  readonly stageId: string;
  readonly name: string;
  /** Its parts' noise as it comes out at the end of the path, V RMS over the audio band. */
  readonly noiseV: number;
  /**
   * Largest level between the source and the stage's end at any frequency, dB: how far its own peak lifts the signal;
   * null where nothing is passed.
   */
  readonly peakDb: number | null;
}

export interface OrderOffer {
  /** Stage ids in order. */
  readonly order: readonly string[];
  readonly names: readonly string[];
  /**
   * Highest level at any stage's end, dB, null where the order cannot be changed; and noise at the output, V RMS.
   */
  readonly peakDb: number | null;
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

/** Fails with `no-such-variant`, as the design does, or with `sings` (`freqHz`). */
function runRange({ design, variantId }: RangeRequest, solver: AcSolver): Result<PathRange> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return built;
  const natural = naturalOf(built.value);
  const stability = stabilityOf(natural);
  if (!stability.stable) return notSteady(stability);
  const noise = pathNoise(built.value, natural);
  if (!noise.ok) return noise;
  const way = variant.ways[0];
  const ids = way.stages.map((stage) => stage.id);
  const names = way.stages.map((stage) => stageName(way, stage));
  const peaks = stagePeaksDb(built.value, natural, solver);
  const now = way.stages.map((_, i) => i);
  const sections = sectionsOf(design, variant, built.value, samplingGrid(natural, AUDIO_BAND), solver);
  const stages = ids.map((stageId, k): StageRange => ({
    stageId,
    name: names[k],
    noiseV: noise.value.byStage.get(stageId) ?? 0,
    peakDb: figureOrNull(peaks[k]),
  }));
  const offers =
    sections && sections.list.length <= MOST_STAGES
      ? permutations(now).map((order) => offerOf(order, sections, ids, names))
      : [];
  const here = sections
    ? offerOf(now, sections, ids, names)
    : { order: ids, names, peakDb: null, noiseV: noise.value.totalV };
  const best = (key: 'peakDb' | 'noiseV') =>
    offers.reduce((a, b) => ((b[key] ?? Infinity) < (a[key] ?? Infinity) * (1 - 1e-9) - 1e-12 ? b : a), here);
  return success({
    stages,
    noiseV: noise.value.totalV,
    now: here,
    forHeadroom: best('peakDb'),
    forNoise: best('noiseV'),
  });
}

/** Largest level from the source to each stage's end over the audio band, dB. */
export function stagePeaksDb({ circuit, ways }: Compilation, natural: readonly Complex[], solver: AcSolver): number[] {
  const ends = ways[0].joints.slice(1);
  const grid = samplingGrid(natural, AUDIO_BAND);
  const solved = solver.sweep(circuit, grid, ends);
  return solved.ok
    ? solved.value.map((response) => highestPoint(grid, levelsDb(response)).levelDb)
    : ends.map(() => NaN);
}

/** What every stage does to a signal and adds of its own, over a grid and by itself. */
interface SectionsOfPath {
  readonly freqHz: Float64Array;
  readonly list: readonly { readonly gain: Float64Array; readonly noise: Float64Array }[];
}

/** A stage's own noise as it comes out at the end of the path, V/√Hz. */
function densityOf(byPart: ReadonlyMap<string, Float64Array>, stageId: string, count: number): Float64Array {
  const shares = [...byPart].filter(([element]) => element.startsWith(`${stageId}.`));
  return Float64Array.from({ length: count }, (_, i) =>
    Math.sqrt(shares.reduce((sum, [, share]) => sum + share[i], 0)),
  );
}

/** Every stage as it is built, op-amp and all, by itself; null where a stage stands for no section. */
function sectionsOf(
  design: Design,
  variant: Variant,
  built: Compilation,
  freqHz: Float64Array,
  solver: AcSolver,
): SectionsOfPath | null {
  const { stages } = built.ways[0];
  if (
    stages.some((s) => s.role !== 'section' || s.stage.bypassed) ||
    variant.ways[0].stages.every((s) => placeOf(s) === null)
  )
    return null;
  const analysis = noiseOf(built);
  const spectrum = analysis.ok ? analysis.value.at(freqHz) : analysis;
  if (!spectrum.ok) return null;
  const gains: Float64Array[] = [];
  for (const designed of stages) {
    const solved = solver.sweep(compileStage(design, designed, { values: 'chosen', devices: 'real' }), freqHz, ['out']);
    if (!solved.ok) return null;
    gains.push(levelsDb(solved.value[0]).map(fromDecibels));
  }
  const list = gains.map((gain, k) => {
    const own = densityOf(spectrum.value.byPart, stages[k].stage.id, freqHz.length);
    // At its own output: what arrives at the end, taken back through the stages after it.
    return {
      gain,
      noise: own.map(
        (density, i) =>
          density /
          Math.max(
            gains.slice(k + 1).reduce((p, g) => p * g[i], 1),
            1e-9,
          ),
      ),
    };
  });
  return { freqHz, list };
}

/** Highest level (dB) at the end of every stage of an order. */
function peaksOf({ list, freqHz }: SectionsOfPath, order: readonly number[]): number[] {
  const level = new Float64Array(freqHz.length).fill(1);
  return order.map((k) => {
    list[k].gain.forEach((g, i) => (level[i] *= g));
    return highestPoint(freqHz, level.map(decibels)).levelDb;
  });
}

function offerOf(
  order: readonly number[],
  sections: SectionsOfPath,
  ids: readonly string[],
  names: readonly string[],
): OrderOffer {
  const { list, freqHz } = sections;
  const power = new Float64Array(freqHz.length);
  order.forEach((k, at) =>
    list[k].noise.forEach((density, i) => {
      const after = order.slice(at + 1).reduce((p, n) => p * list[n].gain[i], 1);
      power[i] += (density * after) ** 2;
    }),
  );
  return {
    order: order.map((k) => ids[k]),
    names: order.map((k) => names[k]),
    peakDb: figureOrNull(Math.max(...peaksOf(sections, order))),
    noiseV: totalNoise(freqHz, power.map(Math.sqrt)),
  };
}

const permutations = (list: readonly number[]): number[][] =>
  list.length < 2
    ? [[...list]]
    : list.flatMap((item, i) =>
        permutations([...list.slice(0, i), ...list.slice(i + 1)]).map((rest) => [item, ...rest]),
      );

export const rangeJob = defineJob(rangeRequest, (request, { solver }) => runRange(request, solver));
