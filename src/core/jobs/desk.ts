import { crossings, deepestDip, HALF_POWER_DB, highestPeak, refineCrossing, refineDip, steepestOctaves } from '../analysis/marks';
import { dominantSection } from '../analysis/poles';
import { levelsDb } from '../analysis/response';
import type { AcSolver } from '../analysis/solver';
import { AS_BUILT, compile, compileStage, type Compilation } from '../design/compile';
import type { Design, MaskLimit, Way } from '../design/schema';
import { stageName, valuesOf, type DesignedNetwork, type DesignedStage } from '../design/stage-design';
import { nullRatio, sectionResponse, type SectionTarget } from '../filter/section';
import { parametersOf } from '../topology/define-topology';
import { magnitude } from '../math/complex';
import { logGrid } from '../math/grid';
import { failure, success, type Result } from '../result';
import { decibels } from '../units/quantity';
import { checkDesk } from './desk-checks';
import { extraTraces, nuisanceLevels } from './desk-extras';
import { judgeJoints } from './desk-joints';
import type { BriefVerdict, DeskMark, DeskNetwork, DeskRequest, DeskResult, DeskStage } from './desk-types';
import { askedLevelDb, idealResponse } from './ideal-response';
import { sweptTrace, traceOf } from './trace';

/** How many times finer the crossing search looks than the grid's spacing allows for. */
const SEARCH_ROOM = 1.5;
const FLANK_DB = 22;

/** Everything the desk shows of one variant at one moment. */
export function runDesk({ design, variantId, ghostVariantId, grid, extras = {} }: DeskRequest, solver: AcSolver): Result<DeskResult> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const way = variant.ways[0];
  const freqHz = logGrid(grid.fromHz, grid.toHz, grid.points);
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return built;
  const output = built.value.ways[0].output;
  const nodes = [output, ...built.value.ways[0].joints];
  const solved = solver.sweep(built.value.circuit, freqHz, nodes);
  if (!solved.ok) return solved;
  const [outResponse, ...jointResponses] = solved.value;
  const asBuilt = traceOf(freqHz, outResponse);
  const ideal = traceOf(freqHz, idealResponse(design, way, built.value.ways[0].stages, freqHz, solver));
  const ghostVariant = ghostVariantId ? design.variants.find((v) => v.id === ghostVariantId) : undefined;
  const askedDb = askedLevelDb(way, ideal.levelDb);
  const passLevelDb = askedDb + passOffset(design, way, built.value, askedDb, solver);
  const levelOf = (freq: number): number => {
    const point = solver.sweep(built.value.circuit, Float64Array.of(freq), [output]);
    return point.ok ? levelsDb(point.value[0])[0] : NaN;
  };
  const stages = built.value.ways[0].stages.map((designed) => deskStage(design, way, designed, solver));
  const joints = judgeJoints(design, way, built.value, solver, ideal.levelDb, freqHz);
  const brief = design.brief.mask.map((limit) => judgeLimit(limit, freqHz, asBuilt.levelDb, passLevelDb));
  const partial = {
    variantId, freqHz, asBuilt, ideal, askedDb, passLevelDb,
    ghost: ghostVariant ? sweptTrace(design, ghostVariant, AS_BUILT, freqHz, solver) : null,
    ...extraTraces(design, variant, built.value, extras, freqHz, solver),
    nuisances: nuisanceLevels(design, variant, built.value, extras.bareStage ?? null, solver),
    marks: marksOf(freqHz, asBuilt.levelDb, passLevelDb, levelOf),
    handles: way.plans.map((plan) => ({ planId: plan.id, freqHz: plan.cutoffHz, levelDb: levelOf(plan.cutoffHz) })),
    stages, joints, brief,
    shortfallDb: decibels(built.value.ways[0].shortfall),
    worstErrorDb: worstInBand(asBuilt.levelDb, ideal.levelDb, askedDb),
    supplyAmps: built.value.ways[0].stages.reduce((sum, s) => sum + (s.stage.bypassed ? 0 : (s.device?.supplyAmps ?? 0) * s.opAmps), 0),
  };
  return success({ ...partial, checks: checkDesk(design, way, built.value, partial, jointResponses) });
}

/** Largest difference from the ideal where the ideal is within 3 dB of the gain asked for. */
export function worstInBand(levelDb: Float64Array, idealDb: Float64Array, referenceDb: number): number {
  let worst = 0;
  idealDb.forEach((level, i) => {
    if (level < referenceDb + HALF_POWER_DB) return;
    const miss = levelDb[i] - level;
    if (Math.abs(miss) > Math.abs(worst)) worst = miss;
  });
  return worst;
}

