/** A wave of one volt peak, by its phase (0 to 1), with what its closed form says of its harmonics. */
export interface PeriodicWave {
  readonly id: WaveId;
  readonly name: string;
  /** Value just after a phase. */
  readonly at: (phase: number) => number;
  /** Phases at which the wave or its slope jumps; 0 is always among them. */
  readonly edges: readonly number[];
  /** Peak of harmonic k (1, 2 …). */
  readonly harmonic: (k: number) => number;
}

export const WAVE_IDS = ['sine', 'square', 'triangle', 'saw', 'pulse'] as const;
export type WaveId = (typeof WAVE_IDS)[number];

/** The pulse is high for this share of its period. */
const DUTY = 0.25;
const odd = (k: number): boolean => k % 2 === 1;

/** Fourier series of standard waves: e.g. M. R. Spiegel, Mathematical Handbook, 23. */
export const PERIODIC_WAVES: readonly PeriodicWave[] = [
  { id: 'sine', name: 'sine', at: (p) => Math.sin(2 * Math.PI * p), edges: [0], harmonic: (k) => (k === 1 ? 1 : 0) },
  {
    id: 'square',
    name: 'square',
    at: (p) => (p < 0.5 ? 1 : -1),
    edges: [0, 0.5],
    harmonic: (k) => (odd(k) ? 4 / (Math.PI * k) : 0),
  },
  {
    id: 'triangle',
    name: 'triangle',
    at: (p) => (p < 0.25 ? 4 * p : p < 0.75 ? 2 - 4 * p : 4 * p - 4),
    edges: [0, 0.25, 0.75],
    harmonic: (k) => (odd(k) ? 8 / (Math.PI * k) ** 2 : 0),
  },
  { id: 'saw', name: 'saw', at: (p) => 2 * p - 1, edges: [0], harmonic: (k) => 2 / (Math.PI * k) },
  {
    id: 'pulse',
    name: 'pulse, a quarter high',
    at: (p) => (p < DUTY ? 1 : -1),
    edges: [0, DUTY],
    harmonic: (k) => Math.abs((4 / (Math.PI * k)) * Math.sin(Math.PI * k * DUTY)),
  },
];

export const periodicWave = (id: WaveId): PeriodicWave => PERIODIC_WAVES.find((wave) => wave.id === id) as PeriodicWave;

/** The same wave in time, Hz. */
export const waveInTime =
  (wave: PeriodicWave, freqHz: number): ((timeS: number) => number) =>
  (timeS) =>
    wave.at(timeS * freqHz - Math.floor(timeS * freqHz));
