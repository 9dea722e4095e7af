import * as z from 'zod';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import type { Compilation } from '../../design/compiled/compile';
import { settingSchema } from '../../design/document/setting-schema';
import { observationOf, SHARE_OFF, weighed, type Observation } from '../../measure/observation';
import { recordedDelay } from '../../measure/recorded-delay';
import { failure, success, type Result } from '../../result';
import { column, defineJob, ofVariant, requestOf } from '../define-job';
import type { JobContext } from '../job-context';
import type { Read, Seen } from './board-model';
import { Bench, type FaultRanking, type Fitted } from './fault-bench';
import { isSound, placeAt, probesOf, responseAt, type Probe } from './probes';
import { StoodBoards } from './stood-boards';

const rankRequest = requestOf('rank-faults', {
  ...ofVariant,
  measured: z
    .array(
      z.object({
        probe: z.string(),
        freqHz: column,
        levelDb: column,
        phaseDeg: column.nullable(),
        noiseDb: column.nullable(),
        uncalibrated: z.boolean(),
        setting: settingSchema.optional(),
      }),
    )
    .max(12),
  /** Of a meter, the board at rest: V from ground at a node. */
  readings: z
    .array(z.object({ node: z.string(), volts: z.number(), setting: settingSchema.optional() }))
    .max(200)
    .optional(),
});
type RankRequest = z.infer<typeof rankRequest>;

/**
 * Ranks what may be wrong with a board from curves measured at any of its places, and from what a meter read of it at
 * rest, however its controls stood. Every hypothesis is fitted with all other parts free within their tolerances and
 * weighed by its evidence. Fails as the design does, with `no-such-place` (`place`, `places`), `nothing-measured`, or
 * `cancelled`.
 */
async function rankFaults(
  { design, variantId, measured, readings = [] }: RankRequest,
  solver: AcSolver,
  context: JobContext,
): Promise<Result<FaultRanking>> {
  const boards = new StoodBoards(design, variantId);
  const built = boards.at(undefined);
  if (!built.ok) return built;
  if (measured.length + readings.length === 0) return failure('nothing-measured', { probe: '' });
  const { variant } = built.value;
  const probes = probesOf(design, variant, built.value);
  const seen: Seen[] = [];
  for (const { probe: asked, uncalibrated, setting, ...curve } of measured) {
    const stood = boards.at(setting);
    if (!stood.ok) return stood;
    const place = placeAt(design, stood.value.variant, stood.value, asked);
    if (!place.ok) return place;
    const probe = place.value;
    const observation = observationOf(curve, topOf(stood.value, probe, curve.freqHz, solver));
    if (observation.freqHz.length < 3) return failure('nothing-measured', { probe: asked });
    const loose = uncalibrated || isSound(variant, probe);
    const { late, curve: inTime } = withoutDelay(observation, stood.value, probe, solver);
    seen.push({ probe, built: stood.value, curve: inTime, uncalibrated: loose, late });
  }
  const read: Read[] = [];
  for (const { node, volts, setting } of readings) {
    const stood = boards.at(setting);
    if (!stood.ok) return stood;
    if (stood.value.circuit.structure.nodeOf(node) === undefined)
      return failure('no-such-place', { place: node, places: probes.map((p) => p.name).join(', ') });
    read.push({ node, volts, built: stood.value });
  }
  const bench = new Bench(design, built.value, seen, read, boards, probes, solver);
  const healthy = bench.fit(null);
  if (!healthy) return failure('no-unique-solution', { unknown: seen[0]?.probe.name ?? read[0].node });
  const looked = bench.fromAfar(healthy.found);
  const fitted: Fitted[] = [];
  for (const [k, hypothesis] of looked.entries()) {
    const fit = bench.fit(hypothesis);
    if (fit) fitted.push({ ...fit, hypothesis });
    context.progress((k + 1) / looked.length);
    await context.pause();
    if (context.signal.aborted) return failure('cancelled', { done: k });
  }
  return success(bench.ranking(healthy, fitted));
}

/** An observation without the delay that its recording has against a sound board; `late` where it had one. */
function withoutDelay(
  curve: Observation,
  { circuit }: Compilation,
  probe: Probe,
  solver: AcSolver,
): { readonly curve: Observation; readonly late: boolean } {
  if (!curve.phaseRad) return { curve, late: false };
  const sound = responseAt(circuit, probe, curve.freqHz, solver);
  if (!sound.ok) return { curve, late: false };
  const { sure } = weighed(curve, SHARE_OFF);
  const delayS = recordedDelay(curve.freqHz, curve.phaseRad, sound.value, sure);
  if (delayS === 0) return { curve, late: false };
  const phaseRad = curve.phaseRad.map((rad, i) => rad + 2 * Math.PI * curve.freqHz[i] * delayS);
  return { curve: { ...curve, phaseRad }, late: true };
}

/** The highest level that a sound board has at a place over a range, dB. */
function topOf({ circuit }: Compilation, probe: Probe, freqHz: readonly number[], solver: AcSolver): number {
  const response = responseAt(circuit, probe, Float64Array.from(freqHz.filter((f) => f > 0)), solver);
  return response.ok ? levelsDb(response.value).reduce((m, v) => Math.max(m, v), -Infinity) : -Infinity;
}

export const rankFaultsJob = defineJob(rankRequest, (request, { solver, context }) =>
  rankFaults(request, solver, context),
);
