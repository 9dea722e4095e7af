import { z } from 'zod';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import type { Compilation } from '../../design/compiled/compile';
import { designatorsOf } from '../../design/stages/designators';
import type { Design, Variant } from '../../design/document/schema';
import { settingSchema } from '../../design/document/setting-schema';
import { observationOf, SHARE_OFF, weighed, type Observation } from '../../measure/observation';
import { recordedDelay } from '../../measure/recorded-delay';
import { cholesky, differences, posterior, solved, type Belief, type Posterior } from '../../measure/posterior';
import { failure, success, type Result } from '../../result';
import { column, defineJob, ofVariant, requestOf } from '../define-job';
import type { JobContext } from '../job-context';
import { opAmpOutputs } from '../desk/op-amp-strain';
import type { BuiltVariant } from '../reading/built-variant';
import { BoardModel, type Read, type Seen } from './board-model';
import {
  INVERTED,
  namedParts,
  otherHypotheses,
  partHypotheses,
  sentenceOf,
  swapHypotheses,
  type FaultKind,
  type Hypothesis,
  type NamedPart,
} from './hypotheses';
import { nextMeasurement, type NextMeasurement } from './where-next';
import { isSound, placeAt, probesOf, responseAt, type Probe } from './probes';
import { alike } from './alike';
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

/** One thing that may be wrong, and how likely it is after all that was measured. */
export interface RankedFault {
  readonly kind: FaultKind;
  readonly parts: readonly string[];
  readonly probability: number;
  readonly sentence: string;
  /** Of a value: what it seems to be; ohm, farad, henry. */
  readonly value: number | null;
  /** Parts whose fault of the same kind gives the same curve within the noise. */
  readonly sameAs: readonly string[];
  /** Faults of other kinds that do, in words. */
  readonly likewise: readonly string[];
  /** Levels that it would give at each measurement’s frequencies, dB. */
  readonly curves: readonly { readonly freqHz: Float64Array; readonly levelDb: Float64Array }[];
}

/** What a part seems to be, all others free within their tolerances: share of what it is chosen to be. */
export interface LikelyValue {
  readonly designator: string;
  readonly chosen: number;
  readonly likely: number;
  /** The share lies between these with 95 %. */
  readonly lowRatio: number;
  readonly highRatio: number;
  /** Whether the measurement says more of it than its tolerance left open. */
  readonly narrowed: boolean;
  /** Parts that only show together with it. */
  readonly together: readonly string[];
}

export interface FaultRanking {
  /** How likely it is that nothing is wrong: all parts within their tolerances. */
  readonly healthy: number;
  readonly ranked: readonly RankedFault[];
  readonly values: readonly LikelyValue[];
  readonly next: NextMeasurement | null;
}

/** Hypotheses that are fitted: those that a look from afar leaves. */
const FITTED = 40;
/** Seen from afar, levels are off by so much more. */
const FROM_AFAR = 0.03;
/** Parts that are looked at for having changed places with one another. */
const MOST_SWAPPED = 24;
const SHOWN = 12;
/** ln of the evidence under the best from which nothing is shown. */
const NOWHERE = 60;
const TOGETHER = 0.97;

interface Fitted {
  readonly hypothesis: Hypothesis;
  readonly model: BoardModel;
  readonly found: Posterior;
  readonly score: number;
}

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

class Bench {
  private readonly sound: BoardModel;
  private readonly designators: ReadonlyMap<string, string>;
  private readonly parts: readonly NamedPart[];
  private readonly hypotheses: readonly Hypothesis[];
  private readonly variant: Variant;

  constructor(
    private readonly design: Design,
    private readonly built: BuiltVariant,
    private readonly seen: readonly Seen[],
    private readonly read: readonly Read[],
    private readonly boards: StoodBoards,
    private readonly probes: readonly Probe[],
    private readonly solver: AcSolver,
  ) {
    this.variant = built.variant;
    this.sound = this.model(built, seen, read);
    this.designators = designatorsOf(built.ways);
    this.parts = namedParts(built, this.designators, (element) => this.sound.indexOf(element) >= 0);
    const opAmps = opAmpOutputs(built).flatMap(({ element }) => {
      const own = element.replace(/\.output$/, '');
      const designator = this.designators.get(own);
      return designator ? [{ element: own, designator }] : [];
    });
    const ways = this.variant.join === 'acoustic' && seen.length > 0 ? this.variant.ways : [];
    const elsewhere = probes.filter((p) => !seen.some((s) => s.probe.id === p.id));
    this.hypotheses = [
      ...partHypotheses(this.parts),
      ...otherHypotheses(opAmps, ways, seen.length === 1 ? elsewhere : []),
      ...(seen.some((s) => s.curve.phaseRad) ? [INVERTED] : []),
    ];
  }

