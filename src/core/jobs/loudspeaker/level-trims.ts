import type * as z from 'zod';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import type { Way } from '../../design/document/schema';
import { success, type Result } from '../../result';
import { fromDecibels } from '../../units/quantity';
import { defineJob, ofVariant, requestOf } from '../define-job';
import { builtVariant } from '../reading/built-variant';

const levelTrimsRequest = requestOf('level-trims', { ...ofVariant });

/** What a meter shows at the output of an active way when its level trim stands where it belongs. */
export interface LevelTrim {
  readonly wayId: string;
  readonly name: string;
  readonly reversed: boolean;
  /** A tone in the middle of the way's pass band, Hz, and its level at the source, V RMS. */
  readonly toneHz: number;
  readonly inVolts: number;
  /** V RMS at the way's output, what the path itself loses at that tone counted. */
  readonly outVolts: number;
}

/** How far inside its only cutoff a way is measured, as a factor. */
const INSIDE = 4;
const USUAL_HZ = 1000;

/** The middle of what a way passes, Hz. */
function toneOf({ plans }: Way): number {
  const edge = (response: 'lowpass' | 'highpass') => plans.find((p) => p.response === response)?.cutoffHz;
  const [low, high] = [edge('highpass'), edge('lowpass')];
  if (low !== undefined && high !== undefined) return Math.sqrt(low * high);
  return low !== undefined ? low * INSIDE : (high ?? USUAL_HZ * INSIDE) / INSIDE;
}

/** One for each way with an amplifier of its own. Fails as the design and the solver do. */
export function runLevelTrims(
  { design, variantId }: z.infer<typeof levelTrimsRequest>,
  solver: AcSolver,
): Result<readonly LevelTrim[]> {
  const built = builtVariant(design, variantId);
  if (!built.ok) return built;
  const trims: LevelTrim[] = [];
  for (const [w, way] of built.value.variant.ways.entries()) {
    if (way.load.kind !== 'driver' || !way.load.amplifier) continue;
    const toneHz = toneOf(way);
    const solved = solver.sweep(built.value.circuit, Float64Array.of(toneHz), [built.value.ways[w].output]);
    if (!solved.ok) return solved;
    const levelDb = levelsDb(solved.value[0])[0] + way.levelTrimDb;
    const { signalVolts } = design.brief;
    trims.push({
      wayId: way.id,
      name: way.name,
      reversed: way.polarity === -1,
      toneHz,
      inVolts: signalVolts,
      outVolts: signalVolts * fromDecibels(levelDb),
    });
  }
  return success(trims);
}

export const levelTrimsJob = defineJob(levelTrimsRequest, (request, { solver }) => runLevelTrims(request, solver));
