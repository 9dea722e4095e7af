import { complex, divide, subtract, type Complex } from '../math/complex';
import type { ExcessAdmittance } from '../circuit/elements/measured-port';
import type { Curve, Driver } from './driver';
import { impedanceAt } from './voice-coil';

/** Where a driver's impedance was measured, Hz; null where it is known as a circuit alone. */
export const measuredSpan = ({ measuredImpedance }: Pick<Driver, 'measuredImpedance'>) =>
  measuredImpedance
    ? { fromHz: measuredImpedance.freqHz[0], toHz: measuredImpedance.freqHz[measuredImpedance.freqHz.length - 1] }
    : null;

/**
 * A driver's impedance at a frequency, ohm: between the ends of its measurement the measured one, straight in the
 * logarithm of frequency between points, its phase the fitted circuit's where none was measured; beyond either end the
 * fitted circuit, scaled so that it meets the measurement there.
 */
export function driverImpedance({ measuredImpedance, impedance }: Pick<Driver, 'measuredImpedance' | 'impedance'>) {
  const fitted = (freqHz: number): Complex => impedanceAt(impedance, freqHz);
  if (!measuredImpedance) return fitted;
  const reader = ratioReader(measuredImpedance, fitted);
  return (freqHz: number): Complex => {
    const [r, z] = [reader(freqHz), fitted(freqHz)];
    return complex(r.re * z.re - r.im * z.im, r.re * z.im + r.im * z.re);
  };
}

/** What a measured impedance has over the circuit fitted to it; null where nothing was measured. */
export function excessAdmittance(driver: Pick<Driver, 'measuredImpedance' | 'impedance'>): ExcessAdmittance | null {
  if (!driver.measuredImpedance) return null;
  const of = driverImpedance(driver);
  const one = complex(1);
  return (freqHz) => subtract(divide(one, of(freqHz)), divide(one, impedanceAt(driver.impedance, freqHz)));
}

/**
 * Measured over fitted, as a complex ratio. Between points the measured size and angle are interpolated; the ratio at
 * either end holds beyond it.
 */
function ratioReader({ freqHz, values, phaseDeg }: Curve, fitted: (freqHz: number) => Complex) {
  const logs = freqHz.map(Math.log);
  const sizes = values.map(Math.log);
  const angles = phaseDeg && unwrapped(phaseDeg);
  const last = logs.length - 1;
  return (at: number): Complex => {
    const log = Math.min(logs[last], Math.max(logs[0], Math.log(at)));
    let [low, high] = [0, last];
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (logs[middle] <= log) low = middle;
      else high = middle;
    }
    const t = (log - logs[low]) / (logs[high] - logs[low]);
    const z = fitted(Math.exp(log));
    const size = Math.exp(sizes[low] + t * (sizes[high] - sizes[low])) / Math.hypot(z.re, z.im);
    const turn = angles ? angles[low] + t * (angles[high] - angles[low]) - Math.atan2(z.im, z.re) : 0;
    return complex(size * Math.cos(turn), size * Math.sin(turn));
  };
}

/** Degrees as radians without jumps of a turn. */
function unwrapped(degrees: readonly number[]): number[] {
  let turn = 0;
  return degrees.map((deg, i) => {
    if (i > 0) turn -= 360 * Math.round((deg - degrees[i - 1]) / 360);
    return ((deg + turn) * Math.PI) / 180;
  });
}
