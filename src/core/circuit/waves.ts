import type { Wave } from './netlist';

/**
 * A damped sine: offset + amplitude · e^(−damping (t − delay)) · sin(2π f (t − delay) + phase), held at its first value
 * before the delay. Volts or amperes, Hz, s, 1/s, degrees.
 */
export function sineWave(
  offset: number,
  amplitude: number,
  freqHz: number,
  delayS = 0,
  dampingPerS = 0,
  phaseDeg = 0,
): Wave {
  const phase = (phaseDeg * Math.PI) / 180;
  return {
    form: { kind: 'sin', numbers: [offset, amplitude, freqHz, delayS, dampingPerS, phaseDeg] },
    at(t) {
      const since = Math.max(0, t - delayS);
      return offset + amplitude * Math.exp(-dampingPerS * since) * Math.sin(2 * Math.PI * freqHz * since + phase);
    },
    breakpoints: (stopS) => (delayS > 0 && delayS <= stopS ? [delayS] : []),
  };
}

/** More corners than this in one run, and a pulse is taken for a mistake by whoever asks. */
const MOST_BREAKPOINTS = 200_000;

/**
 * A train of pulses: low, high, delay, rise, fall, width at the top, period (s; Infinity for a single pulse). A rise or
 * fall of 0 is a jump, and its own instant belongs to the new level.
 */
export function pulseWave(
  low: number,
  high: number,
  delayS: number,
  riseS: number,
  fallS: number,
  widthS: number,
  periodS: number,
): Wave {
  const corners = [0, riseS, riseS + widthS, riseS + widthS + fallS];
  return {
    form: { kind: 'pulse', numbers: [low, high, delayS, riseS, fallS, widthS, periodS] },
    at(t) {
      const since = t - delayS;
      // Corners are met to rounding: a time within 1e-12 of one counts as at it.
      const slack = 1e-12 * Math.max(Math.abs(t), riseS + widthS + fallS);
      if (since < -slack || t <= 0) return low;
      const periods = Number.isFinite(periodS) ? Math.floor((since + slack) / periodS) : 0;
      const phase = Math.max(0, since - periods * (Number.isFinite(periodS) ? periodS : 0));
      if (phase < corners[1] - slack) return low + ((high - low) * phase) / riseS;
      if (phase < corners[2] - slack) return high;
      if (phase < corners[3] - slack) return high + ((low - high) * (phase - corners[2])) / fallS;
      return low;
    },
    breakpoints(stopS) {
      const times: number[] = [];
      for (let period = 0; times.length < MOST_BREAKPOINTS; period++) {
        const start = delayS + (period === 0 ? 0 : period * periodS);
        if (!(start <= stopS)) break;
        for (const corner of corners) if (start + corner > 0 && start + corner <= stopS) times.push(start + corner);
        if (!Number.isFinite(periodS)) break;
      }
      return times;
    },
  };
}

/**
 * Straight lines between (time, value) pairs with rising times; level before the first and after the last. Two pairs at
 * one time are a jump.
 */
export function piecewiseWave(points: readonly (readonly [number, number])[]): Wave {
  return {
    form: { kind: 'pwl', numbers: points.flat() },
    at(t) {
      let [low, high] = [0, points.length];
      // The last point at or before t.
      while (low < high) {
        const middle = (low + high) >> 1;
        if (points[middle][0] <= t) low = middle + 1;
        else high = middle;
      }
      if (low === 0) return points[0][1];
      if (low === points.length) return points[low - 1][1];
      const [[t0, v0], [t1, v1]] = [points[low - 1], points[low]];
      return v0 + ((v1 - v0) * (t - t0)) / (t1 - t0);
    },
    breakpoints: (stopS) => points.map(([t]) => t).filter((t) => t > 0 && t <= stopS),
  };
}
