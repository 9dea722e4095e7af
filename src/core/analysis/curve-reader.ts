import type { Assembled } from '../circuit/structure';
import { success, type Result } from '../result';
import type { Complex } from '../math/complex';
import { logGrid } from '../math/grid';
import { deepestDip, HALF_POWER_DB, levelAt, refineCrossing, refineDip, steepestOctaves, type Crossing, type Peak } from './marks';
import { naturalFrequencies } from './poles';
import { levelsDb, phasesDeg } from './response';
import type { AcSolver } from './solver';

/** A response (re, im by turns) at some frequencies (Hz). */
export type ResponseOf = (freqHz: Float64Array) => Float64Array;

export interface Span {
  readonly fromHz: number;
  readonly toHz: number;
}

/** Points a decade before anything is refined, and points across the width of a natural frequency, |s|/Q. */
const PER_DECADE = 32;
const ACROSS_WIDTH = 16;
/** Beyond its width, in widths from its middle: each half as far again. */
const FLANKS = [0.75, 1.125, 1.7, 2.5, 3.8, 5.7, 8.5];
/** Two frequencies nearer than this share are one. */
const SAME = 1e-9;
/** Narrower than this share of its frequency a resonance is as good as none: it would sing. */
const NARROWEST = 1e-6;

/**
 * Frequencies (Hz, ascending) at which a curve is first looked at: evenly in the logarithm, and across every natural frequency as closely as its Q asks for,
 * so that no resonance falls between two points.
 *
 * @param natural natural frequencies, rad/s.
 */
export function samplingGrid(natural: readonly Complex[], { fromHz, toHz }: Span): Float64Array {
  const count = 1 + Math.max(8, Math.ceil(PER_DECADE * Math.log10(toHz / fromHz)));
  const found = Array.from(logGrid(fromHz, toHz, count));
  for (const { re, im } of natural) {
    if (im < 0) continue;
    const middle = Math.hypot(re, im) / (2 * Math.PI);
    const width = Math.max(Math.abs(2 * re) / (2 * Math.PI), NARROWEST * middle);
    // A real pole, or a pair that hardly rings, has no peak of its own that the even points could miss.
    if (!(middle > fromHz / 2 && middle < toHz * 2) || width > middle) continue;
    const steps = [...Array.from({ length: ACROSS_WIDTH / 2 + 1 }, (_, k) => k / ACROSS_WIDTH), ...FLANKS];
    for (const step of steps) found.push(middle - step * width, middle + step * width);
  }
  const inside = found.filter((f) => f >= fromHz && f <= toHz).sort((a, b) => a - b);
  return Float64Array.from(inside.filter((f, i) => i === 0 || f > inside[i - 1] * (1 + SAME)));
}

/** Where a straight line between two neighbours is off by more than this, dB, a point is put between them. */
const STRAIGHT_DB = 0.05;
const ROUNDS = 8;
const MOST_POINTS = 6000;
/** A level so low carries no information: zeros of the circuit reach −∞. */
const FLOOR_DB = -240;

interface Sample {
  readonly f: number;
  readonly re: number;
  readonly im: number;
  readonly level: number;
  settled: boolean;
}

/** Points put between neighbours until a straight line from one to the next is true to 0.05 dB. */
function refined(responseOf: ResponseOf, start: Float64Array): Sample[] {
  const sampled = (freqHz: Float64Array): Sample[] => {
    const response = responseOf(freqHz);
    const levels = levelsDb(response);
    return Array.from(freqHz, (f, i) => ({ f, re: response[2 * i], im: response[2 * i + 1], level: Math.max(FLOOR_DB, levels[i]), settled: false }));
  };
  let points = sampled(start);
  for (let round = 0; round < ROUNDS && points.length < MOST_POINTS; round++) {
    const open = points.flatMap((p, i) => (i > 0 && !p.settled ? [i] : []));
    if (open.length === 0) break;
    const middles = sampled(Float64Array.from(open, (i) => Math.sqrt(points[i - 1].f * points[i].f)));
    const next: Sample[] = [];
    let k = 0;
    points.forEach((p, i) => {
      if (open[k] === i) {
        const middle = middles[k++];
        p.settled = middle.settled = Math.abs(middle.level - (points[i - 1].level + p.level) / 2) <= STRAIGHT_DB;
        next.push(middle);
      }
      next.push(p);
    });
    points = next;
  }
  return points;
}

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
/** How far between two samples a turning point may rise over them, dB: they lie so close that a straight line is true to a twentieth. */
const HIDDEN_DB = 2 * STRAIGHT_DB;
/** A plateau at an end of the span is looked at so many times further out, if it goes on as flat as this, dB. */
const FURTHER_OUT = 30;
const FLAT_DB = 0.05;

