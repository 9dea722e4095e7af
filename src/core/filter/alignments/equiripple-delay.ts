import { Matrix, solve } from 'ml-matrix';
import { polynomialRoots } from '../../math/roots';
import { sectionsOfPoles, type PrototypeSection } from '../section';
import { halfPowerOmega, ordersUpTo, scaleSections, type Alignment } from './define-alignment';
import { greatestBetween } from '../../math/search';

/** How far the phase may stray from a straight line, radians: 0.05 degrees. */
const PHASE_ERROR = (0.05 * Math.PI) / 180;

/** Denominator 1 + d1 s + … + dn s^n whose phase is exactly ω at n frequencies: Im D − tan(ω) Re D = 0, linear in d. */
function denominatorThrough(points: readonly number[]): number[] {
  const n = points.length;
  const rows = points.map((w) =>
    Array.from({ length: n }, (_, i) => {
      const k = i + 1;
      const sign = Math.floor(k / 2) % 2 === 0 ? 1 : -1;
      return sign * w ** k * (k % 2 === 1 ? Math.cos(w) : -Math.sin(w));
    }),
  );
  return [1, ...solve(new Matrix(rows), Matrix.columnVector(points.map((w) => Math.sin(w)))).to1DArray()];
}

/** Phase of the denominator less ω, between −π and π. */
function phaseError(denominator: readonly number[], w: number): number {
  // Horner on both parts at once, multiplying by jω.
  let re = 0;
  let im = 0;
  for (let k = denominator.length - 1; k >= 0; k--) {
    const turned = -w * im + denominator[k];
    im = w * re;
    re = turned;
  }
  const [c, s] = [Math.cos(w), Math.sin(w)];
  return Math.atan2(im * c - re * s, re * c + im * s);
}

/** Size of the error's extreme between neighbouring points (from 0), by golden section. */
function extremes(points: readonly number[]): number[] {
  const denominator = denominatorThrough(points);
  const size = (w: number) => Math.abs(phaseError(denominator, w));
  // The extreme is flat: its size is known to 1e-12 once its place is to 1e-6.
  return points.map((end, i) => greatestBetween(size, i === 0 ? 0 : points[i - 1], end, 28).value);
}

/**
 * Phase straight within ±0.05° with errors of equal size, so that the delay ripples evenly (E. Ulbrich and H. Piloty,
 * Archiv der elektrischen Übertragung 14, 1960). Begins with phase exact at evenly spaced frequencies, then moves them
 * by Newton's method until all extremes are alike. Half power at 1 rad/s.
 */
export const equirippleDelay: Alignment = {
  id: 'equiripple-delay',
  name: 'Equiripple delay',
  reason: 'Delay as even as a Bessel’s over a wider band, with a steeper knee.',
  orders: ordersUpTo(10),
  hasRipple: false,
  hasAttenuation: false,
  defaultCutoffAt: '-3db',
  prototype(order) {
    let sections = known.get(order);
    if (!sections) {
      const raw = sectionsOfPoles(polynomialRoots(denominatorThrough(equalised(order))));
      known.set(order, (sections = scaleSections(raw, 1 / halfPowerOmega(raw))));
    }
    return sections;
  },
  dcLevelDb: () => 0,
};

/** The search takes a while, and has one answer an order. */
const known = new Map<number, PrototypeSection[]>();

function equalised(order: number): number[] {
  // Spacing first: wider spacing, larger errors.
  let [low, high] = [0.02, 1.2];
  for (let k = 0; k < 30; k++) {
    const middle = Math.sqrt(low * high);
    if (Math.max(...extremes(Array.from({ length: order }, (_, i) => (i + 1) * middle))) > PHASE_ERROR) high = middle;
    else low = middle;
  }
  let points = Array.from({ length: order }, (_, i) => (i + 1) * low);
  const residual = (p: readonly number[]) => extremes(p).map((e) => Math.log(e / PHASE_ERROR));
  for (let round = 0; round < 40; round++) {
    const r = residual(points);
    if (Math.max(...r.map(Math.abs)) < 1e-9) break;
    const columns = points.map((p, j) =>
      residual(points.map((q, i) => (i === j ? p * 1.0001 : q))).map((v, i) => (v - r[i]) / 1e-4),
    );
    const step = solve(new Matrix(columns).transpose(), Matrix.columnVector(r)).to1DArray();
    const stride = Math.min(1, 0.2 / Math.max(...step.map(Math.abs)));
    points = points.map((p, i) => p * (1 - stride * step[i]));
  }
  return points;
}
