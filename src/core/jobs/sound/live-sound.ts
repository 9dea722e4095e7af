import { compiledRunner, type SampleRunner } from '../../analysis/sound';
import type { Compilation } from '../../design/compile';
import type { Design } from '../../design/schema';
import { failure, success, type Result } from '../../result';
import { Limiter } from './limiter';
import { builtVariant, IN_TIME, runningCircuit } from '../reading/built-variant';
import { onTheWay, placeOf, type Place } from './sounding-place';
import {
  decimated,
  HALF_TAPS,
  noise,
  OVERSAMPLED,
  QUIET_RMS,
  RATE_HZ,
  sampleOf,
  voicesOf,
  waveTable,
  type SoundSource,
} from './sound-source';

/** What is played for as long as it is listened to. */
export interface LiveRequest {
  readonly design: Design;
  readonly variantId: string;
  readonly source: SoundSource;
  readonly hz: number;
  /** Peak at the input, V. */
  readonly volts: number;
}

/** Samples at a time, at `RATE_HZ`. */
export const LIVE_BLOCK = 128;
const GLIDE_S = 0.03;
const GLIDE_BLOCKS = Math.ceil((GLIDE_S * RATE_HZ) / LIVE_BLOCK);
const WARMING_BLOCKS = 40;
const MEASURED_BLOCKS = 80;
const DC_CORNER_HZ = 8;
/** With less in hand than this, times real time, it runs at the output's own rate. */
const ENOUGH = 3;

/**
 * A circuit that sounds without end and follows what is turned: one runner, whose values glide to those of the changed
 * design.
 */
export class LiveSound {
  /** Steps for each sample that is played. */
  readonly oversampled: number;
  /** Seconds of sound a second makes, when it was begun. */
  readonly timesRealTime: number;
  private readonly gain: number;
  private glide: { from: Place; to: Place; block: number } | null = null;
  private place: Place;
  private readonly inputs: Float64Array[];
  private readonly piece: Float64Array[];
  private readonly tables: { readonly table: Float64Array; readonly step: number }[];
  private readonly hiss = noise();
  private readonly limiter = new Limiter(RATE_HZ);
  private at: number;
  /** The last of the fast samples, for the filter that goes down. */
  private readonly tail = new Float64Array(2 * HALF_TAPS);
  private before = 0;
  private held = 0;

  private constructor(
    private readonly runner: SampleRunner,
    private request: LiveRequest,
    private readonly shape: string,
    built: Compilation,
    oversampled: number,
    begun: { readonly now: () => number } | { readonly after: LiveSound },
  ) {
    this.oversampled = oversampled;
    const rate = RATE_HZ * oversampled;
    const fast = LIVE_BLOCK * oversampled;
    this.place = placeOf(built);
    this.inputs = runner.sources.map((name) => new Float64Array(fast).fill(this.place.dc.get(name) ?? 0));
    this.piece = [new Float64Array(fast)];
    const voices = request.source === 'noise' ? [] : voicesOf(request.source, request.hz);
    this.tables =
      request.source === 'noise'
        ? []
        : voices.map((hz) => ({
            table: waveTable(request.source as Exclude<SoundSource, 'noise'>, hz, rate),
            step: hz / rate,
          }));
    if ('after' in begun) {
      // It takes over what sounds: as loud, and in time with it when it has warmed up.
      const { after } = begun;
      this.gain = after.gain;
      this.timesRealTime = after.timesRealTime;
      this.at = (after.at / after.oversampled) * oversampled - WARMING_BLOCKS * fast;
      this.fillLimiter(WARMING_BLOCKS);
      return;
    }
    const { now } = begun;
    this.at = 0;
    // The first stretch is heard by nobody: it tells how fast the circuit runs and how loud it is.
    for (let b = 0; b < WARMING_BLOCKS; b++) this.raw();
    const began = now();
    let square = 0;
    for (let b = 0; b < MEASURED_BLOCKS; b++) for (const v of this.raw()) square += v * v;
    this.timesRealTime = (MEASURED_BLOCKS * LIVE_BLOCK) / RATE_HZ / Math.max(1e-6, (now() - began) / 1000);
    this.gain = QUIET_RMS / Math.max(1e-6, Math.sqrt(square / (MEASURED_BLOCKS * LIVE_BLOCK)));
    this.fillLimiter(Math.ceil(this.limiter.delay / LIVE_BLOCK));
  }

