import { xoroshiro128plus, unsafeUniformIntDistribution } from 'pure-rand';

/** What a circuit is fed with to be heard, and how its sound comes down to the rate at which it is played. */
export const SOUND_SOURCES = ['saw', 'square', 'noise', 'reed', 'drone', 'plucked', 'drum'] as const;
export type SoundSource = (typeof SOUND_SOURCES)[number];
/** Sources that are one period over and over; the others are made sample by sample. */
export type WaveSource = Exclude<SoundSource, 'noise' | 'plucked' | 'drum'>;
export const isWave = (source: SoundSource): source is WaveSource =>
  source !== 'noise' && source !== 'plucked' && source !== 'drum';

export const OVERSAMPLED = 2;
/** Loudness for a first hearing, RMS of full scale. */
export const QUIET_RMS = 0.1;

/** The voices of a note: a cluster of drones has four. Hz. */
export const voicesOf = (source: SoundSource, hz: number): number[] =>
  source === 'drone' ? [hz, hz * 1.003, hz * 1.5, hz * 2.004] : [hz];

const TABLE = 4096;
/** A harmonic of a period of so many points is that sine at every so many of them. */
const SINE = Float64Array.from({ length: TABLE }, (_, i) => Math.sin((2 * Math.PI * i) / TABLE));

/**
 * One period and its first sample again, with as many harmonics as fit under a third of the rate. A reed's pulse: both
 * kinds of harmonics, falling as its tongue closes.
 */
export function waveTable(source: WaveSource, hz: number, rate: number): Float64Array {
  const most = Math.max(1, Math.floor(rate / 3 / hz));
  const table = new Float64Array(TABLE + 1);
  for (let h = 1; h <= Math.min(most, TABLE / 4); h++) {
    const size =
      source === 'square'
        ? h % 2 === 1
          ? 4 / (Math.PI * h)
          : 0
        : source === 'reed'
          ? Math.sin(0.27 * Math.PI * h) / h / (1 + (h / 14) ** 2)
          : 2 / (Math.PI * h);
    if (size === 0) continue;
    for (let i = 0; i <= TABLE; i++) table[i] += size * SINE[(h * i) % TABLE];
  }
  const peak = table.reduce((m, v) => Math.max(m, Math.abs(v)), 1e-9);
  return table.map((v) => v / peak);
}

/** A table at so many periods from its start. */
export function sampleOf(table: Float64Array, periods: number): number {
  const at = (periods % 1) * TABLE;
  const k = Math.floor(at);
  return table[k] + (at - k) * (table[k + 1] - table[k]);
}

/** White, ±1, the same at every hearing. */
export function noise(): () => number {
  const generator = xoroshiro128plus(1);
  return () => 2 * ((unsafeUniformIntDistribution(0, 0xffffffff, generator) + 0.5) / 0x100000000) - 1;
}

/** How many fast samples the filter below looks to either side. */
export const HALF_TAPS = 31;
const TAPS = 2 * HALF_TAPS + 1;

/** The filter that goes down to the output's rate: a windowed sinc at 0.45 of it. */
const DECIMATION_TAPS: Float64Array = Float64Array.from({ length: TAPS }, (_, k) => {
  const x = k - (TAPS - 1) / 2;
  const cut = 0.45 / OVERSAMPLED;
  const sinc = x === 0 ? 2 * cut : Math.sin(2 * Math.PI * cut * x) / (Math.PI * x);
  return (
    sinc * (0.42 - 0.5 * Math.cos((2 * Math.PI * k) / (TAPS - 1)) + 0.08 * Math.cos((4 * Math.PI * k) / (TAPS - 1)))
  );
});

/**
 * So many samples at the output's rate from fast ones, of which `HALF_TAPS` stand before the first and after the last.
 */
export function decimated(fast: Float64Array, count: number): Float64Array {
  const low = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    let sum = 0;
    for (let k = 0; k < TAPS; k++) sum += DECIMATION_TAPS[k] * fast[i * OVERSAMPLED + k];
    low[i] = sum;
  }
  return low;
}
