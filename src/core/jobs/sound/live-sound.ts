import { compiledRunner } from '../../analysis/sound/sound';
import type { SampleRunner } from '../../analysis/sound/sound-runner';
import type { Compilation } from '../../design/compiled/compile';
import type { Design } from '../../design/document/schema';
import { failure, success, type Result } from '../../result';
import { Limiter } from './limiter';
import { builtVariant, IN_TIME, runningCircuit } from '../reading/built-variant';
import type { Move } from '../../design/document/played';
import { MovedPlaces } from './moves';
import { Player, type Play } from './player';
import { onTheWay, placeOf, type Place } from './sounding-place';
import { decimated, HALF_TAPS, OVERSAMPLED, QUIET_RMS, type SoundSource } from './sound-source';
import { GLIDE_S, RATE_HZ } from './rate';

/** What is played for as long as it is listened to. */
export interface LiveRequest {
  readonly design: Design;
  readonly variantId: string;
  readonly source: SoundSource;
  readonly hz: number;
  /** Peak at the input, V. */
  readonly volts: number;
  /** What is played: one note on and on, what keys strike, or a sequence round and round. */
  readonly play?: Play;
  readonly moves?: readonly Move[];
}

/** Samples at a time, at `RATE_HZ`. */
export const LIVE_BLOCK = 128;
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
  /** Where it stands with what moves it. */
  private now: Place;
  /** Positions of the controls, from which what moves them is counted. */
  private bases: ReadonlyMap<string, number>;
  private readonly inputs: Float64Array[];
  private readonly piece: Float64Array[];
  private player: Player;
  private moved: MovedPlaces;
  private readonly limiter = new Limiter(RATE_HZ);
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
    this.now = this.place;
    this.inputs = runner.sources.map((name) => new Float64Array(fast).fill(this.place.dc.get(name) ?? 0));
    this.piece = [new Float64Array(fast)];
    this.player = new Player(request.source, request.hz, request.play ?? { kind: 'steady' }, rate);
    this.moved = movedOf(request, built);
    this.bases = positionsOf(request.design, request.variantId);
    if ('after' in begun) {
      // It takes over what sounds: as loud, and in time with it when it has warmed up.
      const { after } = begun;
      this.gain = after.gain;
      this.timesRealTime = after.timesRealTime;
      this.player.goOnFrom(after.player, WARMING_BLOCKS * fast);
      this.fillLimiter(WARMING_BLOCKS);
      return;
    }
    const { now } = begun;
    this.player.warm();
    // The first stretch is heard by nobody: it tells how fast the circuit runs and how loud it is.
    for (let b = 0; b < WARMING_BLOCKS; b++) this.raw();
    const began = now();
    let square = 0;
    for (let b = 0; b < MEASURED_BLOCKS; b++) for (const v of this.raw()) square += v * v;
    this.timesRealTime = (MEASURED_BLOCKS * LIVE_BLOCK) / RATE_HZ / Math.max(1e-6, (now() - began) / 1000);
    this.gain = QUIET_RMS / Math.max(1e-6, Math.sqrt(square / (MEASURED_BLOCKS * LIVE_BLOCK)));
    this.player.begin();
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
    if (waysOf(design, variantId) !== waysOf(this.request.design, variantId))
      this.moved = movedOf({ ...this.request, design, variantId }, built.value);
    this.request = { ...this.request, design, variantId };
    this.bases = positionsOf(design, variantId);
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
      if (name === 'Vin') for (let i = 0; i < fast; i++) inputs[s][i] = this.request.volts * this.player.next();
      else inputs[s].fill(this.now.dc.get(name) ?? 0);
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
    if (this.glide) {
      const { from, to } = this.glide;
      const block = ++this.glide.block;
      this.place = block >= GLIDE_BLOCKS ? to : onTheWay(from, to, block / GLIDE_BLOCKS);
      if (block >= GLIDE_BLOCKS) this.glide = null;
    } else if (this.moved.isStill) return;
    const { timeS, struck } = this.player;
    this.now = this.moved.at(this.place, timeS, struck, this.bases);
    this.runner.setValues(this.now.values);
  }

  /** Plays something else from where it is. */
  perform(play: Play, moves: readonly Move[]): void {
    const { source, hz } = this.request;
    this.request = { ...this.request, play, moves };
    const next = new Player(source, hz, play, RATE_HZ * this.oversampled);
    next.goOnFrom(this.player, 0);
    this.player = next;
    const built = builtVariant(this.request.design, this.request.variantId, IN_TIME);
    if (built.ok) this.moved = movedOf(this.request, built.value);
  }

  /** A key struck, or with null let go. @param level of the loudest. */
  key(hz: number | null, level = 1): void {
    this.player.key(hz, level);
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

/** Travels of what is moved, looked at so finely. */
const PLACES = 33;
function movedOf({ design, variantId, moves = [] }: LiveRequest, built: Compilation): MovedPlaces {
  const variant = design.variants.find((v) => v.id === variantId) ?? design.variants[0];
  return MovedPlaces.of(design, variant, built, moves, PLACES);
}
const positionsOf = ({ variants }: Design, variantId: string): ReadonlyMap<string, number> =>
  new Map(variants.find((v) => v.id === variantId)?.controls.map((c) => [c.id, c.position]));

/** What of a variant its circuit is made of, however its controls stand. */
const waysOf = (design: Design, variantId: string): string =>
  JSON.stringify(design.variants.find((v) => v.id === variantId)?.ways);

/** Two circuits with the same unknowns and as many values are one and the same, with other values. */
const shapeOf = (built: Compilation): string => {
  const { structure, values } = runningCircuit(built);
  return `${structure.unknowns.join()}|${values.length}`;
};
