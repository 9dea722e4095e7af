import type { Assembled } from '../../circuit/structure';
import { success, type Result } from '../../result';
import type { Complex } from '../../math/complex';
import type { Span } from '../../math/grid';
import { refined, samplingGrid, STRAIGHT_DB, type ResponseOf } from './curve-sampling';
import { deepestDip, HALF_POWER_DB, levelAt, refineCrossing, refineDip, type Crossing, type Peak } from './marks';
import { naturalFrequencies } from '../roots/poles';
import { levelsDb, phasesDeg } from './response';
import type { AcSolver } from '../ac/solver';

/** A stretch where a curve lies flat. */
interface Plateau {
  readonly fromHz: number;
  readonly toHz: number;
  /** Where it is flattest, and how high there, dB. */
  readonly atHz: number;
  readonly levelDb: number;
}

/** Steeper than this, dB an octave, nothing is a plateau; and a plateau is so many octaves wide. */
const FLAT_SLOPE = 0.5;
const PLATEAU_OCTAVES = 1;
/**
 * How far between two samples a turning point may rise over them, dB: they lie so close that a straight line is true to
 * a twentieth.
 */
const HIDDEN_DB = 2 * STRAIGHT_DB;
/** A plateau at an end of the span is looked at so many times further out, if it goes on as flat as this, dB. */
const FURTHER_OUT = 30;
const FLAT_DB = 0.05;

/**
 * Reads one curve: samples it where the circuit says it moves, refines it until it stands still, and finds what people
 * look for on it. Every figure of a curve comes from here.
 */
export class CurveReader {
  readonly freqHz: Float64Array;
  readonly levelDb: Float64Array;
  /** Degrees, unwrapped along the samples. */
  readonly phaseDeg: Float64Array;

  constructor(
    readonly responseOf: ResponseOf,
    natural: readonly Complex[],
    readonly span: Span,
  ) {
    const samples = refined(responseOf, samplingGrid(natural, span));
    this.freqHz = Float64Array.from(samples, (s) => s.f);
    this.levelDb = Float64Array.from(samples, (s) => s.level);
    this.phaseDeg = phasesDeg(Float64Array.from(samples.flatMap((s) => [s.re, s.im])));
  }

  /** The response itself at one frequency: re, im. */
  readonly responseAt = (freqHz: number): Float64Array => this.responseOf(Float64Array.of(freqHz));

  /** Level at one frequency, dB. */
  readonly levelAt = (freqHz: number): number => levelsDb(this.responseOf(Float64Array.of(freqHz)))[0];

  /** The highest point of the curve between two frequencies, its ends included; to about 1e-7 of its frequency. */
  highest(fromHz = this.span.fromHz, toHz = this.span.toHz): Peak {
    return this.extreme(1, fromHz, toHz);
  }

  /** The lowest likewise. */
  lowest(fromHz = this.span.fromHz, toHz = this.span.toHz): Peak {
    return this.extreme(-1, fromHz, toHz);
  }

  private extreme(sign: 1 | -1, fromHz: number, toHz: number): Peak {
    const { freqHz: f, levelDb: l } = this;
    const candidates: Peak[] = [fromHz, toHz].map((freqHz) => ({ freqHz, levelDb: this.levelAt(freqHz) }));
    let best = -Infinity;
    const inside = (i: number) => f[i] >= fromHz && f[i] <= toHz;
    l.forEach((level, i) => (best = inside(i) ? Math.max(best, sign * level) : best));
    l.forEach((level, i) => {
      // Every sample that may hide the best between itself and its neighbours.
      const turns = sign * level >= sign * (l[i - 1] ?? level) && sign * level >= sign * (l[i + 1] ?? level);
      if (!inside(i) || !turns || sign * level < best - HIDDEN_DB) return;
      const [low, high] = [Math.max(fromHz, f[Math.max(0, i - 1)]), Math.min(toHz, f[Math.min(f.length - 1, i + 1)])];
      const sharp = refineDip(
        { freqHz: Math.sqrt(low * high), levelDb: 0 },
        Math.sqrt(high / low),
        (at) => -sign * this.levelAt(at),
      );
      candidates.push({ freqHz: f[i], levelDb: level }, { freqHz: sharp.freqHz, levelDb: -sign * sharp.levelDb });
    });
    return candidates.reduce((a, b) => (sign * b.levelDb > sign * a.levelDb ? b : a));
  }

