import type { AcSolver } from '../../analysis/ac/solver';
import { missOf } from '../../topology/kit/design-context';
import { parametersOf } from '../../topology/kit/define-topology';
import type { PartValues } from '../../topology/kit/part';
import { cascadeResponse, type SectionTarget } from '../../filter/section';
import { logGrid } from '../../math/grid';
import { StageCurve } from './stage-curve';
import {
  valuesOf,
  type Bench,
  type DesignedNetwork,
  type DesignedSection,
  type DesignedStage,
} from '../stages/stage-design';
import { timesResponse } from '../../math/complex';

/** Points, and octaves to either side of its corners, that a stage's curve is compared over. */
const POINTS = 25;
const OCTAVES = 3;
/** Points on either side of a natural frequency, in widths (f/Q) from it. */
const WIDTHS = [0, 0.15, 0.3, 0.5, 0.8, 1.3];
const CLOSE_WIDTHS = Array.from({ length: 33 }, (_, i) => i / 24);
/** Above this under its best, dB, a path is said to pass. */
const PASS_DB = -3;
/** dB for a relative miss of one. */
const DB_PER_NEPER = 20 / Math.LN10;

/** What a section comes to with given parts, by its textbook. */
export function reachedTarget({ topology, aim: target }: DesignedSection, parts: PartValues): SectionTarget {
  const got = topology.closedForm(target.response, parts);
  return {
    ...target,
    freqHz: got.freqHz ?? target.freqHz,
    q: got.q ?? target.q,
    gain: got.gain,
    ...(target.response === 'notch' ? { zeroHz: got.zeroHz ?? got.freqHz ?? target.freqHz } : {}),
  };
}

/** How far given values leave a stage, or several in a row, from what they are for; dB. */
export interface Judge {
  /** @param values one set for each stage it was made for. */
  errorDb(values: readonly PartValues[]): number;
}

/**
 * One stage as it is judged: its circuit's curve and what that is to be, or, where devices bend, its own parameters.
 */
interface Judged {
  readonly designed: DesignedStage;
  readonly curve: StageCurve | null;
  readonly wanted: Float64Array | null;
}

/** How many times closer a choice is judged once it is made than while it is looked for. */
const CLOSER = 6;

/** No closer to nothing than this share under its frequency is a broad one looked at. */
const LOWEST_SHARE = 0.45;

/** Frequencies that some stages are compared at: about all their corners, and closely about each that rings. */
function judgingGrid(stages: readonly DesignedStage[], closely: boolean): Float64Array {
  const corners = stages.flatMap((s) => s.cornersHz);
  const [low, high] = corners.length > 0 ? [Math.min(...corners), Math.max(...corners)] : [1000, 1000];
  const span = 2 ** OCTAVES;
  const widths = closely ? CLOSE_WIDTHS : WIDTHS;
  const sharp = stages.flatMap((s): readonly number[] => {
    if (s.role === 'network') return s.cornersHz;
    if (s.target.order < 2) return [];
    const { freqHz, q, zeroHz } = s.aim;
    const about = widths.flatMap((w) => [freqHz * (1 - Math.min(LOWEST_SHARE, w / q)), freqHz * (1 + w / q)]);
    return zeroHz === undefined ? about : [...about, zeroHz];
  });
  const even = logGrid(
    low / span,
    high * span,
    Math.round((closely ? CLOSER : 1) * (POINTS + 4 * Math.log2(high / low))),
  );
  return Float64Array.from(new Set([...even, ...sharp])).sort();
}

/** Whether a path is for its phase: it passes all alike. */
const isForPhase = (stages: readonly DesignedStage[]): boolean =>
  stages.every((s) => s.role === 'section' && s.target.response === 'allpass');

/**
 * Judges stages together by their circuits: level in the pass band, how much too much or too little comes through
 * elsewhere, a null's depth and width with it, and of what is for its phase the whole of it. What bypassed stages do
 * counts for nothing.
 */
export function judgeOf(stages: readonly DesignedStage[], bench: Bench, solver: AcSolver, closely = false): Judge {
  const freqHz = judgingGrid(stages, closely);
  const judged = stages.map((designed) => judgedStage(designed, bench, freqHz, solver));
  const curves = judged.filter((j) => j.curve && j.wanted);
  const wanted = curves.reduce((product, j) => timesResponse(product, j.wanted!), ones(freqHz.length));
  const forPhase = isForPhase(stages);
  return {
    errorDb(values) {
      let worst = 0;
      let got = ones(freqHz.length);
      for (const [k, { designed, curve, wanted: own }] of judged.entries()) {
        if (!curve || !own) {
          if (designed.role === 'network') worst = Math.max(worst, parametersOffDb(designed, values[k]));
          continue;
        }
        const response = curve.response(values[k]);
        if (!response) return Infinity;
        got = timesResponse(got, response);
      }
      return curves.length === 0 ? worst : Math.max(worst, curveOffDb(wanted, got, forPhase));
    },
  };
}

function judgedStage(designed: DesignedStage, bench: Bench, freqHz: Float64Array, solver: AcSolver): Judged {
  const curve = StageCurve.of(bench, designed, freqHz, solver);
  const wanted =
    designed.role === 'section'
      ? cascadeResponse([designed.aim], freqHz)
      : (curve?.response(valuesOf(designed, 'exact')) ?? null);
  return { designed, curve, wanted };
}

const ones = (points: number): Float64Array =>
  Float64Array.from({ length: 2 * points }, (_, i) => (i % 2 === 0 ? 1 : 0));

/**
 * A circuit's own parameters with given parts against what was asked for: the worst, dB; 0 where it is asked for none.
 */
function parametersOffDb({ topology, form, parameters }: DesignedNetwork, parts: PartValues): number {
  const got = topology.measures(form, parts, parameters);
  return parametersOf(topology, form).reduce(
    (worst, spec) => Math.max(worst, DB_PER_NEPER * Math.abs(missOf(spec, got[spec.name], parameters[spec.name]))),
    0,
  );
}

/**
 * Largest difference between two responses, dB: of level where the wanted passes, of what comes through beside the best
 * elsewhere; of phase too where that is what it is for. Polarity is free.
 */
function curveOffDb(wanted: Float64Array, got: Float64Array, forPhase: boolean): number {
  let best = 0;
  for (let i = 0; i < wanted.length; i += 2) best = Math.max(best, Math.hypot(wanted[i], wanted[i + 1]));
  const passes = best * 10 ** (PASS_DB / 20);
  const worst = (sign: 1 | -1): number => {
    let most = 0;
    for (let i = 0; i < wanted.length; i += 2) {
      const [w, g] = [Math.hypot(wanted[i], wanted[i + 1]), Math.hypot(got[i], got[i + 1])];
      if (forPhase)
        most = Math.max(
          most,
          (DB_PER_NEPER * Math.hypot(sign * got[i] - wanted[i], sign * got[i + 1] - wanted[i + 1])) / w,
        );
      else if (w >= passes) most = Math.max(most, Math.abs(20 * Math.log10(g / w)));
      else most = Math.max(most, (DB_PER_NEPER * Math.abs(g - w)) / best);
    }
    return most;
  };
  const off = forPhase ? Math.min(worst(1), worst(-1)) : worst(1);
  return Number.isNaN(off) ? Infinity : off;
}
