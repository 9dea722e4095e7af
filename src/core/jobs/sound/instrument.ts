import type { Note } from './notes';
import { isWave, noise, sampleOf, voicesOf, waveTable, type SoundSource } from './sound-source';
import { RATE_HZ } from './rate';

/** Over which a note fades in and out, s, and glides into the next. */
const EDGE_S = 0.004;
const GLIDE_S = 0.06;
/** A string's sound is a thousandth after so long, s, at the low end; shorter as the root of its pitch. */
const STRING_S = 4;
const STRING_HZ = 110;
/** Where along it the string is plucked. */
const PLUCKED_AT = 0.23;
const [DRUM_S, DRUM_SWEEP_S, DRUM_TIMES, CLICK_S] = [0.22, 0.025, 4, 0.004];

/** Makes what is played sample by sample, 1 peak, at a rate a whole number of times the one it is heard at. */
export class Instrument {
  private readonly fast: number;
  private level = 0;
  private wanted = 0;
  private hz = 0;
  private glide = 1;
  private to = 0;
  private tables: { readonly table: Float64Array; readonly ratio: number; phase: number }[] = [];
  private readonly cached = new Map<string, Float64Array>();
  private readonly hiss = noise();
  private string: PluckedString | null = null;
  private drum: Drum | null = null;
  /** Of what is made at the rate it is heard at: the last and the next sample, and where between them it stands. */
  private last = 0;
  private next_ = 0;
  private between = 0;

  constructor(
    private readonly source: SoundSource,
    private readonly rate: number,
  ) {
    this.fast = Math.round(rate / RATE_HZ);
  }

  strike({ hz, level, slid }: Pick<Note, 'hz' | 'level' | 'slid'>): void {
    this.wanted = level;
    this.to = hz;
    if (!slid || this.hz === 0) this.hz = hz;
    this.glide = (hz / this.hz) ** (1 / (GLIDE_S * this.rate));
    if (this.source === 'plucked') this.string = new PluckedString(hz, level, slid ? this.string : null, this.hiss);
    else if (this.source === 'drum') this.drum = new Drum(hz, level, this.hiss);
    else if (isWave(this.source)) this.take(this.source, Math.max(hz, this.hz));
  }

  release(): void {
    // What was struck rings on by itself.
    if (this.source !== 'plucked' && this.source !== 'drum') this.wanted = 0;
  }

  /** Tables with as many harmonics as the pitch lets through, by quarter octaves; phases go on. */
  private take(source: Parameters<typeof waveTable>[0], hz: number): void {
    const voices = voicesOf(source, 1);
    const top = 2 ** (Math.ceil(4 * Math.log2(hz)) / 4);
    this.tables = voices.map((ratio, k) => {
      const key = `${top * ratio}`;
      const table = this.cached.get(key) ?? waveTable(source, top * ratio, this.rate);
      this.cached.set(key, table);
      return { table, ratio, phase: this.tables[k]?.phase ?? 0 };
    });
  }

  next(): number {
    const edge = 1 / (EDGE_S * this.rate);
    this.level += Math.max(-edge, Math.min(edge, this.wanted - this.level));
    if (this.hz !== this.to) {
      this.hz *= this.glide;
      if (this.glide > 1 ? this.hz > this.to : this.hz < this.to) this.hz = this.to;
    }
    if (isWave(this.source)) return this.level * this.wave();
    if (this.between === 0) [this.last, this.next_] = [this.next_, this.slow()];
    const share = this.between / this.fast;
    this.between = (this.between + 1) % this.fast;
    return this.last + share * (this.next_ - this.last);
  }

  private wave(): number {
    let sum = 0;
    for (const voice of this.tables) {
      sum += sampleOf(voice.table, voice.phase) / this.tables.length;
      voice.phase = (voice.phase + (voice.ratio * this.hz) / this.rate) % 1;
    }
    return sum;
  }

  /** A sample at the rate it is heard at. */
  private slow(): number {
    if (this.source === 'noise') return this.level * this.hiss();
    return this.string?.next() ?? this.drum?.next() ?? 0;
  }
}

/**
 * A plucked string: a burst of noise goes round a delay as long as a period, the mean of two neighbours each time, less
 * a little (K. Karplus and A. Strong, Computer Music Journal 7(2), 1983; D. Jaffe and J. Smith, same issue, for the
 * pluck's place and the fraction of a sample).
 */
class PluckedString {
  private readonly line: Float64Array;
  private readonly keep: number;
  private readonly fraction: number;
  private at = 0;
  private before = 0;
  private allPass = 0;

  constructor(hz: number, level: number, from: PluckedString | null, hiss: () => number) {
    // The mean of two delays by half a sample.
    const period = RATE_HZ / hz - 0.5;
    const whole = Math.max(2, Math.floor(period - 0.1));
    const rest = period - whole;
    this.fraction = (1 - rest) / (1 + rest);
    this.line = new Float64Array(whole);
    this.keep = 10 ** (-3 / (hz * STRING_S * Math.sqrt(STRING_HZ / hz)));
    if (from) {
      // Held down elsewhere: what is on the string stays on it.
      for (let i = 0; i < whole; i++) this.line[i] = from.line[(from.at + i) % from.line.length];
      return;
    }
    let soft = 0;
    const burst = Float64Array.from({ length: whole }, () => (soft += (level < 1 ? 0.4 : 0.9) * (hiss() - soft)));
    const comb = Math.max(1, Math.round(PLUCKED_AT * whole));
    burst.forEach((v, i) => (this.line[i] = v - burst[(i + whole - comb) % whole]));
    const mean = this.line.reduce((s, v) => s + v, 0) / whole;
    const peak = this.line.reduce((m, v) => Math.max(m, Math.abs(v - mean)), 1e-9);
    for (let i = 0; i < whole; i++) this.line[i] = (level * (this.line[i] - mean)) / peak;
  }

  next(): number {
    const now = this.line[this.at];
    const mean = (this.keep * (now + this.before)) / 2;
    this.before = now;
    // An all-pass for the fraction of a sample that is left of the period.
    const out = this.fraction * mean + this.allPass;
    this.allPass = mean - this.fraction * out;
    this.line[this.at] = out;
    this.at = (this.at + 1) % this.line.length;
    return now;
  }
}

/** A drum: a sine that falls to its pitch and dies away, with a click of noise. */
class Drum {
  private t = 0;
  private phase = 0;

  constructor(
    private readonly hz: number,
    private readonly level: number,
    private readonly hiss: () => number,
  ) {}

  next(): number {
    const hz = this.hz * (1 + (DRUM_TIMES - 1) * Math.exp(-this.t / DRUM_SWEEP_S));
    this.phase += hz / RATE_HZ;
    const out =
      0.85 * Math.sin(2 * Math.PI * this.phase) * Math.exp(-this.t / DRUM_S) +
      0.15 * this.hiss() * Math.exp(-this.t / CLICK_S);
    this.t += 1 / RATE_HZ;
    return this.level * out;
  }
}
