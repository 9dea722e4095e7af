import type * as z from 'zod';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import type { Design, Variant } from '../../design/document/schema';
import { AUDIO_BAND, logGrid } from '../../math/grid';
import { greatestBetween } from '../../math/search';
import { failure, success, type Result } from '../../result';
import { defineJob, ofVariant, requestOf } from '../define-job';
import { sumOf, systemAt } from './speaker-system';

/** What each pair of coils that stand close does to what is heard. */
const coilEffectsRequest = requestOf('coil-effects', { ...ofVariant });
export type CoilEffectsRequest = z.infer<typeof coilEffectsRequest>;

/** The most that a curve is moved, dB, and where. */
export interface Moved {
  readonly db: number;
  readonly freqHz: number;
}
export interface CoilEffect {
  readonly couplingId: string;
  readonly ways: readonly ({ readonly wayId: string; readonly name: string } & Moved)[];
  readonly sum: Moved;
}

const POINTS = 301;
/** A way is moved where it still lies within this of its highest, dB: deeper down nobody hears it. */
const HEARD_DB = 40;

/**
 * Of each coupling: the circuit with all of them against the one without it. Fails as the design or the solver does.
 */
export function runCoilEffects({ design, variantId }: CoilEffectsRequest, solver: AcSolver): Result<CoilEffect[]> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const couplings = variant.couplings ?? [];
  const whole = levelsOf(design, variant, solver);
  if (!whole.ok) return whole;
  const effects: CoilEffect[] = [];
  for (const { id } of couplings) {
    const without = levelsOf(design, { ...variant, couplings: couplings.filter((c) => c.id !== id) }, solver);
    if (!without.ok) return without;
    const moved = movedMost(whole.value, without.value, variant.ways.length + 1);
    effects.push({
      couplingId: id,
      ways: variant.ways.map((way, w) => ({ wayId: way.id, name: way.name, ...moved[w] })),
      sum: moved[variant.ways.length],
    });
  }
  return success(effects);
}

/** Levels of every way, then of their sum, dB, at any frequencies. */
type Levels = (freqHz: Float64Array) => readonly Float64Array[];

function levelsOf(design: Design, variant: Variant, solver: AcSolver): Result<Levels> {
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return built;
  const levels = (freqHz: Float64Array): Result<readonly Float64Array[]> => {
    const system = systemAt(design, variant, { built: built.value }, freqHz, solver);
    if (!system.ok) return system;
    const pressures = system.value.ways.map((w) => w.pressure);
    return success([...pressures, sumOf(pressures)].map((p) => levelsDb(p)));
  };
  const tried = levels(Float64Array.of(AUDIO_BAND.fromHz));
  if (!tried.ok) return tried;
  return success((freqHz) => {
    const got = levels(freqHz);
    // It solved at one frequency; the structure is the same at all.
    if (!got.ok) throw new Error(got.code);
    return got.value;
  });
}

function movedMost(one: Levels, other: Levels, curves: number): Moved[] {
  const freqHz = logGrid(AUDIO_BAND.fromHz, AUDIO_BAND.toHz, POINTS);
  const [a, b] = [one(freqHz), other(freqHz)];
  return Array.from({ length: curves }, (_, c) => {
    const top = a[c].reduce((m, v) => Math.max(m, v), -Infinity);
    const counts = (i: number) => a[c][i] > top - HEARD_DB;
    let best = -1;
    a[c].forEach((v, i) => {
      if (counts(i) && (best < 0 || Math.abs(v - b[c][i]) > Math.abs(a[c][best] - b[c][best]))) best = i;
    });
    const difference = (logHz: number): number => {
      const at = Float64Array.of(Math.exp(logHz));
      return one(at)[c][0] - other(at)[c][0];
    };
    const ends = [Math.max(0, best - 1), Math.min(POINTS - 1, best + 1)].map((i) => Math.log(freqHz[i]));
    const sharp = greatestBetween((x) => Math.abs(difference(x)), ends[0], ends[1], 24);
    const onGrid = { db: a[c][best] - b[c][best], freqHz: freqHz[best] };
    return sharp.value > Math.abs(onGrid.db) ? { db: difference(sharp.at), freqHz: Math.exp(sharp.at) } : onGrid;
  });
}

export const coilEffectsJob = defineJob(coilEffectsRequest, (request, { solver }) => runCoilEffects(request, solver));