/** How far below the lowest corner and above the highest the pass band is looked for, and at how many points: the curves on screen may end where it begins. */
const LOOK_BELOW = 1000;
const LOOK_ABOVE = 30;
const LOOK_POINTS = 41;

/** How much the pass band as built lies above what was asked for, dB, wherever it lies. */
function passOffset(design: Design, way: Way, built: Compilation, askedDb: number, solver: AcSolver): number {
  const { stages, output } = built.ways[0];
  const corners = stages.flatMap((s) => (s.stage.bypassed ? [] : s.cornersHz));
  const [low, high] = corners.length > 0 ? [Math.min(...corners), Math.max(...corners)] : [1000, 1000];
  const wide = logGrid(low / LOOK_BELOW, high * LOOK_ABOVE, LOOK_POINTS);
  const solved = solver.sweep(built.circuit, wide, [output]);
  return solved.ok ? passBandOffset(levelsDb(solved.value[0]), levelsDb(idealResponse(design, way, stages, wide, solver)), askedDb) : 0;
}

/** How near its plateau the ideal is taken for flat, dB: the narrowest that enough points lie in. Further down, a shifted cutoff would pass for a lost level. */
const FLAT_DB = [0.02, 0.1, 0.5];
const FLAT_POINTS = 3;

/** How much the pass band as built lies above what was asked for, dB: the median difference where the ideal is flat. */
export function passBandOffset(levelDb: Float64Array, idealDb: Float64Array, askedDb: number): number {
  const best = Math.min(askedDb, idealDb.reduce((m, v) => Math.max(m, v), -Infinity));
  for (const within of FLAT_DB) {
    const flat = Array.from(levelDb, (level, i) => (idealDb[i] >= best - within ? level - idealDb[i] : NaN)).filter(Number.isFinite).sort((a, b) => a - b);
    if (flat.length >= FLAT_POINTS || (within === FLAT_DB[FLAT_DB.length - 1] && flat.length > 0)) return flat[flat.length >> 1];
  }
  return 0;
}

/** Flanks nearer than this many times apart make a hump of a pass band. */
const HUMP = 3;

function marksOf(freqHz: Float64Array, levelDb: Float64Array, referenceDb: number, levelOf: (f: number) => number): DeskMark[] {
  const threshold = referenceDb + HALF_POWER_DB;
  const spacing = (freqHz[1] / freqHz[0]) ** SEARCH_ROOM;
  const marks: DeskMark[] = crossings(freqHz, levelDb, threshold).map((near) => {
    const { freqHz: at, falling } = refineCrossing(near, spacing, threshold, levelOf);
    return { kind: 'cutoff', freqHz: at, levelDb: threshold, falling };
  });
  const { fall, rise } = steepestOctaves(freqHz, levelDb);
  // A slope is read where it is steepest and written where it can be seen: some way down the flank.
  for (const { slope, freqHz: at } of [fall, rise]) {
    if (Math.abs(slope) <= 1) continue;
    const flank = crossings(freqHz, levelDb, referenceDb - FLANK_DB).find((c) => c.falling === slope < 0);
    marks.push({ kind: 'slope', freqHz: flank?.freqHz ?? at, levelDb: flank ? referenceDb - FLANK_DB : levelOf(at), slopeDbPerOctave: slope });
  }
  const peak = highestPeak(freqHz, levelDb);
  // A hump is a peak even where it is no higher than what was asked for: its flanks lie near.
  const [rises, falls] = [true, false].map((rising) => marks.find((m) => m.kind === 'cutoff' && m.falling !== rising)?.freqHz);
  const hump = rises !== undefined && falls !== undefined && falls > rises && falls / rises < HUMP;
  if (peak && (hump || peak.levelDb > referenceDb + 0.05)) marks.push({ kind: 'peak', ...peak });
  const dip = deepestDip(freqHz, levelDb);
  if (dip) marks.push({ kind: 'notch', ...refineDip(dip, spacing, levelOf) });
  return marks.sort((a, b) => a.freqHz - b.freqHz);
}

