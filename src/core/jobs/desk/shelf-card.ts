import * as z from 'zod';
import { defineJob, requestOf } from '../define-job';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import { currentVariantIn } from '../../design/document/current-way';
import { readDesign } from '../../design/document/migrate';
import type { Design, Variant } from '../../design/document/schema';
import { stageTopology } from '../../design/stages/stage-topology';
import { alignmentById } from '../../filter/alignments/index';
import { PLAN_NAMES } from '../../filter/response-names';
import { logGrid } from '../../math/grid';
import { success, type Result } from '../../result';
import { formatQuantity } from '../../units/quantity';
import { speakerSystem, sumOf } from '../loudspeaker/speaker-system';

/** A design as it lies on a shelf, of whatever version. */
const shelfCardRequest = requestOf('shelf-card', { design: z.unknown() });
export type ShelfCardRequest = z.infer<typeof shelfCardRequest>;

/** Levels (dB) over frequencies (Hz). */
interface SmallCurve {
  readonly freqHz: Float64Array;
  readonly levelDb: Float64Array;
}

/** What a shelf shows of a design, and what it is found by. */
export interface ShelfCard {
  /** Of the current variant; null where it has none as it stands. */
  readonly curve: SmallCurve | null;
  /** Its plans and circuits, as far as its first way has them. */
  readonly summary: string;
  readonly note: string;
  readonly variants: number;
  /** Circuits with their other names, and alignments. */
  readonly words: readonly string[];
}

/** Reads a design and says what it is. Fails as `readDesign` does. */
export function runShelfCard({ design: row }: ShelfCardRequest, solver: AcSolver): Result<ShelfCard> {
  const read = readDesign(row);
  if (!read.ok) return read;
  const design = read.value;
  const curve = smallCurve(design, solver);
  const [way] = currentVariantIn(design).ways;
  const plans = way.plans.map(
    (p) =>
      `${alignmentById(p.alignment).name} ${PLAN_NAMES[p.response].toLowerCase()} ${p.order}, ` +
      formatQuantity(p.cutoffHz, 'frequency'),
  );
  const circuits = way.stages
    .filter((s) => s.target.kind === 'network' || s.target.kind === 'deck')
    .map((s) => stageTopology(s, way).name);
  const ways = design.variants.flatMap((v) => v.ways);
  return success({
    curve: curve.ok ? curve.value : null,
    summary: [...plans, ...circuits].join(' · '),
    note: design.brief.note,
    variants: design.variants.length,
    words: [
      ...new Set(
        ways.flatMap((w) => [
          ...w.stages.map((stage) => stageTopology(stage, w)).flatMap((t) => [t.name, ...t.words]),
          ...w.plans.map((p) => `${alignmentById(p.alignment).name} ${p.response}`),
        ]),
      ),
    ],
  });
}

/** A small curve of the current variant. */
function smallCurve(design: Design, solver: AcSolver): Result<SmallCurve> {
  const variant = currentVariantIn(design);
  if (variant.join === 'acoustic') return heardSum(design, variant, solver);
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return built;
  const freqs = built.value.ways.flatMap((w) => w.stages.flatMap((s) => s.cornersHz));
  const freqHz = logGrid(Math.min(20, ...freqs.map((f) => f / 8)), Math.max(20e3, ...freqs.map((f) => f * 8)), 97);
  const solved = solver.sweep(
    built.value.circuit,
    freqHz,
    built.value.ways.map((w) => w.output),
  );
  if (!solved.ok) return solved;
  // Of several ways, whichever is loudest.
  const levels = solved.value.map((response) => levelsDb(response));
  return success({ freqHz, levelDb: freqHz.map((_, i) => levels.reduce((m, l) => Math.max(m, l[i]), -Infinity)) });
}

/** Of a crossover, what is heard: its sum about its own middle. */
function heardSum(design: Design, variant: Variant, solver: AcSolver): Result<SmallCurve> {
  const freqHz = logGrid(20, 20e3, 97);
  const system = speakerSystem(design, variant, freqHz, solver);
  if (!system.ok) return system;
  const levelDb = levelsDb(sumOf(system.value.ways.map((w) => w.pressure)));
  const middle = Array.from(levelDb).sort((a, b) => a - b)[levelDb.length >> 1];
  return success({ freqHz, levelDb: levelDb.map((v) => v - middle) });
}

export const shelfCardJob = defineJob(shelfCardRequest, (request, { solver }) => runShelfCard(request, solver));
