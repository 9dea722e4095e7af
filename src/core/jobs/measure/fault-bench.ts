import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { designatorsOf } from '../../design/stages/designators';
import type { Design, Variant } from '../../design/document/schema';
import { SHARE_OFF } from '../../measure/observation';
import { cholesky, differences, posterior, solved, type Belief, type Posterior } from '../../measure/posterior';
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
import { probesOf, type Probe } from './probes';
import { alike } from './alike';
import type { StoodBoards } from './stood-boards';

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

/** A hypothesis fitted: the board it makes, what its parts come to, and how well that explains what was seen. */
export interface Fitted {
  readonly hypothesis: Hypothesis;
  readonly model: BoardModel;
  readonly found: Posterior;
  readonly score: number;
}

/** One board on the bench: what was seen and read of it, and every hypothesis that is held against that. */
export class Bench {
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
