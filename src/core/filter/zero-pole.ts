import { add, complex, divide, magnitude, multiply, scale, subtract, type Complex } from '../math/complex';
import type { PrototypeSection } from './section';

/** A transfer function k ∏(s − zero) / ∏(s − pole), s in rad/s. */
export interface ZeroPole {
  readonly zeros: readonly Complex[];
  readonly poles: readonly Complex[];
  readonly gain: number;
}

/** A prototype's sections multiplied out, with a gain at DC. */
export function fromSections(sections: readonly PrototypeSection[], dcGain = 1): ZeroPole {
  const zeros: Complex[] = [];
  const poles: Complex[] = [];
  let gain = dcGain;
  for (const section of sections) {
    if (section.order === 1) {
      poles.push(complex(-section.omega));
      gain *= section.omega;
      continue;
    }
    const damping = section.omega / (2 * section.q);
    const square = section.omega ** 2 - damping ** 2;
    const root = Math.sqrt(Math.abs(square));
    poles.push(
      ...(square >= 0
        ? [complex(-damping, root), complex(-damping, -root)]
        : [complex(-damping + root), complex(-damping - root)]),
    );
    gain *= section.omega ** 2;
    if (section.zero !== undefined) {
      zeros.push(complex(0, section.zero), complex(0, -section.zero));
      gain /= section.zero ** 2;
    }
  }
  return { zeros, poles, gain };
}

/** Value at s. */
export function valueAt({ zeros, poles, gain }: ZeroPole, s: Complex): Complex {
  let value = complex(gain);
  for (let i = 0; i < Math.max(zeros.length, poles.length); i++) {
    if (i < zeros.length) value = multiply(value, subtract(s, zeros[i]));
    if (i < poles.length) value = divide(value, subtract(s, poles[i]));
  }
  return value;
}

/**
 * Group delay (s) at ω (rad/s): each pole and zero's share, Re 1/(jω − pole) and −Re 1/(jω − zero), summed with its
 * sign.
 */
export function delayAt({ zeros, poles }: ZeroPole, omega: number): number {
  const share = (root: Complex) => -root.re / (root.re ** 2 + (omega - root.im) ** 2);
  return poles.reduce((sum, p) => sum + share(p), 0) - zeros.reduce((sum, z) => sum + share(z), 0);
}

const product = (roots: readonly Complex[]): Complex => roots.reduce((p, r) => multiply(p, scale(r, -1)), complex(1));
const origin = (count: number): Complex[] => Array.from({ length: Math.max(0, count) }, () => complex(0));

/** s → s/cutoff. */
export function toLowpass({ zeros, poles, gain }: ZeroPole, cutoff: number): ZeroPole {
  return {
    zeros: zeros.map((z) => scale(z, cutoff)),
    poles: poles.map((p) => scale(p, cutoff)),
    gain: gain * cutoff ** (poles.length - zeros.length),
  };
}

/** s → cutoff/s. */
export function toHighpass({ zeros, poles, gain }: ZeroPole, cutoff: number): ZeroPole {
  const turned = (root: Complex) => divide(complex(cutoff), root);
  return {
    zeros: [...zeros.map(turned), ...origin(poles.length - zeros.length)],
    poles: poles.map(turned),
    gain: gain * divide(product(zeros), product(poles)).re,
  };
}

/** Both solutions s of s² − 2·half·s + centre² = 0, the larger computed first so that the smaller does not cancel. */
function pairAbout(half: Complex, centre: number): Complex[] {
  const inside = subtract(multiply(half, half), complex(centre ** 2));
  const size = magnitude(inside);
  const root = complex(
    Math.sqrt((size + inside.re) / 2),
    Math.sign(inside.im || 1) * Math.sqrt(Math.max(0, (size - inside.re) / 2)),
  );
  const [plus, minus] = [add(half, root), subtract(half, root)];
  const large = magnitude(plus) >= magnitude(minus) ? plus : minus;
  return [large, divide(complex(centre ** 2), large)];
}

/**
 * s → (s² + centre²) / (bandwidth · s): a band of that width (rad/s) between the prototype's edges, its centre
 * geometric.
 */
export function toBandpass({ zeros, poles, gain }: ZeroPole, centre: number, bandwidth: number): ZeroPole {
  const split = (root: Complex) => pairAbout(scale(root, bandwidth / 2), centre);
  const excess = poles.length - zeros.length;
  return {
    zeros: [...zeros.flatMap(split), ...origin(excess)],
    poles: poles.flatMap(split),
    gain: gain * bandwidth ** excess,
  };
}

/** s → bandwidth · s / (s² + centre²). */
export function toBandstop({ zeros, poles, gain }: ZeroPole, centre: number, bandwidth: number): ZeroPole {
  const split = (root: Complex) => pairAbout(divide(complex(bandwidth / 2), root), centre);
  const notches = Array.from({ length: poles.length - zeros.length }, () => [
    complex(0, centre),
    complex(0, -centre),
  ]).flat();
  return {
    zeros: [...zeros.flatMap(split), ...notches],
    poles: poles.flatMap(split),
    gain: gain * divide(product(zeros), product(poles)).re,
  };
}

