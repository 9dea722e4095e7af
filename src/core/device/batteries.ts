/** How a battery's volts fall as it empties: typical, our own figures at some milliamperes and room temperature. */
export interface Battery {
  readonly id: string;
  readonly name: string;
  /** What it holds, Ah, as a block of nine volts. */
  readonly ampereHours: number;
  /** Share used, and volts as a share of what it is called by; falling. */
  readonly curve: readonly (readonly [used: number, volts: number])[];
}

const NOMINAL = 9;
const of = (points: readonly (readonly [number, number])[]): Battery['curve'] =>
  points.map(([used, volts]) => [used, volts / NOMINAL]);

export const BATTERIES: readonly Battery[] = [
  {
    id: 'alkaline',
    name: 'alkaline',
    ampereHours: 0.5,
    curve: of([
      [0, 9.4],
      [0.1, 8.6],
      [0.3, 8],
      [0.5, 7.5],
      [0.7, 7],
      [0.85, 6.4],
      [0.95, 5.6],
      [1, 4.8],
    ]),
  },
  {
    id: 'zinc-carbon',
    name: 'zinc-carbon',
    ampereHours: 0.35,
    curve: of([
      [0, 9.3],
      [0.1, 8.3],
      [0.3, 7.5],
      [0.5, 6.9],
      [0.7, 6.2],
      [0.85, 5.5],
      [1, 4.5],
    ]),
  },
  {
    id: 'nickel-metal',
    name: 'nickel-metal, chargeable',
    ampereHours: 0.2,
    curve: of([
      [0, 9.6],
      [0.05, 8.9],
      [0.5, 8.4],
      [0.85, 8.1],
      [0.95, 7.4],
      [1, 6.6],
    ]),
  },
  {
    id: 'lithium',
    name: 'lithium',
    ampereHours: 1,
    curve: of([
      [0, 9.6],
      [0.1, 9.1],
      [0.8, 8.8],
      [0.95, 8.2],
      [1, 6],
    ]),
  },
];

/** What a battery of so many volts by name has after a share of it is used, V. */
export function voltsAfter({ curve }: Battery, used: number, nominalVolts: number): number {
  const at = Math.min(1, Math.max(0, used));
  const k = Math.max(
    1,
    curve.findIndex(([u]) => u >= at),
  );
  const [[u0, v0], [u1, v1]] = [curve[k - 1], curve[k]];
  return nominalVolts * (v0 + ((v1 - v0) * (at - u0)) / (u1 - u0));
}

/** What is drawn at so many volts, A: in between and beyond as the nearest two say. */
export interface Drawn {
  readonly volts: number;
  readonly amps: number;
}

function ampsAt(drawn: readonly Drawn[], volts: number): number {
  if (drawn.length === 1) return drawn[0].amps;
  const falling = [...drawn].sort((a, b) => b.volts - a.volts);
  const k = Math.min(
    falling.length - 1,
    Math.max(
      1,
      falling.findIndex((d) => d.volts <= volts),
    ),
  );
  const [a, b] = [falling[k - 1], falling[k < 1 ? 1 : k]];
  return Math.max(1e-9, a.amps + ((b.amps - a.amps) * (volts - a.volts)) / (b.volts - a.volts));
}

const STEPS = 200;

/**
 * Volts over hours until it is empty, or under what the circuit needs: each hundredth of its charge takes as long as
 * what is drawn at its volts says.
 */
export function discharge(
  battery: Battery,
  nominalVolts: number,
  drawn: readonly Drawn[],
  stopsAtVolts: number | null,
): { readonly hours: readonly number[]; readonly volts: readonly number[]; readonly stopped: boolean } {
  const [hours, volts] = [[0], [voltsAfter(battery, 0, nominalVolts)]];
  for (let k = 1; k <= STEPS; k++) {
    const now = voltsAfter(battery, k / STEPS, nominalVolts);
    const between = (now + volts[k - 1]) / 2;
    hours.push(hours[k - 1] + battery.ampereHours / STEPS / ampsAt(drawn, between));
    volts.push(now);
    if (stopsAtVolts !== null && now <= stopsAtVolts) return { hours, volts, stopped: true };
  }
  return { hours, volts, stopped: false };
}