  /** Every place where the curve passes a level (dB), to about 1e-9 of its frequency. */
  crossings(thresholdDb: number): Crossing[] {
    const found: Crossing[] = [];
    for (let i = 1; i < this.freqHz.length; i++) {
      const [a, b] = [this.levelDb[i - 1] - thresholdDb, this.levelDb[i] - thresholdDb];
      if (a >= 0 === b >= 0) continue;
      const middle = Math.sqrt(this.freqHz[i - 1] * this.freqHz[i]);
      found.push(
        refineCrossing(
          { freqHz: middle, falling: a >= 0 },
          Math.sqrt(this.freqHz[i] / this.freqHz[i - 1]),
          thresholdDb,
          this.levelAt,
        ),
      );
    }
    return found;
  }

  /**
   * The edges nearest to a peak on either side, so far under it (dB below zero); absent where the curve does not come
   * down so far.
   */
  edgesOf({ freqHz, levelDb }: Peak, underDb = HALF_POWER_DB): { low?: Crossing; high?: Crossing } {
    const all = this.crossings(levelDb + underDb);
    return {
      low: all.filter((c) => c.freqHz < freqHz && !c.falling).at(-1),
      high: all.find((c) => c.freqHz > freqHz && c.falling),
    };
  }

  /** The deepest dip between two frequencies that the curve rises from by 3 dB on both sides. */
  dip(fromHz = this.span.fromHz, toHz = this.span.toHz): Peak | null {
    const found = deepestDip(...this.within(fromHz, toHz));
    if (!found) return null;
    const i = this.freqHz.indexOf(found.freqHz);
    const spacing = Math.max(found.freqHz / this.freqHz[i - 1], this.freqHz[i + 1] / found.freqHz);
    return refineDip(found, spacing, this.levelAt);
  }

  private within(fromHz: number, toHz: number): [Float64Array, Float64Array] {
    const inside = (f: number) => f >= fromHz && f <= toHz;
    return [this.freqHz.filter(inside), this.levelDb.filter((_, i) => inside(this.freqHz[i]))];
  }

  /**
   * Every stretch between two frequencies where the curve lies flat for an octave or more, ascending; none of a curve
   * that is all slope and peak.
   */
  plateaus(fromHz = this.span.fromHz, toHz = this.span.toHz): Plateau[] {
    const found: Plateau[] = [];
    let start = -1;
    const { freqHz: f, levelDb: l } = this;
    const slope = (i: number) => (l[i] - l[i - 1]) / Math.log2(f[i] / f[i - 1]);
    for (let i = 1; i <= f.length; i++) {
      const inside = i < f.length && f[i - 1] >= fromHz && f[i] <= toHz;
      const flat = inside && Math.abs(slope(i)) < FLAT_SLOPE;
      if (flat && start < 0) start = i - 1;
      if (flat || start < 0) continue;
      const [low, high] = [f[start], f[i - 1]];
      // An end of the span goes on for ever: a plateau there needs no width of its own.
      if (Math.log2(high / low) >= PLATEAU_OCTAVES || start === 0 || i === f.length)
        found.push({ fromHz: low, toHz: high, ...this.flattest(start, i - 1) });
      start = -1;
    }
    return found;
  }

  /** The highest of them; null where there is none. */
  plateau(fromHz?: number, toHz?: number): Plateau | null {
    const found = this.plateaus(fromHz, toHz);
    return found.length === 0 ? null : found.reduce((a, b) => (b.levelDb > a.levelDb ? b : a));
  }

