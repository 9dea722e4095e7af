import { halfPowerPoint } from '../analysis/marks';
import { levelsDb } from '../analysis/response';
import type { AcSolver } from '../analysis/solver';
import { AS_BUILT, compile } from '../design/compile';
import type { Design } from '../design/schema';
import { supplyVolts } from '../design/stage-design';
import { logGrid } from '../math/grid';
import { failure, success, type Result } from '../result';

/** What changes as the battery sags, the parts staying what they are. */
export interface SagRequest {
  readonly kind: 'sag';
  readonly design: Design;
  readonly variantId: string;
}

export interface SagPoint {
  /** From rail to rail, V. */
  readonly supplyVolts: number;
  /** Of transistors and strings, without op-amps; A. */
  readonly restAmps: number;
  /** Highest level, dB, and where; the half-power point, Hz (NaN where there is none). */
  readonly topDb: number;
  readonly topHz: number;
  readonly cutoffHz: number;
}

export interface Sag {
  /** Full first. A voltage at which the circuit finds no rest is left out. */
  readonly points: readonly SagPoint[];
}

const SHARES = [1, 0.9, 0.8, 0.7, 0.6];
const [LOWEST_HZ, HIGHEST_HZ, POINTS] = [20, 20e3, 301];

/** Fails as the design does, `no-such-variant`, or `nothing-bends` where no device rests on the supply. */
export function runSag({ design, variantId }: SagRequest, solver: AcSolver): Result<Sag> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const freqHz = logGrid(LOWEST_HZ, HIGHEST_HZ, POINTS);
  const points: SagPoint[] = [];
  for (const share of SHARES) {
    const built = compile(design, variant, { ...AS_BUILT, supplyShare: share });
    if (!built.ok && share === 1) return built;
    if (!built.ok) continue;
    const { circuit, live, ways } = built.value;
    if (!live) return failure('nothing-bends');
    const swept = solver.sweep(circuit, freqHz, [ways[0].output]);
    if (!swept.ok) continue;
    const levels = levelsDb(swept.value[0]);
    const top = levels.reduce((best, v, i) => (v > levels[best] ? i : best), 0);
    const rail = live.circuit.structure.branchOf('Vplus');
    points.push({ supplyVolts: share * supplyVolts(design), restAmps: rail === undefined ? 0 : Math.abs(live.rest[rail]), topDb: levels[top], topHz: freqHz[top], cutoffHz: halfPowerPoint(freqHz, levels)?.freqHz ?? NaN });
  }
  return success({ points });
}
