import { SPEED_OF_SOUND } from './air';
import { pistonDirectivity } from './driver-response';

/**
 * A driver's acoustic centre on the cabinet, m: across to the right, up, and back behind the plane where the listener's
 * axis starts.
 */
export interface Position {
  readonly acrossM: number;
  readonly upM: number;
  readonly backM: number;
}

/** Where one listens from: distance (m) from the axis's start, and angles (degrees) to the side and up. */
export interface Listener {
  readonly distanceM: number;
  readonly acrossDeg: number;
  readonly upDeg: number;
}

/**
 * What the way there makes of a driver's pressure: how much later (s) and nearer (ratio) than from the axis's start,
 * and the angle (rad) off the driver's own axis.
 */
export interface Path {
  readonly laterS: number;
  readonly nearer: number;
  readonly offAxisRad: number;
}

export function pathTo(listener: Listener, at: Position): Path {
  const [across, up] = [(listener.acrossDeg * Math.PI) / 180, (listener.upDeg * Math.PI) / 180];
  const { distanceM } = listener;
  const [x, y, z] = [
    distanceM * Math.sin(across) * Math.cos(up) - at.acrossM,
    distanceM * Math.sin(up) - at.upM,
    distanceM * Math.cos(across) * Math.cos(up) + at.backM,
  ];
  const far = Math.hypot(x, y, z);
  return {
    laterS: (far - distanceM) / SPEED_OF_SOUND,
    nearer: distanceM / far,
    offAxisRad: Math.acos(Math.min(1, Math.max(-1, z / far))),
  };
}

/**
 * Brings a pressure (re, im by turns) along a path, in place: later, nearer, and less of it to the side of a cone of so
 * much radius (m).
 */
export function bringAlong(
  pressure: Float64Array,
  freqHz: Float64Array,
  { laterS, nearer, offAxisRad }: Path,
  radiusM: number,
): Float64Array {
  freqHz.forEach((f, i) => {
    const wave = (2 * Math.PI * f * radiusM) / SPEED_OF_SOUND;
    // Past 90° a piston on a wall sends nothing; a cabinet's edge sends about what it does at 90°.
    const size = nearer * pistonDirectivity(wave * Math.sin(Math.min(offAxisRad, Math.PI / 2)));
    const angle = -2 * Math.PI * f * laterS;
    const [cos, sin] = [size * Math.cos(angle), size * Math.sin(angle)];
    const [re, im] = [pressure[2 * i], pressure[2 * i + 1]];
    pressure[2 * i] = re * cos - im * sin;
    pressure[2 * i + 1] = re * sin + im * cos;
  });
  return pressure;
}

/**
 * The resistor that would heat a class-B amplifier's output transistors at their worst instant as much as a load does:
 * with rails at the peak of the sine, p(t) = (1 − v) i while current is drawn from that rail, largest V²/4R for a
 * resistor (E. Benjamin, Audio Power Amplifiers for Loudspeaker Loads, J. AES 42, 1994: the idea).
 *
 * @param ohm size of the impedance. @param phaseDeg its phase.
 */
export function equivalentDissipationOhm(ohm: number, phaseDeg: number): number {
  const phase = (phaseDeg * Math.PI) / 180;
  // (1 − sin t) sin(t − φ) is level where cos(t − φ) = sin(2t − φ): at three places in a turn, and where it is nothing.
  const tops = [0, 1, 2].map((k) => (Math.PI / 2 + 2 * phase + 2 * Math.PI * k) / 3);
  const worst = Math.max(...tops.map((t) => (1 - Math.sin(t)) * Math.sin(t - phase)));
  return ohm / (4 * worst);
}

export type Programme = 'programme' | 'pink noise';
export const PROGRAMME_LOW_HZ = 40;
export const PROGRAMME_HIGH_HZ = 4000;

/**
 * Share of a signal's power that each point of a grid stands for, adding to 1 over the whole grid: as much in every
 * octave, or rolled off by 6 dB an octave at both ends as music is (after the simulated programme signal of IEC
 * 60268-1). A point stands for half the way to its neighbours in the logarithm, so a grid may be as uneven as a circuit
 * asks for.
 */
export function programmeShares(freqHz: Float64Array, programme: Programme): Float64Array {
  const log = freqHz.map(Math.log);
  const last = log.length - 1;
  const weight = freqHz.map(
    (f, i) =>
      ((log[Math.min(last, i + 1)] - log[Math.max(0, i - 1)]) / 2) *
      (programme === 'pink noise' ? 1 : 1 / ((1 + (PROGRAMME_LOW_HZ / f) ** 2) * (1 + (f / PROGRAMME_HIGH_HZ) ** 2))),
  );
  const whole = weight.reduce((sum, w) => sum + w, 0);
  return weight.map((w) => w / whole);
}