/**
 * Reads one curve: samples it where the circuit says it moves, refines it until it stands still, and finds what people look for on it. Every figure of a curve comes from here.
 */
export class CurveReader {
  readonly freqHz: Float64Array;
  readonly levelDb: Float64Array;
  /** Degrees, unwrapped along the samples. */
  readonly phaseDeg: Float64Array;

  constructor(private readonly responseOf: ResponseOf, natural: readonly Complex[], readonly span: Span) {
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
      const sharp = refineDip({ freqHz: Math.sqrt(low * high), levelDb: 0 }, Math.sqrt(high / low), (at) => -sign * this.levelAt(at));
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
      found.push(refineCrossing({ freqHz: middle, falling: a >= 0 }, Math.sqrt(this.freqHz[i] / this.freqHz[i - 1]), thresholdDb, this.levelAt));
    }
    return found;
  }

  /** The edges nearest to a peak on either side, so far under it (dB below zero); absent where the curve does not come down so far. */
  edgesOf({ freqHz, levelDb }: Peak, underDb = HALF_POWER_DB): { low?: Crossing; high?: Crossing } {
    const all = this.crossings(levelDb + underDb);
    return { low: all.filter((c) => c.freqHz < freqHz && !c.falling).at(-1), high: all.find((c) => c.freqHz > freqHz && c.falling) };
  }

  /** The deepest dip between two frequencies that the curve rises from by 3 dB on both sides. */
  dip(fromHz = this.span.fromHz, toHz = this.span.toHz): Peak | null {
    const found = deepestDip(...this.within(fromHz, toHz));
    if (!found) return null;
    const i = this.freqHz.indexOf(found.freqHz);
    const spacing = Math.max(found.freqHz / this.freqHz[i - 1], this.freqHz[i + 1] / found.freqHz);
    return refineDip(found, spacing, this.levelAt);
  }

  /** Steepest fall and rise over an octave between two frequencies. */
  slopes(fromHz = this.span.fromHz, toHz = this.span.toHz): ReturnType<typeof steepestOctaves> {
    return steepestOctaves(...this.within(fromHz, toHz));
  }

  private within(fromHz: number, toHz: number): [Float64Array, Float64Array] {
    const inside = (f: number) => f >= fromHz && f <= toHz;
    return [this.freqHz.filter(inside), this.levelDb.filter((_, i) => inside(this.freqHz[i]))];
  }

  /** The highest stretch where the curve lies flat for an octave or more; null where there is none: a curve that is all slope and peak. */
  plateau(): Plateau | null {
    let best: Plateau | null = null;
    let start = -1;
    const { freqHz: f, levelDb: l } = this;
    const slope = (i: number) => (l[i] - l[i - 1]) / Math.log2(f[i] / f[i - 1]);
    for (let i = 1; i <= f.length; i++) {
      const flat = i < f.length && Math.abs(slope(i)) < FLAT_SLOPE;
      if (flat && start < 0) start = i - 1;
      if (flat || start < 0) continue;
      const [fromHz, toHz] = [f[start], f[i - 1]];
      // An end of the span goes on for ever: a plateau there needs no width of its own.
      if (Math.log2(toHz / fromHz) >= PLATEAU_OCTAVES || start === 0 || i === f.length) {
        const at = this.flattest(start, i - 1);
        if (!best || at.levelDb > best.levelDb) best = { fromHz, toHz, ...at };
      }
      start = -1;
    }
    return best;
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
    let best = from;
    let least = Infinity;
    for (let i = Math.max(1, from); i <= Math.min(f.length - 2, to); i++) {
      const slope = Math.abs((l[i + 1] - l[i - 1]) / Math.log2(f[i + 1] / f[i - 1]));
      if (slope < least) [best, least] = [i, slope];
    }
    return at(best);
  }
}

/** What a limit is judged on. */
export type Extremes = Pick<CurveReader, 'highest' | 'lowest' | 'span'>;

