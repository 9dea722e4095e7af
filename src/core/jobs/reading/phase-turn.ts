import type { CurveReader } from '../../analysis/curves/curve-reader';
import { levelAt } from '../../analysis/curves/marks';
import { groupDelaysS, levelsDb, phasesDeg } from '../../analysis/curves/response';
import type { Trace } from '../desk/desk-types';
import type { WayReading } from './read-way';

/**
 * A response on show with its phase in the turn that the pass band gives it: between −180 and 180 degrees where the
 * marks count from, and continuous from there. The reader follows it as closely as it must, so that a coarse grid loses
 * no turn.
 */
export function anchoredTrace(
  freqHz: Float64Array,
  response: Float64Array,
  { reader, reference }: Pick<WayReading, 'reader' | 'reference'>,
): Trace {
  const turns = -360 * Math.round((at(reader, reference.freqHz) - TURN_MIDDLE) / 360);
  const phaseDeg = phasesDeg(response).map((_, i) => {
    const raw = (Math.atan2(response[2 * i + 1], response[2 * i]) * 180) / Math.PI;
    const meant = at(reader, freqHz[i]) + turns;
    return raw + 360 * Math.round((meant - raw) / 360);
  });
  return { levelDb: levelsDb(response), phaseDeg, delayS: groupDelaysS(freqHz, phaseDeg) };
}

/** An inverting pass band is said to stand at +180°, though rounding puts it a hair to either side. */
const TURN_MIDDLE = 1;

/** The reader's phase at a frequency, degrees: straight between its samples, held beyond its ends. */
const at = ({ freqHz, phaseDeg, span }: CurveReader, f: number): number =>
  levelAt(freqHz, phaseDeg, Math.min(span.toHz, Math.max(span.fromHz, f)));

/**
 * The whole turns (degrees) that bring a phase nearest to another, on the whole: predicted beside built, measured
 * beside predicted.
 */
export function turnsBetween(phaseDeg: ArrayLike<number>, otherDeg: ArrayLike<number>): number {
  const off = Array.from(phaseDeg, (p, i) => otherDeg[i] - p)
    .filter(Number.isFinite)
    .sort((a, b) => a - b);
  return 360 * Math.round((off[off.length >> 1] ?? 0) / 360);
}

/** A step of more than this from one point to the next is a null, degrees: to either side of it is as true. */
const NULL_STEP_DEG = 120;

/** A trace with its phase in the turn of another's; at a null of its own it goes to the side that the other does. */
export function inTurnWith(trace: Trace, other: Trace): Trace {
  let turns = turnsBetween(trace.phaseDeg, other.phaseDeg);
  const phaseDeg = trace.phaseDeg.map((p, i) => {
    if (i > 0 && Math.abs(p - trace.phaseDeg[i - 1]) > NULL_STEP_DEG)
      turns += 360 * Math.round((other.phaseDeg[i] - p - turns) / 360);
    return p + turns;
  });
  return { ...trace, phaseDeg };
}
