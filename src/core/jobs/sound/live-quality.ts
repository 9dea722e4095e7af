import type { Result } from '../../result';
import type { Design } from '../../design/document/schema';
import type { Move } from '../../design/document/played';
import type { Play } from './player';
import { LIVE_BLOCK, type LiveSound } from './live-sound';
import { OVERSAMPLED } from './sound-source';
import { RATE_HZ } from './rate';

/** How a circuit is sounded: steps a sample, and how many samples lie ready before they are played. */
export interface Quality {
  readonly oversampled: number;
  readonly ahead: number;
}

/**
 * Best first: a twentieth of a second in hand, so that a knob is heard as it is turned; a sixth; the plain rate; the
 * plain rate with more than half a second in hand.
 */
export const QUALITIES: readonly Quality[] = [
  { oversampled: OVERSAMPLED, ahead: 2304 },
  { oversampled: OVERSAMPLED, ahead: 8192 },
  { oversampled: 1, ahead: 8192 },
  { oversampled: 1, ahead: 28_672 },
];

/** With less lying ready than this, samples, a machine must make sound so many times faster than it is played. */
const EASY_AHEAD = 8192;
const SPARE = 8;

/** While something is turned at least this lies ready, samples (85 ms), until it has rested for as long, s. */
const TURNED_AHEAD = 4096;
const TURNED_S = 1;

/** Under this share of what should lie ready it is pressed; pressed so often in a row, it steps down. */
const PRESSED = 0.4;
const PRESSED_TIMES = 3;
/** Over this share for so long, s, it tries the next better one; twice as long after each time that failed. */
const EASY = 0.8;
const EASY_S = 8;
const MOST_EASY_S = 120;
/** Blocks over which one quality fades into another. */
const FADE_BLOCKS = 8;

/**
 * Keeps a sound going on a machine that is busy with other things: steps its quality down before what lies ready runs
 * out, and up again when there has been plenty for a while.
 */
export class SteadySound {
  private level: number;
  private fading: { readonly from: LiveSound; block: number } | null = null;
  private pressed = 0;
  private easySince = 0;
  private easyS = EASY_S;
  private sent = 0;
  private turnedUntil = 0;
  private played = 0;

  constructor(private sound: LiveSound) {
    // So little in hand is for machines that have time to spare.
    const enough = (q: Quality) => q.ahead >= EASY_AHEAD || sound.timesRealTime >= SPARE;
    this.level = QUALITIES.findIndex((q) => q.oversampled === sound.oversampled && enough(q));
  }

  get quality(): Quality {
    return QUALITIES[this.level];
  }
  /** Steps under the best. */
  get stepsDown(): number {
    return this.level;
  }

  /** What is to be sent when so many samples have been played: blocks until enough lies ready. */
  *feed(played: number): Generator<Float32Array> {
    this.judge(played);
    yield* this.fill(played);
  }

  /** What is to be sent before it is told of a change: on a busy machine that can take longer than lies ready. */
  *turned(): Generator<Float32Array> {
    this.turnedUntil = this.sent + TURNED_S * RATE_HZ;
    yield* this.fill(this.played);
  }

  /** How many samples should lie ready. */
  private get ahead(): number {
    return this.sent < this.turnedUntil ? Math.max(TURNED_AHEAD, this.quality.ahead) : this.quality.ahead;
  }

  private *fill(played: number): Generator<Float32Array> {
    this.played = played;
    while (this.sent - played < this.ahead) {
      yield this.next();
      this.sent += LIVE_BLOCK;
    }
  }

  /** A key struck, or with null let go. */
  key(hz: number | null, level?: number): void {
    this.fading?.from.key(hz, level);
    this.sound.key(hz, level);
  }

  perform(play: Play, moves: readonly Move[]): void {
    this.fading?.from.perform(play, moves);
    this.sound.perform(play, moves);
  }

  follow(design: Design, variantId: string): Result<null> {
    this.fading?.from.follow(design, variantId);
    return this.sound.follow(design, variantId);
  }

  private judge(played: number): void {
    if (played === 0) return;
    const share = (this.sent - played) / this.quality.ahead;
    this.pressed = share < PRESSED ? this.pressed + 1 : 0;
    if (share < EASY) this.easySince = played;
    if (this.pressed >= PRESSED_TIMES && this.level < QUALITIES.length - 1) {
      // What was tried and did not last is not tried again so soon.
      this.easyS = Math.min(MOST_EASY_S, 2 * this.easyS);
      this.step(1, played);
    } else if (played - this.easySince > this.easyS * RATE_HZ && this.level > 0) this.step(-1, played);
  }

  private step(by: number, played: number): void {
    const level = this.level + by;
    if (QUALITIES[level].oversampled !== this.sound.oversampled) {
      const next = this.sound.withQuality(QUALITIES[level].oversampled);
      if (!next.ok) return;
      this.fading = { from: this.sound, block: 0 };
      this.sound = next.value;
    }
    this.level = level;
    this.pressed = 0;
    this.easySince = played;
  }

  private next(): Float32Array {
    const block = this.sound.next();
    if (!this.fading) return block;
    const { from } = this.fading;
    const old = from.next();
    const [start, end] = [this.fading.block / FADE_BLOCKS, ++this.fading.block / FADE_BLOCKS];
    if (this.fading.block === FADE_BLOCKS) this.fading = null;
    return block.map((v, i) => {
      const share = start + ((end - start) * i) / block.length;
      return share * v + (1 - share) * old[i];
    });
  }
}
