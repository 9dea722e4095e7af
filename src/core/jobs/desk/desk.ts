import { defineJob } from '../define-job';
import { deskRequest } from './desk-types';
import type { Extremes } from '../../analysis/curves/curve-reader';
import { HALF_POWER_DB, type Peak } from '../../analysis/curves/marks';
import { dominantSection, sectionsAmong, type PoleSection } from '../../analysis/roots/poles';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile, compileStage } from '../../design/compiled/compile';
import type { Design, MaskLimit, Way } from '../../design/document/schema';
import {
  atControls,
  stageName,
  valuesOf,
  type DesignedNetwork,
  type DesignedStage,
} from '../../design/stages/stage-design';
import { limitSpan, upOf } from '../../filter/brief-mask';
import { nullRatio, sectionResponse, type SectionTarget } from '../../filter/section';
import { parametersOf } from '../../topology/kit/define-topology';
import { magnitude, type Complex } from '../../math/complex';
import { logGrid } from '../../math/grid';
import { failure, success, type Result } from '../../result';
import { decibels } from '../../units/quantity';
import { checkDesk } from './desk-checks';
import { extraTraces, nuisanceLevels } from './desk-extras';
import { designatorsIn, designatorsOf } from '../../design/stages/designators';
import { judgeJoints } from './desk-joints';
import type { BriefVerdict, DeskNetwork, DeskRequest, DeskResult, DeskStage } from './desk-types';
import { askedLevelDb, idealResponse } from '../reading/ideal-response';
import { anchoredTrace, inTurnWith } from '../reading/phase-turn';
import { polesOfSections, worstPassBandError, type ComparedCurve } from '../reading/pass-band-error';
import { marksOf, transitionsOf } from '../reading/way-marks';
import { idealTargets, plansStanding } from '../../design/stages/targets';
import { readWay, type WayReading } from '../reading/read-way';
import { restless } from '../reading/restless';
import { sweptTrace, traceOf } from '../reading/trace';

/** Everything the desk shows of one variant at one moment. */
export function runDesk(
  { design, variantId, ghostVariantId, grid, extras = {} }: DeskRequest,
  solver: AcSolver,
): Result<DeskResult> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const way = variant.ways[0];
  const freqHz = logGrid(grid.fromHz, grid.toHz, grid.points);
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return restless(design, variant, built);
  const [compiled] = built.value.ways;
  const solved = solver.sweep(built.value.circuit, freqHz, [compiled.output]);
  if (!solved.ok) return solved;
  const read = readWay(built.value, way, compiled, solver, grid);
  if (!read.ok) return read;
  const reading = read.value;
  const { reader, reference, stability } = reading;
  const asBuilt = anchoredTrace(freqHz, solved.value[0], reading);
  const ideal = inTurnWith(traceOf(freqHz, idealResponse(design, way, compiled.stages, freqHz, solver)), asBuilt);
  const idealOf = (at: Float64Array) => idealResponse(design, way, compiled.stages, at, solver);
  const idealRead = levelsDb(idealOf(reader.freqHz));
  const ghostVariant = ghostVariantId ? design.variants.find((v) => v.id === ghostVariantId) : undefined;
  const ghost = ghostVariant ? sweptTrace(design, ghostVariant, AS_BUILT, freqHz, solver) : null;
  const askedDb = askedLevelDb(way, idealRead);
  const names = designatorsOf(built.value.ways);
  const stages = asConnected(
    compiled.stages.map((designed) => deskStage(design, way, designed, names, solver)),
    compiled.stages,
    reading.natural,
  );
  const marks = marksOf(reading, way);
  const partial = {
    variantId,
    freqHz,
    asBuilt,
    ideal,
    askedDb,
    passLevelDb: reference.levelDb,
    passLevelOf: reference.of,
    stability,
    ghost: ghost && inTurnWith(ghost, asBuilt),
    ...extraTraces(design, variant, built.value, extras, freqHz, solver),
    nuisances: nuisanceLevels(design, variant, built.value, extras.bareStage ?? null, solver),
    marks: [...marks, ...transitionsOf(reading, marks, design.brief.mask)],
    handles: plansStanding(way).map((plan) => ({
      planId: plan.id,
      freqHz: plan.cutoffHz,
      levelDb: reader.levelAt(plan.cutoffHz),
    })),
    stages,
    joints: stability.stable ? judgeJoints(design, way, built.value, solver, idealRead, reader.freqHz) : [],
    brief: stability.stable
      ? design.brief.mask.map((limit) => judgeLimit(limit, design.brief.mask, reader, reference.levelDb))
      : [],
    shortfallDb: decibels(compiled.shortfall),
    worstErrorDb: stability.stable
      ? worstErrorOf(reading, way, { responseOf: idealOf, natural: polesOfSections(idealTargets(way)) }, askedDb)
      : null,
    supplyAmps: compiled.stages.reduce(
      (sum, s) => sum + (s.stage.bypassed ? 0 : (s.device?.supplyAmps ?? 0) * s.opAmps),
      0,
    ),
  };
  return success({ ...partial, checks: checkDesk(design, way, built.value, partial, solver, reading) });
}