/** What a card and the tables say of a stage. */
export function deskStage(design: Design, way: Way, designed: DesignedStage, solver: AcSolver): DeskStage {
  const { stage, topology, form, cornersHz } = designed;
  const circuit = compileStage(design, designed, { values: 'chosen', devices: 'real' });
  const [lowest, highest] = cornersHz.length > 0 ? [Math.min(...cornersHz), Math.max(...cornersHz)] : [1000, 1000];
  const glyphGrid = logGrid(lowest / 16, highest * 16, 41);
  const swept = solver.sweep(circuit, glyphGrid, ['out']);
  const target = designed.role === 'section' ? designed.target : null;
  return {
    id: stage.id,
    values: valuesOf(designed, 'exact'),
    name: stageName(way, stage),
    topology: topology.id,
    form,
    target,
    network: designed.role === 'network' ? networkFacts(designed) : null,
    cornersHz,
    bypassed: stage.bypassed,
    retuned: stage.target.kind === 'own',
    got: target ? sectionFacts(circuit, target, solver) : { freqHz: NaN, q: NaN, gainDb: NaN },
    glyph: { freqHz: glyphGrid, levelDb: swept.ok ? levelsDb(swept.value[0]) : null },
    parts: designed.parts.map((part) => ({
      name: part.spec.name, kind: part.spec.kind, role: part.spec.role, leaveOut: part.spec.leaveOut, exact: part.exact, chosen: part.chosen, typed: part.typed,
      pinned: part.choice.pinned ?? false, leftOut: part.choice.leftOut ?? false, tolerancePct: part.tolerancePct, given: part.spec.given ?? false,
      ...(part.wiper === undefined ? {} : { wiper: part.wiper }),
    })),
  };
}

function sectionFacts(circuit: Parameters<AcSolver['sweep']>[0], target: SectionTarget, solver: AcSolver): DeskStage['got'] {
  const section = dominantSection(circuit, target.order, target.freqHz);
  const flatHz = flatHzOf(target);
  return { freqHz: section?.freqHz ?? NaN, q: section?.q ?? NaN, gainDb: flatGain(circuit, flatHz, target, solver) };
}

/** A frequency in a section's flat part. */
function flatHzOf(target: SectionTarget): number {
  if (target.response === 'bandpass') return target.freqHz;
  const high = target.response === 'highpass' || (target.response === 'notch' && nullRatio(target) < 1);
  return high ? Math.min(target.freqHz * 100, 1e6) : target.freqHz / 1000;
}

function networkFacts(designed: DesignedNetwork): DeskNetwork {
  const { topology, form, parameters } = designed;
  const values = valuesOf(designed, 'chosen');
  const got = topology.measures(form, values, parameters);
  return {
    parameters: parametersOf(topology, form).map(({ name, label, kind, min, max }) => ({ name, label, kind, min, max, wanted: parameters[name], got: got[name] })),
    figures: (topology.figures ?? []).map(({ label, kind, of }) => ({ label, kind, value: of(form, values, parameters) })),
  };
}

/**
 * The stage's flat-part gain, dB: its level at a frequency in the flat part, less what its target section still loses there.
 */
function flatGain(circuit: Parameters<AcSolver['sweep']>[0], atHz: number, target: SectionTarget, solver: AcSolver): number {
  const point = solver.sweep(circuit, Float64Array.of(atHz), ['out']);
  return point.ok ? levelsDb(point.value[0])[0] - decibels(magnitude(sectionResponse({ ...target, gain: 1 }, atHz))) : NaN;
}

/** Whether a limit is met, by how much at its worst place, and where. */
export function judgeLimit(limit: MaskLimit, freqHz: Float64Array, levelDb: Float64Array, referenceDb: number): BriefVerdict {
  let worst = { byDb: Infinity, atHz: limit.freqHz };
  const consider = (at: number, level: number) => {
    const downDb = referenceDb - level;
    const room = limit.kind === 'at-most' ? limit.db - downDb : downDb - limit.db;
    if (room < worst.byDb) worst = { byDb: room, atHz: at };
  };
  // The limit's own frequency lies between grid points: interpolate there, then look at all points on its side.
  for (let i = 1; i < freqHz.length; i++) {
    if (freqHz[i - 1] > limit.freqHz || freqHz[i] < limit.freqHz) continue;
    const t = Math.log(limit.freqHz / freqHz[i - 1]) / Math.log(freqHz[i] / freqHz[i - 1]);
    consider(limit.freqHz, levelDb[i - 1] + t * (levelDb[i] - levelDb[i - 1]));
  }
  freqHz.forEach((f, i) => {
    if (limit.side === 'below' ? f <= limit.freqHz : f >= limit.freqHz) if (limit.kind === 'at-least' || inReach(limit, f)) consider(f, levelDb[i]);
  });
  return { limitId: limit.id, met: worst.byDb >= 0, ...worst };
}

/** A pass limit speaks for the decade next to its frequency: a band filter need not pass what its other slope takes. */
const inReach = (limit: MaskLimit, f: number): boolean => (limit.side === 'below' ? f >= limit.freqHz / 10 : f <= limit.freqHz * 10);
