import * as z from 'zod';
import { defineJob, requestOf, ofVariant, gridSchema } from '../define-job';
import { dominantSection } from '../../analysis/roots/poles';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile, compileStage } from '../../design/compiled/compile';
import type { Control, Design, Variant, Way } from '../../design/document/schema';
import { logGrid } from '../../math/grid';
import { failure, success, type Result } from '../../result';
import { marksOf } from '../reading/way-marks';
import { readWay, type WayReading } from '../reading/read-way';
import { figureOrNull } from '../../units/quantity';

/** What turning a control does, over its whole rotation. */
const turnRequest = requestOf('turn', { ...ofVariant, controlId: z.string(), grid: gridSchema });
export type TurnRequest = z.infer<typeof turnRequest>;

export interface TurnPoint {
  readonly position: number;
  /**
   * Lowest −3 dB point, Hz, or the middle between those of a peak; highest level, dB; Q of the stage that the control
   * turns; null where there is none.
   */
  readonly cutoffHz: number | null;
  readonly gainDb: number | null;
  readonly q: number | null;
  /** Where it sings there, Hz: it then has neither; null where it does not. */
  readonly singsHz: number | null;
}

/** How a taper spreads the cutoff: octaves from end to end, and the largest distance from even steps (octaves). */
export interface TaperJudgement {
  readonly taper: Exclude<Control['taper'], object>;
  readonly octaves: number;
  readonly unevenOctaves: number;
}

export interface Turn {
  readonly controlId: string;
  readonly freqHz: Float64Array;
  readonly family: readonly { readonly position: number; readonly levelDb: Float64Array }[];
  readonly points: readonly TurnPoint[];
  /** Best first; empty when turning moves no cutoff. */
  readonly tapers: readonly TaperJudgement[];
}

const FAMILY = [0, 0.125, 0.25, 0.375, 0.5, 0.625, 0.75, 0.875, 1];
const POINTS = 33;
const TAPERS = ['linear', 'log', 'reverse-log'] as const;

/** A family of curves over a control's rotation, and cutoff, gain and Q against it. Fails as the design does. */
function runTurn({ design, variantId, controlId, grid }: TurnRequest, solver: AcSolver): Result<Turn> {
  const variant = design.variants.find((v) => v.id === variantId);
  const control = variant?.controls.find((c) => c.id === controlId);
  if (!variant || !control) return failure('no-such-control', { control: controlId });
  const freqHz = logGrid(grid.fromHz, grid.toHz, grid.points);
  const family: Turn['family'][number][] = [];
  for (const position of control.kind === 'switch' ? switchPositions(variant, controlId) : FAMILY) {
    const levelDb = levelsAt(design, turned(variant, controlId, { position }), freqHz, solver);
    if (!levelDb.ok) return levelDb;
    family.push({ position, levelDb: levelDb.value });
  }
  const positions =
    control.kind === 'switch'
      ? family.map((f) => f.position)
      : Array.from({ length: POINTS }, (_, i) => i / (POINTS - 1));
  const points = pointsAt(design, variant, controlId, positions, solver);
  const tapers =
    control.kind === 'switch'
      ? []
      : TAPERS.flatMap((taper) =>
          judgeTaper(
            taper,
            taper === control.taper
              ? points
              : pointsAt(design, turned(variant, controlId, { taper }), controlId, positions, solver),
          ),
        );
  return success({
    controlId,
    freqHz,
    family,
    points,
    tapers: tapers.sort((a, b) => a.unevenOctaves / a.octaves - b.unevenOctaves / b.octaves),
  });
}

export const turned = (variant: Variant, controlId: string, patch: Partial<Control>): Variant => ({
  ...variant,
  controls: variant.controls.map((c) => (c.id === controlId ? { ...c, ...patch } : c)),
});

/** A switch has as many positions as the part with the most resistors. */
function switchPositions(variant: Variant, controlId: string): number[] {
  const counts = variant.ways.flatMap((way) =>
    way.stages.flatMap((s) =>
      Object.values(s.parts).flatMap(({ control }) =>
        control?.kind === 'switch' && control.control === controlId ? [control.ohms.length] : [],
      ),
    ),
  );
  const count = Math.max(2, ...counts);
  return Array.from({ length: count }, (_, i) => i / (count - 1));
}

function levelsAt(design: Design, variant: Variant, freqHz: Float64Array, solver: AcSolver): Result<Float64Array> {
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return built;
  const solved = solver.sweep(built.value.circuit, freqHz, [built.value.ways[0].output]);
  return solved.ok ? success(levelsDb(solved.value[0])) : solved;
}

function pointsAt(
  design: Design,
  variant: Variant,
  controlId: string,
  positions: readonly number[],
  solver: AcSolver,
): TurnPoint[] {
  return positions.map((position): TurnPoint => {
    const here = turned(variant, controlId, { position });
    const built = compile(design, here, AS_BUILT);
    const read = built.ok ? readWay(built.value, here.ways[0], built.value.ways[0], solver) : built;
    if (!built.ok || !read.ok) return { position, cutoffHz: null, gainDb: null, q: null, singsHz: null };
    const { stability, reader } = read.value;
    if (!stability.stable) return { position, cutoffHz: null, gainDb: null, q: null, singsHz: stability.singsHz };
    const moved = built.value.ways[0].stages.find(
      (s) =>
        s.role === 'section' &&
        s.target.order === 2 &&
        Object.values(s.stage.parts).some((p) => p.control?.control === controlId),
    );
    const q =
      moved?.role === 'section'
        ? (dominantSection(compileStage(design, moved, { values: 'chosen', devices: 'real' }), 2, moved.target.freqHz)
            ?.q ?? null)
        : null;
    return {
      position,
      cutoffHz: standsAt(read.value, here.ways[0]),
      gainDb: figureOrNull(reader.highest().levelDb),
      q,
      singsHz: null,
    };
  });
}

/** Where a curve stands, Hz: the geometric middle of a peak's half-power points, or its lowest −3 dB point. */
function standsAt(reading: WayReading, way: Way): number | null {
  const cutoffs = marksOf(reading, way).filter((m) => m.kind === 'cutoff');
  const [low, high] = cutoffs;
  if (reading.reference.of === 'peak' && high) return Math.sqrt(low.freqHz * high.freqHz);
  return low?.freqHz ?? null;
}

function judgeTaper(taper: TaperJudgement['taper'], points: readonly TurnPoint[]): TaperJudgement[] {
  const known = points.flatMap(({ position, cutoffHz }) => (cutoffHz === null ? [] : [{ position, cutoffHz }]));
  if (known.length < points.length / 2) return [];
  const octaves = known.map((p) => Math.log2(p.cutoffHz / known[0].cutoffHz));
  const range = octaves[octaves.length - 1];
  if (Math.abs(range) < 0.1) return [];
  const [from, to] = [known[0].position, known[known.length - 1].position];
  const uneven = known.map((p, i) => Math.abs(octaves[i] - (range * (p.position - from)) / (to - from)));
  return [{ taper, octaves: Math.abs(range), unevenOctaves: Math.max(...uneven) }];
}

export const turnJob = defineJob(turnRequest, (request, { solver }) => runTurn(request, solver));
