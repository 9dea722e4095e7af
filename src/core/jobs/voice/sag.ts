import { RAIL_SOURCES } from '../../design/compiled/writing';
import type * as z from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import { supplyVolts } from '../../design/stages/stage-design';
import type { Design, Variant } from '../../design/document/schema';
import { failure, success, type Failure, type Result } from '../../result';
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
   * Highest level, dB, and where; the cutoff, Hz; the pass band's level, dB. null where there is none, and of what
   * sings.
   */
  readonly topDb: number | null;
  readonly topHz: number | null;
  readonly cutoffHz: number | null;
  readonly passDb: number | null;
  /** At what frequency it sings, Hz; null where it does not. */
  readonly singsHz: number | null;
}

export interface Sag {
  /** Full first. */
  readonly points: readonly SagPoint[];
  /** The highest voltage at which it no longer works, V; null where it works at all that were tried. */
  readonly stopsAtVolts: number | null;
  /** What keeps it from working there: no rest is found, or the op-amps have no room left. */
  readonly stoppedBy: 'rest' | 'op-amps' | null;
}

const SHARES = [1, 0.9, 0.8, 0.7, 0.6];

/** Between the last that works and the first that does not, it is looked for to this share of the supply. */
const STOP_WITHIN = 0.005;

/** Fails as the design does, `no-such-variant`, or `nothing-bends` where no device rests on the supply. */
export function runSag({ design, variantId }: SagRequest, solver: AcSolver): Result<Sag> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const points: SagPoint[] = [];
  let [works, stops]: [number, Stop | null] = [1, null];
  for (const share of SHARES) {
    const found = pointAt(design, variant, share, solver);
    if (!found.ok) return found;
    if (found.value.kind === 'point') {
      points.push(found.value.point);
      works = share;
      continue;
    }
    stops = found.value;
    break;
  }
  if (points.length === 0 && stops?.failure) return stops.failure;
  if (stops === null) return success({ points, stopsAtVolts: null, stoppedBy: null });
  let high = works;
  while (high - stops.share > STOP_WITHIN) {
    const share = (high + stops.share) / 2;
    const found = pointAt(design, variant, share, solver);
    if (found.ok && found.value.kind === 'point') high = share;
    else if (found.ok && found.value.kind === 'stop') stops = found.value;
    else break;
  }
  return success({ points, stopsAtVolts: stops.share * supplyVolts(design), stoppedBy: stops.by });
}

interface Stop {
  readonly kind: 'stop';
  readonly share: number;
  readonly by: NonNullable<Sag['stoppedBy']>;
  readonly failure: Failure | null;
}

/** How it stands on a share of its supply, or what keeps it from working there. */
function pointAt(
  design: Design,
  variant: Variant,
  share: number,
  solver: AcSolver,
): Result<{ readonly kind: 'point'; readonly point: SagPoint } | Stop> {
  const volts = share * supplyVolts(design);
  const stop = (by: Stop['by'], failed: Failure | null = null) =>
    success({ kind: 'stop' as const, share, by, failure: failed });
  const built = compile(design, variant, { ...AS_BUILT, supplyShare: share });
  if (!built.ok) return stop('rest', built);
  const { live, ways } = built.value;
  if (!live) return failure('nothing-bends');
  const standing = ways[0].stages.filter((s) => !s.stage.bypassed);
  const read = readWay(built.value, variant.ways[0], ways[0], solver);
  if (!read.ok) return stop('rest', read);
  if (volts <= leastSupply(built.value)) return stop('op-amps');
  const { reader, stability, reference } = read.value;
  const top = reader.highest(AUDIO_BAND.fromHz, AUDIO_BAND.toHz);
  const rail = live.circuit.structure.branchOf(RAIL_SOURCES.plus);
  const opAmps = standing.reduce((sum, s) => sum + (s.device?.supplyAmps ?? 0) * s.opAmps, 0);
  return success({
    kind: 'point',
    point: {
      supplyVolts: volts,
      restAmps: (rail === undefined ? 0 : Math.abs(live.rest[rail])) + opAmps,
      topDb: stability.stable ? top.levelDb : null,
      topHz: stability.stable ? top.freqHz : null,
      cutoffHz: mainCutoff(marksOf(read.value, variant.ways[0]))?.freqHz ?? null,
      singsHz: stability.singsHz,
      passDb: stability.stable ? reference.levelDb : null,
    },
  });
}

export const sagJob = defineJob(sagRequest, (request, { solver }) => runSag(request, solver));