/** Null where no plan and no section of its own says what the pass band should be. */
function worstErrorOf({ reader, natural }: WayReading, way: Way, ideal: ComparedCurve, askedDb: number): number | null {
  if (idealTargets(way).length + plansStanding(way).length === 0) return null;
  return worstPassBandError({ responseOf: reader.responseOf, natural }, ideal, askedDb, reader.span);
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

/** What a card and the tables say of a stage. */
export function deskStage(
  design: Design,
  way: Way,
  designed: DesignedStage,
  names: ReadonlyMap<string, string>,
  solver: AcSolver,
): DeskStage {
  const { stage, topology, form, cornersHz } = designed;
  const circuit = compileStage(design, designed, { values: 'chosen', devices: 'real' });
  const [lowest, highest] = cornersHz.length > 0 ? [Math.min(...cornersHz), Math.max(...cornersHz)] : [1000, 1000];
  const glyphGrid = logGrid(lowest / 16, highest * 16, 41);
  const swept = solver.sweep(circuit, glyphGrid, ['out']);
  const target = designed.role === 'section' ? designed.target : null;
  return {
    id: stage.id,
    values: valuesOf(designed, 'chosen'),
    name: stageName(way, stage),
    topology: topology.id,
    form,
    target,
    network: designed.role === 'network' ? networkFacts(designed) : null,
    cornersHz,
    bypassed: stage.bypassed,
    retuned: stage.target.kind === 'own',
    got: target ? sectionFacts(circuit, target, solver) : { freqHz: null, q: null, gainDb: null },
    glyph: { freqHz: glyphGrid, levelDb: swept.ok ? levelsDb(swept.value[0]) : null },
    parts: deskParts(designed),
    designators: designatorsIn(stage.id, names),
  };
}

/** Stages with the frequency and Q that they have in their circuit, source, neighbours and load included. */
function asConnected(
  facts: readonly DeskStage[],
  stages: readonly DesignedStage[],
  natural: readonly Complex[],
): DeskStage[] {
  const alone = facts.map(({ target, bypassed, got }, k): PoleSection | null => {
    const order = target && !bypassed && stages[k].role === 'section' ? target.order : 0;
    if (order === 0 || got.freqHz === null) return null;
    return { order, freqHz: got.freqHz, ...(order === 2 && got.q !== null ? { q: got.q } : {}) };
  });
  const found = sectionsAmong(natural, alone);
  return facts.map((stage, k) => {
    const section = found[k];
    return section ? { ...stage, got: { ...stage.got, freqHz: section.freqHz, q: section.q ?? stage.got.q } } : stage;
  });
}

/** The parts of a stage as they are chosen. */
export const deskParts = (designed: DesignedStage): DeskStage['parts'] =>
  designed.parts.map((part) => ({
    name: part.spec.name,
    kind: part.spec.kind,
    role: part.spec.role,
    ...(part.spec.potReach === undefined ? {} : { potReach: part.spec.potReach }),
    leaveOut: part.spec.leaveOut,
    exact: part.exact,
    chosen: part.chosen,
    typed: part.typed,
    pinned: part.choice.pinned ?? false,
    leftOut: part.choice.leftOut ?? false,
    tolerancePct: part.tolerancePct,
    given: part.spec.given ?? false,
    ...(part.wiper === undefined ? {} : { wiper: part.wiper }),
  }));

function sectionFacts(
  circuit: Parameters<AcSolver['sweep']>[0],
  target: SectionTarget,
  solver: AcSolver,
): DeskStage['got'] {
  const section = dominantSection(circuit, target.order, target.freqHz);
  const flatHz = flatHzOf(target);
  return { freqHz: section?.freqHz ?? null, q: section?.q ?? null, gainDb: flatGain(circuit, flatHz, target, solver) };
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
  const turned = atControls(designed);
  // A knob that is turned away from where it was designed is no error of the design.
  const aimed = turned === designed ? null : topology.measures(form, valuesOf(turned, 'exact'), parameters);
  return {
    parameters: parametersOf(topology, form).map(({ name, label, kind, min, max }) => ({
      name,
      label,
      kind,
      min,
      max,
      wanted: parameters[name],
      got: got[name],
      ...(aimed && Number.isFinite(aimed[name]) ? { aimed: aimed[name] } : {}),
    })),
    figures: (topology.figures ?? []).map(({ label, kind, of }) => ({
      label,
      kind,
      value: of(form, values, parameters),
    })),
  };
}

/**
 * The stage's flat-part gain, dB: its level at a frequency in the flat part, less what its target section still loses
 * there.
 */
function flatGain(
  circuit: Parameters<AcSolver['sweep']>[0],
  atHz: number,
  target: SectionTarget,
  solver: AcSolver,
): number {
  const point = solver.sweep(circuit, Float64Array.of(atHz), ['out']);
  return point.ok
    ? levelsDb(point.value[0])[0] - decibels(magnitude(sectionResponse({ ...target, gain: 1 }, atHz)))
    : NaN;
}

/**
 * Whether a limit is met among all of a brief's, by how much at its worst place, and where: on the curve itself,
 * between its points too. A pass limit is a band about the reference: so much below, and so much above; a stop limit
 * without an end goes as far as the curve is read.
 */
export function judgeLimit(
  limit: MaskLimit,
  all: readonly MaskLimit[],
  reader: Extremes,
  referenceDb: number,
): BriefVerdict {
  const [low, high] = limitSpan(limit, all);
  const [fromHz, toHz] = [
    low === 0 ? Math.min(reader.span.fromHz, high) : low,
    high === Infinity ? Math.max(reader.span.toHz, low) : high,
  ];
  const [highest, lowest] = [reader.highest(fromHz, toHz), reader.lowest(fromHz, toHz)];
  const verdict = (spareDb: number, { freqHz }: Peak): BriefVerdict => ({
    limitId: limit.id,
    met: spareDb >= 0,
    byDb: spareDb,
    atHz: freqHz,
  });
  if (limit.kind === 'at-least') return verdict(referenceDb - highest.levelDb - limit.db, highest);
  const below = verdict(limit.db - (referenceDb - lowest.levelDb), lowest);
  const above = verdict(upOf(limit) - (highest.levelDb - referenceDb), highest);
  return above.byDb < below.byDb ? above : below;
}

export const deskJob = defineJob(deskRequest, (request, { solver }) => runDesk(request, solver));
