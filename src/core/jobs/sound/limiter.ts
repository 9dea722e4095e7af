/** How far ahead the limiter looks, and how slowly it lets go, s. */
const AHEAD_S = 0.005;
const RELEASE_S = 0.2;

/**
 * Keeps a signal under a ceiling by turning it down before a peak and up again after it: one gain for all that sounds
 * at a time, so that no harmonics are made and nothing folds. Below the ceiling it is out of circuit. What comes out is
 * `delay` samples late.
 */
export class Limiter {
  /** Samples. */
  readonly delay: number;
  private readonly ahead: number;
  private readonly release: number;
  private readonly span: number;
  /** The last samples, what they want, and the gains that were held for the middle of the last stretch. */
  private readonly signal: Float64Array;
  private readonly wanted: Float64Array;
  private readonly held: Float64Array;
  /** Places of samples that may still be the least of a stretch, lowest wish first. */
  private queue: number[] = [];
  private count = 0;
  private gain = 1;
  private sum: number;

  constructor(
    rateHz: number,
    private readonly ceiling = 1,
  ) {
    this.ahead = Math.max(1, Math.round(AHEAD_S * rateHz));
    this.release = Math.exp(-1 / (RELEASE_S * rateHz));
    this.span = 2 * this.ahead + 1;
    this.delay = 2 * this.ahead;
    this.signal = new Float64Array(this.span);
    this.wanted = new Float64Array(this.span).fill(1);
    this.held = new Float64Array(this.span).fill(1);
    this.sum = this.span;
  }

  process(block: Float64Array): Float64Array {
    return block.map((v) => this.next(v));
  }

  private next(v: number): number {
    const { span, ahead, signal, wanted, held, queue } = this;
    const n = this.count++;
    const at = n % span;
    signal[at] = v;
    wanted[at] = Math.min(1, this.ceiling / Math.max(Math.abs(v), 1e-12));
    while (queue.length > 0 && wanted[queue[queue.length - 1] % span] >= wanted[at]) queue.pop();
    queue.push(n);
    if (queue[0] <= n - span) queue.shift();
    // The least gain of the stretch, let go slowly, then smoothed over that stretch: it has arrived when the peak does.
    this.gain = Math.min(wanted[queue[0] % span], 1 - (1 - this.gain) * this.release);
    this.sum += this.gain - held[at];
    held[at] = this.gain;
    const oldest = (n + 1) % span;
    return n < 2 * ahead ? 0 : signal[oldest] * Math.min(wanted[oldest], this.sum / span);
  }
}

/** A whole signal limited, in step with what went in; what is nowhere over the ceiling comes out as it is. */
export function limited(signal: Float64Array, rateHz: number, ceiling = 1): Float64Array {
  if (signal.every((v) => Math.abs(v) <= ceiling)) return signal;
  const limiter = new Limiter(rateHz, ceiling);
  const late = new Float64Array(signal.length + limiter.delay);
  late.set(signal);
  return limiter.process(late).slice(limiter.delay);
}