/** A second- or first-order factor: (b2 s² + b1 s + b0) / (s² + s ω/Q + ω²), or (b1 s + b0) / (s + ω). */
export interface Biquad {
  readonly order: 1 | 2;
  /** rad/s. */
  readonly omega: number;
  readonly q: number;
  /** Numerator, lowest power first. */
  readonly numerator: readonly [number, number, number];
}

/** What a cascade is ordered for. */
export type StageOrder = 'low-q-first' | 'high-q-first' | 'dynamic-range';

/**
 * Takes a transfer function apart into real factors: poles of the highest Q take the nearest zeros (which keeps each
 * factor's own peak low), then the factors are put in order. The gain goes to the first. Roots must come in conjugate
 * pairs.
 */
export function toBiquads({ zeros, poles, gain }: ZeroPole, order: StageOrder = 'low-q-first'): Biquad[] {
  const groups = pairs(poles).map((roots) => ({
    roots,
    omega: roots.length === 1 ? -roots[0].re : Math.sqrt(multiply(roots[0], roots[1]).re),
    q: quality(roots),
  }));
  groups.sort((a, b) => b.q - a.q);
  const left = pairs(zeros);
  const factors = groups.map(({ roots, omega, q }): Biquad => {
    const taken: Complex[] = [];
    while (taken.length < roots.length) {
      const room = roots.length - taken.length;
      const fitting = left.filter((z) => z.length <= room);
      if (fitting.length === 0) break;
      const distance = (z: readonly Complex[]) => magnitude(subtract(roots[0], z[0])) / (omega + magnitude(z[0]));
      const nearest = fitting.reduce((best, z) => (distance(z) < distance(best) ? z : best));
      left.splice(left.indexOf(nearest), 1);
      taken.push(...nearest);
    }
    return { order: roots.length as 1 | 2, omega, q, numerator: polynomial(taken) };
  });
  const ordered = arranged(factors, order);
  return ordered.map((f, i) =>
    i === 0 ? { ...f, numerator: f.numerator.map((c) => c * gain) as unknown as Biquad['numerator'] } : f,
  );
}

function quality(roots: readonly Complex[]): number {
  return roots.length === 1 ? 0.5 : Math.sqrt(multiply(roots[0], roots[1]).re) / -(roots[0].re + roots[1].re);
}

/** Monic real polynomial of up to two roots, lowest power first. */
function polynomial(roots: readonly Complex[]): [number, number, number] {
  if (roots.length === 0) return [1, 0, 0];
  if (roots.length === 1) return [-roots[0].re, 1, 0];
  return [multiply(roots[0], roots[1]).re, -(roots[0].re + roots[1].re), 1];
}

/** Conjugate pairs, then real roots two by two (largest with smallest), the odd one by itself. */
function pairs(roots: readonly Complex[]): Complex[][] {
  const isReal = (r: Complex) => Math.abs(r.im) <= 1e-9 * magnitude(r);
  const groups: Complex[][] = roots.filter((r) => r.im > 0 && !isReal(r)).map((r) => [r, complex(r.re, -r.im)]);
  const real = roots.filter(isReal).sort((a, b) => a.re - b.re);
  while (real.length > 1) groups.push([real.shift() as Complex, real.pop() as Complex]);
  return real.length > 0 ? [...groups, real] : groups;
}

const sizeAt = ({ order, omega, q, numerator }: Biquad, w: number): number => {
  const top = Math.hypot(numerator[0] - numerator[2] * w * w, numerator[1] * w);
  return top / (order === 1 ? Math.hypot(omega, w) : Math.hypot(omega ** 2 - w * w, (omega / q) * w));
};

function arranged(factors: readonly Biquad[], order: StageOrder): Biquad[] {
  const byQ = [...factors].sort((a, b) => a.q - b.q);
  if (order === 'low-q-first') return byQ;
  if (order === 'high-q-first') return byQ.reverse();
  // Greedy: next comes whichever keeps the ratio of largest to typical level so far the smallest.
  const frequencies = Array.from({ length: 200 }, (_, i) => factors[0].omega * 10 ** (-2 + i / 50));
  const left = byQ;
  const chosen: Biquad[] = [];
  let levels = frequencies.map(() => 1);
  while (left.length > 0) {
    const rise = (f: Biquad) => {
      const next = levels.map((v, i) => v * sizeAt(f, frequencies[i]));
      return Math.max(...next) / [...next].sort((a, b) => a - b)[next.length >> 1];
    };
    const best = left.reduce((a, b) => (rise(b) < rise(a) ? b : a));
    left.splice(left.indexOf(best), 1);
    levels = levels.map((v, i) => v * sizeAt(best, frequencies[i]));
    chosen.push(best);
  }
  return chosen;
}