  /** Fails as the design or its rest does, or with `no-such-variant`. @param now milliseconds. */
  static start(request: LiveRequest, now: () => number): Result<LiveSound> {
    const fine = LiveSound.begin(request, OVERSAMPLED, { now });
    return !fine.ok || fine.value.timesRealTime >= ENOUGH ? fine : LiveSound.begin(request, 1, { now });
  }

  /** The same sound at another quality, to be taken over to: as loud, and in time. Fails as `start` does. */
  withQuality(oversampled: number): Result<LiveSound> {
    return LiveSound.begin(this.request, oversampled, { after: this });
  }

  private static begin(
    request: LiveRequest,
    oversampled: number,
    begun: { readonly now: () => number } | { readonly after: LiveSound },
  ): Result<LiveSound> {
    const built = builtVariant(request.design, request.variantId, IN_TIME);
    if (!built.ok) return built;
    const circuit = runningCircuit(built.value);
    const runner = compiledRunner(circuit, {
      sampleRateHz: RATE_HZ * oversampled,
      wanted: [circuit.structure.nodeOf(built.value.ways[0].output) ?? -1],
    });
    return runner.ok
      ? success(new LiveSound(runner.value, request, shapeOf(built.value), built.value, oversampled, begun))
      : runner;
  }

  /** Steps that did not settle so far. */
  get unsettled(): number {
    return this.runner.unsettled;
  }

  /** Glides to what the design is now. `other-circuit` where it is no longer the same one: that takes a new start. */
  follow(design: Design, variantId: string): Result<null> {
    const built = builtVariant(design, variantId, IN_TIME);
    if (!built.ok) return built;
    const to = placeOf(built.value);
    if (shapeOf(built.value) !== this.shape || to.values.some((v, i) => v !== 0 && this.place.values[i] === 0))
      return failure('other-circuit', {});
    this.request = { ...this.request, design, variantId };
    this.glide = { from: this.place, to, block: 0 };
    return success(null);
  }

  /** The next `LIVE_BLOCK` samples, within ±1. */
  next(): Float32Array {
    return Float32Array.from(this.limiter.process(this.raw().map((v) => v * this.gain)));
  }

  /** Runs on unheard, so that the limiter’s delay is no silence. */
  private fillLimiter(blocks: number): void {
    for (let b = 0; b < blocks; b++) this.next();
  }

  /** The next samples in volts, what rests taken away. */
  private raw(): Float64Array {
    this.moveOn();
    const { runner, inputs, piece, oversampled } = this;
    const fast = LIVE_BLOCK * oversampled;
    runner.sources.forEach((name, s) => {
      if (name === 'Vin') for (let i = 0; i < fast; i++) inputs[s][i] = this.request.volts * this.drive();
      else inputs[s].fill(this.place.dc.get(name) ?? 0);
    });
    runner.process(inputs, piece, fast);
    const low = oversampled === 1 ? piece[0] : this.down(piece[0]);
    const out = new Float64Array(LIVE_BLOCK);
    const keep = Math.exp((-2 * Math.PI * DC_CORNER_HZ) / RATE_HZ);
    for (let i = 0; i < LIVE_BLOCK; i++) {
      this.held = keep * this.held + low[i] - this.before;
      this.before = low[i];
      out[i] = this.held;
    }
    return out;
  }

  private moveOn(): void {
    if (!this.glide) return;
    const { from, to } = this.glide;
    const block = ++this.glide.block;
    this.place = block >= GLIDE_BLOCKS ? to : onTheWay(from, to, block / GLIDE_BLOCKS);
    this.runner.setValues(this.place.values);
    if (block >= GLIDE_BLOCKS) this.glide = null;
  }

  private drive(): number {
    this.at++;
    if (this.tables.length === 0) return this.hiss();
    return this.tables.reduce((sum, { table, step }) => sum + sampleOf(table, this.at * step) / this.tables.length, 0);
  }

  private down(fast: Float64Array): Float64Array {
    const { tail } = this;
    const all = new Float64Array(tail.length + fast.length);
    all.set(tail);
    all.set(fast, tail.length);
    const low = decimated(all, LIVE_BLOCK);
    tail.set(all.subarray(fast.length));
    return low;
  }
}

/** Two circuits with the same unknowns and as many values are one and the same, with other values. */
const shapeOf = (built: Compilation): string => {
  const { structure, values } = runningCircuit(built);
  return `${structure.unknowns.join()}|${values.length}`;
};