  private model(built: BuiltVariant, seen: readonly Seen[], read: readonly Read[], dead: string | null = null) {
    const meter = read.length > 0 ? { brief: this.design.brief, read } : null;
    return new BoardModel(built, seen, this.solver, meter, this.sound?.parts, dead);
  }

  /** A hypothesis with everything else free; null: a sound board. */
  fit(hypothesis: Hypothesis | null): Omit<Fitted, 'hypothesis'> | null {
    const model = hypothesis ? this.modelOf(hypothesis) : this.sound;
    if (!model) return null;
    const beliefs = model.beliefs.map((belief, i): Belief => {
      const own = i < model.parts.length ? hypothesis?.beliefs.get(model.parts[i].element) : undefined;
      return own ?? belief;
    });
    const start = this.startOf(hypothesis, model, beliefs);
    const found = start && posterior(model.residuals(SHARE_OFF), beliefs, start, model.slopes(SHARE_OFF));
    if (!found) return null;
    const score = found.logEvidence + model.logOfReadings(found.state) + (hypothesis?.logPrior ?? 0);
    return { model, found, score };
  }

  /** Of the starts of a hypothesis, the one that leaves least. */
  private startOf(hypothesis: Hypothesis | null, model: BoardModel, beliefs: readonly Belief[]): Float64Array | null {
    const middle = Float64Array.from(beliefs, (b) => b.centre);
    if (!hypothesis || hypothesis.starts.length === 0) return middle;
    const residuals = model.residuals(FROM_AFAR);
    let best: { state: Float64Array; left: number } | null = null;
    for (const start of hypothesis.starts) {
      const state = model.startAt(start, middle);
      const left = residuals(state)?.reduce((sum, r) => sum + r * r, 0) ?? NaN;
      if (Number.isFinite(left) && (!best || left < best.left)) best = { state, left };
    }
    return best?.state ?? null;
  }

  /** The circuit of a hypothesis: the sound one, but for op-amps, drivers and probes. */
  private modelOf({ elsewhere }: Hypothesis): BoardModel | null {
    if (!elsewhere) return this.sound;
    const { dead, reversed, probe, inverted } = elsewhere;
    if (dead) return this.without(dead);
    const turned = new Set(reversed ? [reversed] : []);
    const seen = this.seen.map((s) => {
      const there = probesOf(this.design, s.built.variant, s.built, turned);
      const id = probe ?? s.probe.id;
      const { phaseRad } = s.curve;
      // Recorded the other way round, its phase is half a turn off.
      const curve = inverted && phaseRad ? { ...s.curve, phaseRad: phaseRad.map((rad) => rad + Math.PI) } : s.curve;
      return { ...s, curve, probe: there.find((p) => p.id === id) ?? s.probe };
    });
    return this.model(this.built, seen, this.read);
  }

  /** The board with an op-amp that does nothing, as it stood whenever it was measured. */
  private without(dead: string): BoardModel | null {
    const here = this.boards.without(this.built, dead);
    if (!here) return null;
    const as = <T extends { readonly built: BuiltVariant }>(all: readonly T[]): T[] =>
      all.flatMap((s) => {
        const built = this.boards.without(s.built, dead);
        return built ? [{ ...s, built }] : [];
      });
    return this.model(here, as(this.seen), as(this.read), dead);
  }

