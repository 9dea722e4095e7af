import * as z from 'zod';
import { levelsDb, phasesDeg } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { settingSchema } from '../../design/document/setting-schema';
import { logGrid } from '../../math/grid';
import { success, type Result } from '../../result';
import { defineJob, ofVariant, requestOf } from '../define-job';
import { placeAt, responseAt } from './probes';
import { StoodBoards } from './stood-boards';

const predictedRequest = requestOf('predicted', {
  ...ofVariant,
  place: z.string().max(120),
  setting: settingSchema.nullable(),
  fromHz: z.number().positive(),
  toHz: z.number().positive(),
});

/** What a board should give at a place, as its controls stood. */
export interface Predicted {
  readonly freqHz: Float64Array;
  readonly levelDb: Float64Array;
  readonly phaseDeg: Float64Array;
}

const POINTS = 401;

/** Fails as the design and the solver do, or with `no-such-place`. */
function predicted(
  { design, variantId, place, setting, fromHz, toHz }: z.infer<typeof predictedRequest>,
  solver: AcSolver,
): Result<Predicted> {
  const built = new StoodBoards(design, variantId).at(setting ?? undefined);
  if (!built.ok) return built;
  const probe = placeAt(design, built.value.variant, built.value, place);
  if (!probe.ok) return probe;
  const freqHz = logGrid(fromHz, toHz, POINTS);
  const response = responseAt(built.value.circuit, probe.value, freqHz, solver);
  if (!response.ok) return response;
  return success({ freqHz, levelDb: levelsDb(response.value), phaseDeg: phasesDeg(response.value) });
}

export const predictedJob = defineJob(predictedRequest, (request, { solver }) => predicted(request, solver));
