import type { Turned, Winding } from './grades';

/** A coil as its field is reckoned from. */
export interface CoupledCoil {
  readonly henry: number;
  readonly winding: Winding;
}

/**
 * Brooks's coil: a square section, its side two thirds of the mean radius; what it reaches outwards, and how thick it
 * is.
 */
const sideOf = ({ radiusM }: Winding): number => radiusM / 1.5;
const outerOf = (winding: Winding): number => winding.radiusM + sideOf(winding) / 2;

/** Nobody stands a coil quite square: so far off, rad. */
const OFF_SQUARE_RAD = 0.03;

/** The least distance (m) between two coils' middles before their bodies meet. */
export function leastDistanceOf(first: Winding, second: Winding, turned: Turned): number {
  if (turned === 'one behind the other') return (sideOf(first) + sideOf(second)) / 2;
  return outerOf(first) + (turned === 'side by side' ? outerOf(second) : sideOf(second) / 2);
}

/** Where in a square section the filaments stand that stand for it: Gauss's two points along either side. */
const GAUSS = 0.5 / Math.sqrt(3);
/** Points on a turn. The integrand is smooth and periodic: the trapezoid converges faster than any power. */
const POINTS = 48;

interface Filament {
  readonly radiusM: number;
  readonly alongM: number;
}
const filamentsOf = (winding: Winding): Filament[] => {
  const step = GAUSS * sideOf(winding);
  return [-1, 1].flatMap((r) => [-1, 1].map((z) => ({ radiusM: winding.radiusM + r * step, alongM: z * step })));
};

/**
 * Coupling k = M/√(L1 L2) of two air coils so far apart between their middles (m), near ones too: Neumann's double
 * integral M = μ0/4π ∮∮ ds1·ds2/r over filaments that stand for either section (F. W. Grover, Inductance Calculations,
 * 1946, chapters 1 and 11; E. B. Rosa, Bulletin of the Bureau of Standards 4, 1908: filaments for a section). Nearer
 * than their bodies let them they are taken where these touch.
 */
export function couplingOf(first: CoupledCoil, second: CoupledCoil, distanceM: number, turned: Turned): number {
  const apart = Math.max(distanceM, leastDistanceOf(first.winding, second.winding, turned));
  const tilt = turned === 'one stood up' ? Math.PI / 2 - OFF_SQUARE_RAD : 0;
  const centre: readonly [number, number, number] = turned === 'one behind the other' ? [0, 0, apart] : [apart, 0, 0];
  let mean = 0;
  const [ones, others] = [filamentsOf(first.winding), filamentsOf(second.winding)];
  for (const one of ones)
    for (const other of others) mean += mutualOfTurns(one, other, centre, tilt) / (ones.length * others.length);
  return (first.winding.turns * second.winding.turns * mean) / Math.sqrt(first.henry * second.henry);
}

/**
 * Mutual inductance (H) of two turns: the first about the z axis at its height, the second about an axis tilted from z
 * towards x, through a centre.
 */
export function mutualOfTurns(
  first: Filament,
  second: Filament,
  centre: readonly [number, number, number],
  tiltRad: number,
): number {
  const [cos, sin] = [Math.cos(tiltRad), Math.sin(tiltRad)];
  const circle = Array.from(
    { length: POINTS },
    (_, i) => [Math.cos((2 * Math.PI * i) / POINTS), Math.sin((2 * Math.PI * i) / POINTS)] as const,
  );
  const step = (2 * Math.PI) / POINTS;
  let sum = 0;
  for (const [c2, s2] of circle) {
    // Turned about y: its own x goes to (cos, 0, −sin), its axis to (sin, 0, cos).
    const [px, py, along] = [second.radiusM * c2, second.radiusM * s2, second.alongM];
    const [x2, y2, z2] = [centre[0] + px * cos + along * sin, centre[1] + py, centre[2] - px * sin + along * cos];
    const [dx2, dy2] = [-second.radiusM * s2 * cos, second.radiusM * c2];
    for (const [c1, s1] of circle) {
      const [x, y, z] = [x2 - first.radiusM * c1, y2 - first.radiusM * s1, z2 - first.alongM];
      sum += (-first.radiusM * s1 * dx2 + first.radiusM * c1 * dy2) / Math.sqrt(x * x + y * y + z * z);
    }
  }
  return 1e-7 * sum * step * step;
}