/** A curve known at some frequencies only, straight between them: one draw of many, on the points that the circuit's own curve asked for. */
export function sampledExtremes(freqHz: Float64Array, levelDb: Float64Array): Extremes {
  const extreme = (sign: 1 | -1) => (fromHz: number, toHz: number): Peak => {
    const candidates = [fromHz, toHz].map((at) => ({ freqHz: at, levelDb: levelAt(freqHz, levelDb, Math.min(freqHz[freqHz.length - 1], Math.max(freqHz[0], at))) }));
    freqHz.forEach((f, i) => {
      if (f > fromHz && f < toHz) candidates.push({ freqHz: f, levelDb: levelDb[i] });
    });
    return candidates.reduce((a, b) => (sign * b.levelDb > sign * a.levelDb ? b : a));
  };
  const span = { fromHz: freqHz[0], toHz: freqHz[freqHz.length - 1] };
  return { span, highest: (fromHz = span.fromHz, toHz = span.toHz) => extreme(1)(fromHz, toHz), lowest: (fromHz = span.fromHz, toHz = span.toHz) => extreme(-1)(fromHz, toHz) };
}

/** A circuit's curve at a node, read over a span. Fails as the solver does. @param natural its natural frequencies (rad/s), where they are known already. */
export function readCircuit(circuit: Assembled, node: string, span: Span, solver: AcSolver, natural = naturalFrequencies(circuit, 2 * Math.PI * Math.sqrt(span.fromHz * span.toHz))): Result<CurveReader> {
  const first = solver.sweep(circuit, Float64Array.of(Math.sqrt(span.fromHz * span.toHz)), [node]);
  if (!first.ok) return first;
  const responseOf: ResponseOf = (freqHz) => {
    const solved = solver.sweep(circuit, freqHz, [node]);
    return solved.ok ? solved.value[0] : new Float64Array(2 * freqHz.length).fill(NaN);
  };
  return success(new CurveReader(responseOf, natural, span));
}

/** Largest error of an integral as a share of it. */
const INTEGRAL_SHARE = 1e-5;
const INTEGRAL_ROUNDS = 14;

/**
 * Integral of several positive densities over frequency (Hz) at once, by Simpson's rule on intervals that are halved until none changes its part of any by more than its share
 * (W. M. McKeeman, Algorithm 145, Comm. ACM 5, 1962: here breadth first, so that a round is one sweep).
 *
 * @param densitiesAt for each frequency, one density for each integral: rows by density.
 * @param start ascending frequencies between which the densities are smooth: a sampling grid.
 */
export function integrals(densitiesAt: (freqHz: Float64Array) => readonly Float64Array[], start: Float64Array): Float64Array {
  const ends = densitiesAt(start);
  const count = ends.length;
  interface Piece { readonly a: number; readonly b: number; readonly fa: number[]; readonly fm: number[]; readonly fb: number[] }
  const column = (rows: readonly Float64Array[], i: number) => rows.map((row) => row[i]);
  const middles = densitiesAt(Float64Array.from({ length: start.length - 1 }, (_, i) => (start[i] + start[i + 1]) / 2));
  let open: Piece[] = Array.from({ length: start.length - 1 }, (_, i) => ({ a: start[i], b: start[i + 1], fa: column(ends, i), fm: column(middles, i), fb: column(ends, i + 1) }));
  const simpson = ({ a, b, fa, fm, fb }: Piece, k: number) => ((b - a) / 6) * (fa[k] + 4 * fm[k] + fb[k]);
  const done = new Float64Array(count);
  for (let round = 0; open.length > 0; round++) {
    const whole = done.map((sum, k) => sum + open.reduce((total, piece) => total + simpson(piece, k), 0));
    const quarters = densitiesAt(Float64Array.from(open.flatMap(({ a, b }) => [a + (b - a) / 4, b - (b - a) / 4])));
    const next: Piece[] = [];
    open.forEach((piece, i) => {
      const { a, b, fa, fm, fb } = piece;
      const m = (a + b) / 2;
      const halves: Piece[] = [{ a, b: m, fa, fm: column(quarters, 2 * i), fb: fm }, { a: m, b, fa: fm, fm: column(quarters, 2 * i + 1), fb }];
      const better = (k: number) => simpson(halves[0], k) + simpson(halves[1], k);
      const settled = whole.every((total, k) => Math.abs(better(k) - simpson(piece, k)) <= 15 * INTEGRAL_SHARE * total / Math.sqrt(start.length));
      if (settled || round === INTEGRAL_ROUNDS) for (let k = 0; k < count; k++) done[k] += better(k) + (better(k) - simpson(piece, k)) / 15;
      else next.push(...halves);
    });
    open = next;
  }
  return done;
}
