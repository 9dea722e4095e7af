import { resistor } from '../circuit/elements/resistor';
import type { ElementInstance, Netlist } from '../circuit/netlist';

/**
 * How the share of the track from the low end grows with rotation: a usual law, or a measured table of (rotation,
 * share) with rising rotations, straight between.
 */
export type Taper = 'linear' | 'log' | 'reverse-log' | { readonly points: readonly (readonly [number, number])[] };

export interface Potentiometer {
  readonly totalOhm: number;
  readonly taper: Taper;
  /** What is left at either end of the track, ohm; 0 merges the wiper with the end. */
  readonly endOhm: number;
}

/** Share of the track at half rotation that a log track has, as parts are commonly marked: 15 %. */
const LOG_MIDDLE = 0.15;
/** An exponential through 0, LOG_MIDDLE and 1: (b^x − 1)/(b − 1) with √b = 1/LOG_MIDDLE − 1. */
const LOG_BASE = (1 / LOG_MIDDLE - 1) ** 2;

/** Share of the track (0 to 1) between the low end and the wiper at a rotation (0 to 1). */
export function trackShare(taper: Taper, rotation: number): number {
  const law = (x: number) => (LOG_BASE ** x - 1) / (LOG_BASE - 1);
  if (typeof taper === 'object') return between(taper.points, rotation);
  if (taper === 'linear') return rotation;
  return taper === 'log' ? law(rotation) : 1 - law(1 - rotation);
}

/** Straight lines through a table that rises in its first column; level outside it. */
function between(points: readonly (readonly [number, number])[], x: number): number {
  const next = points.findIndex(([at]) => at >= x);
  if (next === 0) return points[0][1];
  if (next < 0) return points[points.length - 1][1];
  const [[x0, y0], [x1, y1]] = [points[next - 1], points[next]];
  return x1 === x0 ? y1 : y0 + ((x - x0) / (x1 - x0)) * (y1 - y0);
}

/** Rotation at which a share of the track is reached. */
export function rotationFor(taper: Taper, share: number): number {
  const inverse = (y: number) => Math.log(1 + y * (LOG_BASE - 1)) / Math.log(LOG_BASE);
  if (typeof taper === 'object')
    return between(
      taper.points.map(([x, y]) => [y, x] as const),
      share,
    );
  if (taper === 'linear') return share;
  return taper === 'log' ? inverse(share) : 1 - inverse(1 - share);
}

/**
 * A potentiometer between low end, wiper and high end as two resistors; at an end without residual resistance the wiper
 * is that end, since no 0 ohm is ever stamped. Two gangs are two of these at one rotation. Throws for a rotation
 * outside 0 to 1 or a track that is not positive.
 */
export function potentiometer(
  name: string,
  low: string,
  wiper: string,
  high: string,
  { totalOhm, taper, endOhm }: Potentiometer,
  rotation: number,
): Netlist {
  if (!(rotation >= 0 && rotation <= 1)) throw new Error(`${name}: a rotation lies between 0 and 1, not ${rotation}`);
  if (!(totalOhm > 0 && endOhm >= 0)) throw new Error(`${name}: a track has a positive resistance`);
  const share = trackShare(taper, rotation);
  const elements: ElementInstance[] = [];
  const merged: [string, string][] = [];
  for (const [suffix, end, part] of [
    ['low', low, share],
    ['high', high, 1 - share],
  ] as const) {
    const ohm = endOhm + totalOhm * part;
    if (ohm === 0) merged.push([wiper, end]);
    else elements.push({ name: `${name}.${suffix}`, definition: resistor, nodes: [end, wiper], values: [ohm] });
  }
  return { elements, merged };
}
