import { complex, divide, multiply, scale, type Complex } from '../math/complex';
import { fromDecibels } from '../units/quantity';
import { SPEED_OF_SOUND } from './air';
import type { Curve, Driver } from './driver';
import { minimumPhaseDeg } from './minimum-phase';

/** Pressure at 1 m as a response (re, im by turns), 1 for 0 dB SPL, to 2.83 V at the driver's terminals. */
export function driverResponse({ response }: Pick<Driver, 'response'>, freqHz: Float64Array): Float64Array {
  const out = new Float64Array(2 * freqHz.length);
  if (response.kind === 'curve') {
    const { levelDb, phaseDeg } = curveAt(response.curve, freqHz);
    levelDb.forEach((level, i) => {
      const [size, angle] = [fromDecibels(level), (phaseDeg[i] * Math.PI) / 180];
      [out[2 * i], out[2 * i + 1]] = [size * Math.cos(angle), size * Math.sin(angle)];
    });
    return out;
  }
  freqHz.forEach((f, i) => {
    const { re, im } = modelledResponse(response, f);
    [out[2 * i], out[2 * i + 1]] = [re, im];
  });
  return out;
}

/** A driver in its box: a high-pass of second order, bumps of its cone, and a fall above. */
function modelledResponse(
  { sensitivityDb, lowHz, lowQ, topHz, topQ, bumps }: Extract<Driver['response'], { kind: 'model' }>,
  freqHz: number,
): Complex {
  const x = complex(0, freqHz / lowHz);
  const y = complex(0, freqHz / topHz);
  const second = (s: Complex, q: number): Complex => complex(1 - s.im ** 2, s.im / q);
  let value = scale(divide(complex(-(x.im ** 2)), second(x, lowQ)), fromDecibels(sensitivityDb));
  value = divide(value, second(y, topQ));
  for (const bump of bumps) {
    const s = complex(0, freqHz / bump.freqHz);
    const high = fromDecibels(bump.gainDb / 2);
    value = multiply(value, divide(second(s, bump.q / high), second(s, bump.q * high)));
  }
  return value;
}

/**
 * A curve's values at frequencies, dB and degrees: straight in between over the logarithm, phase unwrapped or, where
 * there is none, minimum; beyond its ends it falls away as it did.
 */
export function curveAt(curve: Curve, freqHz: Float64Array): { levelDb: Float64Array; phaseDeg: Float64Array } {
  const { phase, logs, beyond } = preparedOf(curve);
  const levelDb = new Float64Array(freqHz.length);
  const phaseDeg = new Float64Array(freqHz.length);
  const last = logs.length - 1;
  let k = 0;
  freqHz.forEach((f, i) => {
    const at = Math.log(f);
    if (i === 0) k = below(logs, at);
    if (at <= logs[0]) [levelDb[i], phaseDeg[i]] = [curve.values[0] + beyond.low * (at - logs[0]), phase[0]];
    else if (at >= logs[last])
      [levelDb[i], phaseDeg[i]] = [curve.values[last] + beyond.high * (at - logs[last]), phase[last]];
    else {
      while (k > 0 && logs[k] > at) k--;
      while (k < last - 1 && logs[k + 1] < at) k++;
      const t = (at - logs[k]) / (logs[k + 1] - logs[k]);
      levelDb[i] = curve.values[k] + t * (curve.values[k + 1] - curve.values[k]);
      phaseDeg[i] = phase[k] + t * (phase[k + 1] - phase[k]);
    }
  });
  return { levelDb, phaseDeg };
}

/** What of a curve is the same at whatever frequencies it is asked for. */
interface Prepared {
  /** Degrees, without jumps. */
  readonly phase: Float64Array;
  /** Of its frequencies, natural. */
  readonly logs: readonly number[];
  readonly beyond: ReturnType<typeof endSlopes>;
}
const known = new WeakMap<readonly number[], Prepared>();

