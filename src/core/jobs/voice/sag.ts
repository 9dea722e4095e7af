import type { z } from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import type { AcSolver } from '../../analysis/solver';
import { AS_BUILT, compile } from '../../design/compile';
import { supplyVolts } from '../../design/stage-design';
import { failure, success, type Result } from '../../result';
import { leastSupply } from '../desk/least-supply';
import { mainCutoff, marksOf } from '../reading/way-marks';
import { readWay } from '../reading/read-way';
import { AUDIO_BAND } from '../../math/grid';

/** What changes as the battery sags, the parts staying what they are. */
const sagRequest = requestOf('sag', { ...ofVariant });
export type SagRequest = z.infer<typeof sagRequest>;

export interface SagPoint {
  /** From rail to rail, V. */
  readonly supplyVolts: number;
  /** Of transistors, strings and op-amps, A. */
  readonly restAmps: number;
  /**
   * Highest level, dB, and where; the cutoff, Hz; the pass band's level, dB. NaN where there is none, and of what
   * sings.
   */
  readonly topDb: number;
  readonly topHz: number;
  readonly cutoffHz: number;
  readonly passDb: number;
  /** At what frequency it sings, Hz; null where it does not. */
  readonly singsHz: number | null;
}

export interface Sag {
  /** Full first. */
  readonly points: readonly SagPoint[];
  /**
   * The highest voltage tried at which it no longer works: no rest is found, or the op-amps have no room left; null
   * where it works at all.
   */
  readonly stopsAtVolts: number | null;
}

const SHARES = [1, 0.9, 0.8, 0.7, 0.6];

/** Fails as the design does, `no-such-variant`, or `nothing-bends` where no device rests on the supply. */
export function runSag({ design, variantId }: SagRequest, solver: AcSolver): Result<Sag> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const points: SagPoint[] = [];
  const ends: number[] = [];
  for (const share of SHARES) {
    const volts = share * supplyVolts(design);
    const built = compile(design, variant, { ...AS_BUILT, supplyShare: share });
    if (!built.ok && share === 1) return built;
    if (!built.ok) {
      ends.push(volts);
      continue;
    }
    const { live, ways } = built.value;
    if (!live) return failure('nothing-bends');
    const standing = ways[0].stages.filter((s) => !s.stage.bypassed);
    const read = readWay(built.value, variant.ways[0], ways[0], solver);
    if (!read.ok || volts <= leastSupply(built.value)) {
      ends.push(volts);
      continue;
    }
    const { reader, stability, reference } = read.value;
    const top = reader.highest(AUDIO_BAND.fromHz, AUDIO_BAND.toHz);
    const rail = live.circuit.structure.branchOf('Vplus');
    const opAmps = standing.reduce((sum, s) => sum + (s.device?.supplyAmps ?? 0) * s.opAmps, 0);
    points.push({
      supplyVolts: volts,
      restAmps: (rail === undefined ? 0 : Math.abs(live.rest[rail])) + opAmps,
      topDb: stability.stable ? top.levelDb : NaN,
      topHz: stability.stable ? top.freqHz : NaN,
      cutoffHz: mainCutoff(marksOf(read.value, variant.ways[0]))?.freqHz ?? NaN,
      singsHz: stability.singsHz,
      passDb: stability.stable ? reference.levelDb : NaN,
    });
  }
  return success({ points, stopsAtVolts: ends.length > 0 ? Math.max(...ends) : null });
}

export const sagJob = defineJob(sagRequest, (request, { solver }) => runSag(request, solver));