  /**
   * Where the curve is flattest between two frequencies, however steep it is there; null where fewer than three
   * samples lie.
   */
  flattestBetween(fromHz: number, toHz: number): Peak | null {
    const inside = [...this.freqHz.keys()].filter((i) => this.freqHz[i] >= fromHz && this.freqHz[i] <= toHz);
    if (inside.length < 3) return null;
    const at = this.levellest(inside[0] + 1, inside[inside.length - 1] - 1);
    return { freqHz: this.freqHz[at], levelDb: this.levelDb[at] };
  }

  /** Where a stretch is flattest: at an end of the span, at a turning point, or where its slope is least. */
  private flattest(from: number, to: number): { atHz: number; levelDb: number } {
    const { freqHz: f, levelDb: l } = this;
    const at = (i: number) => ({ atHz: f[i], levelDb: l[i] });
    const outer = (i: number, freqHz: number) => {
      const levelDb = this.levelAt(freqHz);
      return Math.abs(levelDb - l[i]) < FLAT_DB ? { atHz: f[i], levelDb } : at(i);
    };
    if (from === 0) return outer(0, f[0] / FURTHER_OUT);
    if (to === f.length - 1) return outer(to, f[to] * FURTHER_OUT);
    return at(this.levellest(Math.max(1, from), Math.min(f.length - 2, to), from));
  }

  /** The sample between two others at which the curve is least steep. */
  private levellest(from: number, to: number, otherwise = from): number {
    const { freqHz: f, levelDb: l } = this;
    let [best, least] = [otherwise, Infinity];
    for (let i = from; i <= to; i++) {
      const slope = Math.abs((l[i + 1] - l[i - 1]) / Math.log2(f[i + 1] / f[i - 1]));
      if (slope < least) [best, least] = [i, slope];
    }
    return best;
  }
}

/** What a limit is judged on. */
export type Extremes = Pick<CurveReader, 'highest' | 'lowest' | 'span'>;

/**
 * A curve known at some frequencies only, straight between them: one draw of many, on the points that the circuit's own
 * curve asked for.
 */
export function sampledExtremes(freqHz: Float64Array, levelDb: Float64Array): Extremes {
  const extreme =
    (sign: 1 | -1) =>
    (fromHz: number, toHz: number): Peak => {
      const candidates = [fromHz, toHz].map((at) => ({
        freqHz: at,
        levelDb: levelAt(freqHz, levelDb, Math.min(freqHz[freqHz.length - 1], Math.max(freqHz[0], at))),
      }));
      freqHz.forEach((f, i) => {
        if (f > fromHz && f < toHz) candidates.push({ freqHz: f, levelDb: levelDb[i] });
      });
      return candidates.reduce((a, b) => (sign * b.levelDb > sign * a.levelDb ? b : a));
    };
  const span = { fromHz: freqHz[0], toHz: freqHz[freqHz.length - 1] };
  return {
    span,
    highest: (fromHz = span.fromHz, toHz = span.toHz) => extreme(1)(fromHz, toHz),
    lowest: (fromHz = span.fromHz, toHz = span.toHz) => extreme(-1)(fromHz, toHz),
  };
}

/**
 * A circuit's curve at a node, read over a span. Fails as the solver does.
 * @param natural its natural frequencies (rad/s), where they are known already.
 */
export function readCircuit(
  circuit: Assembled,
  node: string,
  span: Span,
  solver: AcSolver,
  natural: readonly Complex[] = naturalFrequencies(circuit, 2 * Math.PI * Math.sqrt(span.fromHz * span.toHz)),
): Result<CurveReader> {
  const first = solver.sweep(circuit, Float64Array.of(Math.sqrt(span.fromHz * span.toHz)), [node]);
  if (!first.ok) return first;
  const responseOf: ResponseOf = (freqHz) => {
    const solved = solver.sweep(circuit, freqHz, [node]);
    return solved.ok ? solved.value[0] : new Float64Array(2 * freqHz.length).fill(NaN);
  };
  return success(new CurveReader(responseOf, natural, span));
}