function preparedOf({ freqHz, values, phaseDeg }: Curve): Prepared {
  const before = known.get(values);
  if (before) return before;
  const phase = phaseDeg ? unwrapped(phaseDeg) : minimumPhaseDeg(freqHz, values);
  const logs = freqHz.map(Math.log);
  const made = { phase, logs, beyond: endSlopes(logs, values) };
  known.set(values, made);
  return made;
}

/** The last of rising numbers that lies at or below one, the first where none does. */
function below(rising: readonly number[], value: number): number {
  let [low, high] = [0, rising.length - 1];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (rising[middle] <= value) low = middle;
    else high = middle;
  }
  return low;
}

function unwrapped(phaseDeg: readonly number[]): Float64Array {
  const out = Float64Array.from(phaseDeg);
  for (let i = 1; i < out.length; i++) out[i] = out[i - 1] + ((((out[i] - out[i - 1]) % 360) + 540) % 360) - 180;
  return out;
}

/** dB per unit of ln f beyond either end: as over the last points, but never rising away from the band. */
function endSlopes(logs: readonly number[], values: readonly number[]): { low: number; high: number } {
  const n = logs.length;
  const k = Math.min(6, n - 1);
  return {
    low: Math.max(0, (values[k] - values[0]) / (logs[k] - logs[0])),
    high: Math.min(0, (values[n - 1] - values[n - 1 - k]) / (logs[n - 1] - logs[n - 1 - k])),
  };
}

/**
 * How much less a driver sends at an angle off its axis than on it, as a ratio at each frequency: between the angles it
 * was measured at in proportion, beyond the last as a piston goes on from there. Null without measured angles.
 */
export function measuredDirectivity(
  { response, angles, radiusM }: Pick<Driver, 'response' | 'angles' | 'radiusM'>,
  freqHz: Float64Array,
  offAxisRad: number,
): Float64Array | null {
  if (!angles || angles.length === 0 || response.kind !== 'curve') return null;
  const offDeg = (offAxisRad * 180) / Math.PI;
  const known = [...angles].sort((a, b) => a.offDeg - b.offDeg);
  const levels = (curve: Curve) => curveAt(curve, freqHz).levelDb;
  const axis = levels(response.curve);
  const above = known.find((a) => a.offDeg >= offDeg);
  const below = known.filter((a) => a.offDeg < offDeg).at(-1);
  const low = below ? levels(below.curve) : axis;
  const lowDeg = below?.offDeg ?? 0;
  if (above) {
    const high = levels(above.curve);
    const share = (offDeg - lowDeg) / (above.offDeg - lowDeg);
    return axis.map((db, i) => fromDecibels(low[i] + share * (high[i] - low[i]) - db));
  }
  const piston = (f: number, deg: number) =>
    pistonDirectivity(((2 * Math.PI * f * radiusM) / SPEED_OF_SOUND) * Math.sin((Math.min(deg, 90) * Math.PI) / 180));
  return axis.map(
    (db, i) => fromDecibels(low[i] - db) * Math.min(1, Math.abs(piston(freqHz[i], offDeg) / piston(freqHz[i], lowDeg))),
  );
}

/**
 * How much less a round piston sends to the side, as a ratio: 2 J1(x)/x, x = (2πf/c) a sin θ (L. Beranek, Acoustics,
 * 1954, eq. 4.17).
 * @param xValue x of the equation.
 */
export function pistonDirectivity(xValue: number): number {
  const x = Math.abs(xValue);
  return x < 1e-4 ? 1 : (2 * besselJ1(x)) / x;
}

/**
 * J1 for x ≥ 0 by its integral, (1/π) ∫ cos(t − x sin t) dt from 0 to π: exact to 1e-12 for x below 60 with trapezoids,
 * since the integrand is smooth and periodic.
 */
function besselJ1(x: number): number {
  const n = Math.max(24, Math.ceil(x) + 24);
  let sum = 0;
  for (let k = 0; k <= n; k++) {
    const t = (Math.PI * k) / n;
    sum += (k === 0 || k === n ? 0.5 : 1) * Math.cos(t - x * Math.sin(t));
  }
  return sum / n;
}