  /**
   * The hypotheses worth fitting: each at its starts, what the other parts could take up of the rest taken from it by
   * the sound board’s slopes.
   */
  fromAfar(sound: Posterior): Hypothesis[] {
    const residuals = this.sound.residuals(FROM_AFAR);
    const here = residuals(sound.state);
    if (!here) return this.hypotheses.slice(0, FITTED);
    const slopes = this.sound.slopes(FROM_AFAR)(sound.state) ?? differences(residuals, here, sound.state);
    const n = this.sound.beliefs.length;
    const normal = new Float64Array(n * n);
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++)
        normal[i * n + j] = dot(slopes[i], slopes[j]) + (i === j ? 1 / this.sound.beliefs[i].sigma ** 2 : 0);
    const factor = cholesky(normal, n);
    const leftAfter = (left: Float64Array): number => {
      if (!factor) return dot(left, left);
      const pull = Float64Array.from(slopes, (s) => dot(s, left));
      return dot(left, left) - dot(pull, solved(factor, pull, n));
    };
    const scoresOf = (hypotheses: readonly Hypothesis[]) =>
      hypotheses.flatMap((hypothesis) => {
        const model = this.modelOf(hypothesis);
        if (!model) return [];
        const own = model.residuals(FROM_AFAR);
        const lefts = hypothesis.starts.flatMap((start) => {
          const left = own(model.startAt(start));
          return left ? [leftAfter(left)] : [];
        });
        const least = Math.min(...lefts);
        return Number.isFinite(least) ? [{ hypothesis, score: hypothesis.logPrior - least / 2 }] : [];
      });
    const singles = scoresOf(this.hypotheses).sort((a, b) => b.score - a.score);
    // Two parts that changed places are each among those that alone explain most.
    const blamed = new Set(singles.flatMap(({ hypothesis }) => (hypothesis.kind === 'value' ? hypothesis.parts : [])));
    const leading = [...blamed].slice(0, MOST_SWAPPED);
    const swaps = swapHypotheses(
      this.parts.filter((p) => leading.includes(p.designator)),
      this.parts.length,
    );
    return [...singles, ...scoresOf(swaps)]
      .sort((a, b) => b.score - a.score)
      .slice(0, FITTED)
      .map((s) => s.hypothesis);
  }

  ranking(healthy: Omit<Fitted, 'hypothesis'>, fitted: readonly Fitted[]): FaultRanking {
    const best = Math.max(healthy.score, ...fitted.map((f) => f.score));
    const weight = (score: number) => Math.exp(score - best);
    const total = weight(healthy.score) + fitted.reduce((sum, f) => sum + weight(f.score), 0);
    const order = [...fitted].sort((a, b) => b.score - a.score).filter((f, k) => k === 0 || f.score > best - NOWHERE);
    const shown = order.slice(0, SHOWN);
    const ranked = shown.map((f, k): RankedFault => {
      const { named, ratio } = this.valueOf(f);
      const same = k < LOOKED_ALIKE ? alike(f, order) : [];
      return {
        kind: f.hypothesis.kind,
        parts: f.hypothesis.parts,
        probability: weight(f.score) / total,
        sentence: this.said(f),
        value: named && ratio !== null ? named.part.chosen * ratio : null,
        sameAs: same.filter((o) => o.hypothesis.kind === f.hypothesis.kind).map((o) => o.hypothesis.parts[0]),
        likewise: same.filter((o) => o.hypothesis.kind !== f.hypothesis.kind).map((o) => this.said(o)),
        curves: f.model.seen.map((s) => {
          const { freqHz } = s.curve;
          const response = f.model.response(f.found.state, s, freqHz) ?? new Float64Array(2 * freqHz.length);
          return { freqHz, levelDb: levelsDb(response) };
        }),
      };
    });
    const top = order[0] && order[0].score > healthy.score ? order[0] : null;
    return {
      healthy: weight(healthy.score) / total,
      ranked,
      values: this.likely(top ?? healthy),
      next: nextMeasurement(healthy, shown, this.probes, this.seen),
    };
  }

  private valueOf({ hypothesis, model, found }: Fitted): { named: NamedPart | undefined; ratio: number | null } {
    const named = this.parts.find((p) => p.designator === hypothesis.parts[0]);
    const ratio = hypothesis.kind === 'value' && named ? Math.exp(found.state[model.indexOf(named.element)]) : null;
    return { named, ratio };
  }

  private said(fit: Fitted): string {
    const { named, ratio } = this.valueOf(fit);
    return sentenceOf(fit.hypothesis, named ? { kind: named.kind, value: named.part.chosen } : null, ratio);
  }

  private likely({ model, found, hypothesis }: Omit<Fitted, 'hypothesis'> & Partial<Fitted>): LikelyValue[] {
    const n = model.beliefs.length;
    return this.parts.map(({ element, designator, part: { chosen } }) => {
      const i = model.indexOf(element);
      const [middle, sigma] = [found.state[i], found.sigma[i]];
      const together = this.parts
        .filter((other) => {
          const j = model.indexOf(other.element);
          return j !== i && Math.abs(found.correlation[i * n + j]) > TOGETHER;
        })
        .map((other) => other.designator);
      return {
        designator,
        chosen,
        likely: chosen * Math.exp(middle),
        lowRatio: Math.exp(middle - 1.96 * sigma),
        highRatio: Math.exp(middle + 1.96 * sigma),
        narrowed: sigma < NARROWED * (hypothesis?.beliefs.get(element) ?? model.beliefs[i]).sigma,
        together,
      };
    });
  }
}

/** A value is known by the measurement where less than this share of its tolerance is left. */
const NARROWED = 0.6;

/** The first so many are looked at for others that would give the same curve. */
const LOOKED_ALIKE = 4;

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i];
  return sum;
}

export const rankFaultsJob = defineJob(rankRequest, (request, { solver, context }) =>
  rankFaults(request, solver, context),
);
