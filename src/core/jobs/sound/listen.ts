import { z } from 'zod';
import { defineJob, requestOf, ofVariant, float32 } from '../define-job';
import { atRate, downsampled, upsampled } from '../../analysis/resample';
import { AcSolver } from '../../analysis/solver';
import { AS_BUILT, compile, type Compilation } from '../../design/compile';
import type { Design, Variant } from '../../design/schema';
import { failure, success, type Result } from '../../result';
import { builtVariant, IN_TIME } from '../reading/built-variant';
import type { JobContext } from '../job-context';
import { crossoverSound } from './crossover-sound';
import { limited } from './limiter';
import { onTheWay, placeOf, type Place } from './sounding-place';
import { RENDER_OVERSAMPLED, sounding, type Mover } from './sounding';
import { noise, QUIET_RMS, RATE_HZ, sampleOf, voicesOf, waveTable, SOUND_SOURCES } from './sound-source';
import { turned } from '../network/turn';

/** The very circuit, sample by sample, with a source at its input and an envelope on one of its controls. */
export const listenRequest = requestOf('listen', {
  ...ofVariant,
  source: z.union([
    z.enum(SOUND_SOURCES),
    z.object({
      samples: float32,
      rateHz: z.number(),
    }),
  ]),
  /** Of the notes, in turn, Hz; each as long. */
  notesHz: z.array(z.number()).readonly(),
  noteS: z.number(),
  /** Peak at the input, V. */
  volts: z.number(),
  /** Moves a control of the variant from where it stands: up by so much of its travel, in so many seconds, and back. */
  envelope: z
    .object({
      controlId: z.string(),
      depth: z.number(),
      attackS: z.number(),
      decayS: z.number(),
    })
    .nullable(),
  /** Of a crossover: all its drivers from the listener's place, or one way by itself. */
  part: z.union([z.literal('sum'), z.object({ way: z.string() })]).optional(),
});
export type ListenRequest = z.infer<typeof listenRequest>;

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

const PLACES = 97;
const LONGEST_S = 30;

/** Renders it. Fails as the circuit does in time, with `too-long` (`seconds`), or `cancelled`. */
export async function runListen(
  request: ListenRequest,
  context: JobContext,
  now: () => number,
  solver = new AcSolver(),
): Promise<Result<Heard>> {
  const { design, variantId, notesHz, noteS, volts, envelope } = request;
  const seconds = notesHz.length * noteS;
  if (!(seconds > 0 && seconds <= LONGEST_S)) return failure('too-long', { seconds, most: LONGEST_S });
  const rate = RATE_HZ * RENDER_OVERSAMPLED;
  const drive = driveOf(request, rate, Math.round(seconds * rate)).map((v) => v * volts);
  const variant = design.variants.find((v) => v.id === variantId);
  if (variant?.join === 'acoustic') {
    const began = now();
    const volts = downsampled(drive, RENDER_OVERSAMPLED);
    const sound = crossoverSound(design, variant, request.part ?? 'sum', volts, RATE_HZ, solver);
    if (!sound.ok) return sound;
    const tookS = Math.max(1e-6, (now() - began) / 1000);
    return success({
      ...heardOf(sound.value),
      peakVolts: null,
      rmsVolts: null,
      exact: true,
      timesRealTime: seconds / tookS,
    });
  }
  const mover = envelope ? moverOf(design, variantId, envelope, noteS) : success(null);
  if (!mover.ok) return mover;
  const began = now();
  const sounded = await sounding(design, variantId, drive, rate, context, mover.value);
  if (!sounded.ok) return sounded;
  const tookS = Math.max(1e-6, (now() - began) / 1000);
  return success({
    ...heardOf(downsampled(sounded.value.volts, RENDER_OVERSAMPLED)),
    exact: sounded.value.linear,
    timesRealTime: seconds / tookS,
  });
}

/** Where a control's envelope puts the circuit's values, note by note. */
function moverOf(
  design: Design,
  variantId: string,
  envelope: NonNullable<ListenRequest['envelope']>,
  noteS: number,
): Result<Mover> {
  const built = builtVariant(design, variantId, IN_TIME);
  if (!built.ok) return built;
  const { variant } = built.value;
  const places = placesOf(design, variant, envelope.controlId, built.value);
  const base = variant.controls.find((c) => c.id === envelope.controlId)?.position ?? 0.5;
  return success((timeS) => between(places, base + envelope.depth * shapeOf(timeS % noteS, envelope)));
}

/** The circuit's values over a control's travel: what lies between is taken from its neighbours. */
function placesOf(design: Design, variant: Variant, controlId: string, middle: Compilation): Place[] {
  return Array.from({ length: PLACES }, (_, i) => {
    const built = compile(design, turned(variant, controlId, { position: i / (PLACES - 1) }), {
      ...AS_BUILT,
      ...IN_TIME,
    });
    return placeOf(built.ok ? built.value : middle);
  });
}

function between(places: readonly Place[], at: number): Place {
  const x = Math.min(1, Math.max(0, at)) * (places.length - 1);
  const k = Math.min(places.length - 2, Math.floor(x));
  return onTheWay(places[k], places[k + 1], x - k);
}

/** Up and down again over a note, 0 to 1: straight up, an exponential down. */
function shapeOf(t: number, { attackS, decayS }: { attackS: number; decayS: number }): number {
  return t < attackS ? t / Math.max(attackS, 1e-4) : Math.exp(-(t - attackS) / Math.max(decayS, 1e-3));
}

/** The source at the oversampled rate, 1 peak: waves band-limited by adding harmonics up to a third of that rate. */
function driveOf({ source, notesHz, noteS }: ListenRequest, rate: number, count: number): Float64Array {
  const out = new Float64Array(count);
  if (typeof source === 'object') {
    const played = upsampled(
      atRate(Float64Array.from(source.samples), source.rateHz, rate / RENDER_OVERSAMPLED),
      RENDER_OVERSAMPLED,
    );
    out.set(played.subarray(0, count));
    return out;
  }
  if (source === 'noise') {
    // Made at the rate it is heard at, so that all of it is.
    const hiss = noise();
    return upsampled(new Float64Array(count / RENDER_OVERSAMPLED).map(hiss), RENDER_OVERSAMPLED);
  }
  const each = Math.round(noteS * rate);
  notesHz.forEach((hz, n) => {
    const from = n * each;
    const voices = voicesOf(source, hz);
    for (const voice of voices)
      addVoice(
        out.subarray(from, Math.min(count, from + each)),
        waveTable(source, voice, rate),
        voice,
        rate,
        1 / voices.length,
      );
  });
  return out;
}

function addVoice(into: Float64Array, table: Float64Array, hz: number, rate: number, gain: number): void {
  const fade = Math.min(into.length / 4, rate * 0.004);
  for (let i = 0; i < into.length; i++) {
    const edge = Math.min(1, i / fade, (into.length - i) / fade);
    into[i] += gain * edge * sampleOf(table, (i * hz) / rate);
  }
}

function heardOf(low: Float64Array): Pick<Heard, 'samples' | 'rateHz' | 'peakVolts' | 'rmsVolts'> {
  // What rests at some volts is not heard: the mean goes.
  const mean = low.reduce((s, v) => s + v, 0) / Math.max(1, low.length);
  const wave = low.map((v) => v - mean);
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

export const listenJob = defineJob(listenRequest, (request, { context, solver }) =>
  runListen(request, context, context.now ?? (() => 0), solver),
);
