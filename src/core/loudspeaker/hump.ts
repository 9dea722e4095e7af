import { leastSquares } from '../math/least-squares';
import { fromDecibels } from '../units/quantity';

/** A hump: where, how broad between the places where half of its decibels are left (octaves), how high. */
export interface Hump {
  readonly centreHz: number;
  readonly widthOct: number;
  readonly depthDb: number;
}

const LEAST_DB = 0.7;
/** The curve is looked at so far to either side of a top, octaves. */
const AROUND = 1.5;
const BESIDE = 0.8;
/** Tops that are tried, the highest over their surroundings first. */
const MOST_TRIED = 5;
const [NARROWEST, BROADEST] = [0.12, 2.5];
/** What is left beside the bell, as a share of its height: more, and it is no hump. */
const MOST_LEFT = 0.4;
/** A driver rolls off by 12 dB an octave above some frequency: the exponent of two in the power. */
const ROLL_OFF = 4;
/** Slopes of the line beneath, dB an octave. */
const STEEPEST = 12;
/** A bell leaves at most this share of what a bent line leaves. */
const MOST_OF_BENT = 0.6;

/**
 * What a resonance adds to a response at a frequency, dB: 1/H of a notch of depth K and quality q, (K² + q²u²)/(1 +
 * q²u²) with u = f/f0 − f0/f, its width where half of the decibels are gone.
 */
function bellDb({ centreHz, widthOct, depthDb }: Hump, freqHz: number): number {
  const depth = fromDecibels(depthDb);
  const quality = Math.sqrt(depth) / (2 * Math.sinh((widthOct * Math.LN2) / 2));
  const square = (quality * (freqHz / centreHz - centreHz / freqHz)) ** 2;
  return 10 * Math.log10((depth ** 2 + square) / (1 + square));
}

/**
 * The largest hump of a response between two frequencies, over the line that its surroundings make: a bell and a
 * straight line are fitted to it together, so that neither a slope nor its own skirts take anything from it. Null where
 * nothing rises by more than 0.7 dB.
 */
export function findHump(
  levelDb: ArrayLike<number>,
  freqHz: ArrayLike<number>,
  fromHz: number,
  toHz: number,
): Hump | null {
  const octaves = Array.from(freqHz, (f) => Math.log2(f));
  const known = octaves.flatMap((_, i) => (Number.isFinite(levelDb[i]) ? [i] : []));
  const inside = known.filter((i) => freqHz[i] >= fromHz && freqHz[i] <= toHz);
  const found = topsOf(levelDb, octaves, known, inside)
    .slice(0, MOST_TRIED)
    .flatMap((top) => {
      const hump = bellAt(levelDb, octaves, known, top);
      return hump && hump.centreHz >= fromHz && hump.centreHz <= toHz ? [hump] : [];
    })
    .sort((a, b) => b.depthDb - a.depthDb)[0];
  if (!found) return null;
  return {
    centreHz: Number(found.centreHz.toPrecision(3)),
    widthOct: Number(found.widthOct.toFixed(2)),
    depthDb: Number(found.depthDb.toFixed(1)),
  };
}

/** Places that stand over the line between what lies on both sides, the highest over it first. */
function topsOf(
  levelDb: ArrayLike<number>,
  octaves: readonly number[],
  known: readonly number[],
  inside: readonly number[],
): number[] {
  const over = new Map<number, number>();
  for (const i of inside) {
    const left = known.find((k) => octaves[k] >= octaves[i] - BESIDE) ?? i;
    const right = known.findLast((k) => octaves[k] <= octaves[i] + BESIDE) ?? i;
    if (left === i || right === i) continue;
    const share = (octaves[i] - octaves[left]) / (octaves[right] - octaves[left]);
    over.set(i, levelDb[i] - (levelDb[left] + share * (levelDb[right] - levelDb[left])));
  }
  const height = (i: number) => over.get(i) ?? -Infinity;
  return inside
    .filter((i) => height(i) > LEAST_DB / 2 && height(i) >= height(i - 1) && height(i) >= height(i + 1))
    .sort((a, b) => height(b) - height(a));
}

/** The bell that with a straight line is nearest to what lies about a top; null where that is no hump. */
function bellAt(
  levelDb: ArrayLike<number>,
  octaves: readonly number[],
  known: readonly number[],
  top: number,
): Hump | null {
  const around = known.filter((i) => Math.abs(octaves[i] - octaves[top]) <= AROUND);
  const humpOf = ([, , centre, depthDb, width]: readonly number[]): Hump => ({
    centreHz: 2 ** (octaves[top] + centre),
    widthOct: Math.exp(width),
    depthDb,
  });
  const left = (x: readonly number[]) => {
    const hump = humpOf(x);
    return around.map((i) => {
      const at = octaves[i] - octaves[top];
      const rolledOff = 10 * Math.log10(1 + 2 ** (ROLL_OFF * (at - x[5])));
      return x[0] + x[1] * at - rolledOff + bellDb(hump, 2 ** octaves[i]) - levelDb[i];
    });
  };
  let best: { x: number[]; error: number } | null = null;
  for (const width of [0.4, 1]) {
    const start = [levelDb[top] - 2, 0, 0, 2, Math.log(width), AROUND];
    const fit = leastSquares(left, start, around.length, {
      low: [levelDb[top] - 30, -STEEPEST, -0.4, 0, Math.log(NARROWEST), 0],
      high: [levelDb[top] + 3, STEEPEST, 0.4, 25, Math.log(BROADEST), 4],
      iterations: 60,
    });
    if (!best || fit.error < best.error) best = fit;
  }
  if (!best) return null;
  const hump = humpOf(best.x);
  const rms = Math.sqrt(best.error / around.length);
  const tells = hump.depthDb > LEAST_DB && rms < MOST_LEFT * hump.depthDb && hump.widthOct < 0.96 * BROADEST;
  // Where a response begins to roll off it bends one way only: a curve without flanks says it as well.
  const bent = leastSquares(
    (x) => around.map((i) => x.reduceRight((sum, c) => sum * (octaves[i] - octaves[top]) + c, 0) - levelDb[i]),
    [levelDb[top], 0, 0, 0],
    around.length,
  );
  return tells && best.error < MOST_OF_BENT * bent.error ? hump : null;
}
