import { downsampled } from '../../analysis/sound/resample';
import { Limiter, limited } from './limiter';
import { RENDER_OVERSAMPLED } from './sounding';
import { QUIET_RMS } from './sound-source';
import { RATE_HZ } from './rate';

export interface Heard {
  /** At `RATE_HZ`, quiet enough for a first hearing: its loudest third at −20 dB of full scale. */
  readonly samples: Float32Array;
  readonly rateHz: number;
  /** As it was, V; null of what is heard through the air. */
  readonly peakVolts: number | null;
  readonly rmsVolts: number | null;
  /** Run as the linear circuit that it is at this level, exactly; else step by step with all that bends. */
  readonly exact: boolean;
  /** How many seconds of sound a second makes. */
  readonly timesRealTime: number;
}

/** There is more to hear once so much more of it is there, s. */
const STRETCH_S = 0.5;
/** What the filters of the lower rate look at to either side, samples of it. */
const MARGIN = 256;
/** A source that is turned up is taken for at least so much of its peak: what begins in silence does not begin loud. */
const LEAST_SHARE = 0.05;

const meanOf = (wave: Float64Array): number => wave.reduce((sum, v) => sum + v, 0) / Math.max(1, wave.length);
const raised = (wave: Float64Array, by: number): Float64Array => wave.map((v) => v + by);

/**
 * What was rendered, as it is heard: about its mean, since what rests at some volts is not heard.
 * @param volts at `factor` times the rate that it is heard at.
 */
export function heardOf(
  volts: Float64Array,
  factor: number,
): Pick<Heard, 'samples' | 'rateHz' | 'peakVolts' | 'rmsVolts'> {
  // The mean goes first: to the filters a rest that begins and ends would be a jump.
  const wave = downsampled(raised(volts, -meanOf(volts)), factor);
  const peak = wave.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
  const rms = Math.sqrt(wave.reduce((s, v) => s + v * v, 0) / Math.max(1, wave.length));
  const gain = QUIET_RMS / Math.max(rms, 1e-9);
  return {
    samples: Float32Array.from(
      limited(
        wave.map((v) => v * gain),
        RATE_HZ,
      ),
    ),
    rateHz: RATE_HZ,
    peakVolts: peak,
    rmsVolts: rms,
  };
}

/**
 * A rendering as it is heard while it is made: quiet enough for a first hearing, at a level that only falls as louder
 * passages come, with a limiter over it.
 */
export class HeardSoFar {
  private readonly samples: Float32Array;
  private readonly limiter = new Limiter(RATE_HZ);
  /** Samples that are done. */
  private done = 0;
  /** What it rests at, V, from the first stretch on. */
  private rest: number | null = null;
  private gain: number;
  private square = 0;
  private peak = 0;

  /** @param length samples in all. @param inputVolts peak of what is played. */
  constructor(
    length: number,
    private readonly inputVolts: number,
  ) {
    this.samples = new Float32Array(length);
    this.gain = QUIET_RMS / Math.max(1e-9, LEAST_SHARE * inputVolts);
  }

  /**
   * Takes in what there is of the output. True where there is more to hear than before.
   * @param volts at the oversampled rate, `count` of them.
   */
  take(volts: Float64Array, count: number): boolean {
    const ready = Math.floor(count / RENDER_OVERSAMPLED) - MARGIN;
    if (ready - this.done < STRETCH_S * RATE_HZ) return false;
    this.add(volts, ready);
    return true;
  }

  finish(volts: Float64Array): void {
    this.add(volts, this.samples.length);
  }

  /** @param tookS what it has taken, s. */
  answer(tookS: number): Heard {
    return {
      samples: this.samples.slice(0, this.done),
      rateHz: RATE_HZ,
      peakVolts: this.peak,
      rmsVolts: Math.sqrt(this.square / Math.max(1, this.done)),
      exact: false,
      timesRealTime: this.done / RATE_HZ / Math.max(1e-6, tookS),
    };
  }

  private add(volts: Float64Array, until: number): void {
    const from = this.done;
    const first = Math.max(0, from - MARGIN);
    const around = volts.subarray(first * RENDER_OVERSAMPLED, (until + MARGIN) * RENDER_OVERSAMPLED);
    this.rest ??= meanOf(around);
    const wave = downsampled(raised(around, -this.rest), RENDER_OVERSAMPLED).subarray(from - first, until - first);
    this.square += wave.reduce((sum, v) => sum + v * v, 0);
    this.peak = wave.reduce((most, v) => Math.max(most, Math.abs(v)), this.peak);
    this.done = until;
    const loud = Math.max(LEAST_SHARE * this.inputVolts, Math.sqrt(this.square / until), 1e-9);
    const [before, after] = [this.gain, Math.min(this.gain, QUIET_RMS / loud)];
    this.gain = after;
    // The first stretch is as loud as it will be; what is louder turns later ones down along their way.
    const start = from === 0 ? after : before;
    const turned = wave.map((v, i) => v * (start + ((after - start) * i) / wave.length));
    this.samples.set(this.limiter.process(turned), from);
  }
}
