import * as z from 'zod';
import { defineJob, requestOf, ofVariant, float32 } from '../define-job';
import { atRate, downsampled, upsampled } from '../../analysis/sound/resample';
import { AcSolver } from '../../analysis/ac/solver';
import type { Design } from '../../design/document/schema';
import { failure, success, type Result } from '../../result';
import { builtVariant, IN_TIME } from '../reading/built-variant';
import type { JobContext } from '../job-context';
import { crossoverSound } from './crossover-sound';
import { heardOf, HeardSoFar, type Heard } from './heard';
import { placeOf } from './sounding-place';
import { RENDER_OVERSAMPLED, sounding, type Mover } from './sounding';
import { Instrument } from './instrument';
import { MOST_MOVES, moveSchema, sequenceSchema, type Move } from '../../design/document/played';
import { MovedPlaces } from './moves';
import { evenNotes, sequenceNotes, stepSeconds, type Note } from './notes';
import { isWave, SOUND_SOURCES, type SoundSource } from './sound-source';
import { RATE_HZ } from './rate';

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
  /** Played instead of the notes, so many rounds of it. */
  sequence: z.object({ of: sequenceSchema, rounds: z.int().min(1).max(64) }).optional(),
  /** What moves controls besides. */
  moves: z.array(moveSchema).max(MOST_MOVES).readonly().optional(),
  /** A recording begins again when it ends. */
  looped: z.boolean().optional(),
  /** Of a crossover: all its drivers from the listener's place, or one way by itself. */
  part: z.union([z.literal('sum'), z.object({ way: z.string() })]).optional(),
});
export type ListenRequest = z.infer<typeof listenRequest>;

const PLACES = 97;
const LONGEST_S = 30;

/** Renders it. Fails as the circuit does in time, with `too-long` (`seconds`), or `cancelled`. */
export async function runListen(
  request: ListenRequest,
  context: JobContext,
  now: () => number,
  solver = new AcSolver(),
): Promise<Result<Heard>> {
  const { design, variantId, volts } = request;
  const notes = notesIn(request);
  const seconds = secondsOf(request);
  if (!(seconds > 0 && seconds <= LONGEST_S)) return failure('too-long', { seconds, most: LONGEST_S });
  const rate = RATE_HZ * RENDER_OVERSAMPLED;
  const drive = driveOf(request, notes, rate, Math.round(seconds * rate)).map((v) => v * volts);
  const variant = design.variants.find((v) => v.id === variantId);
  if (variant?.join === 'acoustic') {
    const began = now();
    const volts = downsampled(drive, RENDER_OVERSAMPLED);
    const sound = crossoverSound(design, variant, request.part ?? 'sum', volts, RATE_HZ, solver);
    if (!sound.ok) return sound;
    const tookS = Math.max(1e-6, (now() - began) / 1000);
    return success({
      ...heardOf(sound.value, 1),
      peakVolts: null,
      rmsVolts: null,
      exact: true,
      timesRealTime: seconds / tookS,
    });
  }
  const mover = moverOf(design, variantId, movesIn(request), notes);
  if (!mover.ok) return mover;
  const began = now();
  const heard = new HeardSoFar(Math.floor(drive.length / RENDER_OVERSAMPLED), volts);
  const sounded = await sounding(design, variantId, drive, rate, context, {
    mover: mover.value,
    soFar: (so, count) => {
      if (heard.take(so, count)) context.progress(count / drive.length, heard.answer((now() - began) / 1000));
    },
  });
  if (!sounded.ok) return sounded;
  if (!sounded.value.linear) {
    heard.finish(sounded.value.volts);
    context.progress(1, heard.answer((now() - began) / 1000));
  }
  const tookS = Math.max(1e-6, (now() - began) / 1000);
  return success({
    ...heardOf(sounded.value.volts, RENDER_OVERSAMPLED),
    exact: sounded.value.linear,
    timesRealTime: seconds / tookS,
  });
}

/** The notes that are played: of a sequence, or in turn. */
const notesIn = ({ sequence, notesHz, noteS }: ListenRequest): Note[] =>
  sequence ? sequenceNotes(sequence.of, sequence.rounds) : evenNotes(notesHz, noteS);

const secondsOf = ({ sequence, notesHz, noteS }: ListenRequest): number =>
  sequence ? sequence.rounds * sequence.of.steps.length * stepSeconds(sequence.of) : notesHz.length * noteS;

/** An envelope that is asked for by itself, and what moves besides. */
const movesIn = ({ envelope, moves = [] }: ListenRequest): readonly Move[] =>
  envelope
    ? [
        {
          controlId: envelope.controlId,
          depth: envelope.depth,
          by: { kind: 'envelope', attackS: envelope.attackS, decayS: envelope.decayS, accent: 0 },
        },
        ...moves,
      ]
    : moves;

/** Where what moves puts the circuit's values, note by note; null where nothing does. */
function moverOf(
  design: Design,
  variantId: string,
  moves: readonly Move[],
  notes: readonly Note[],
): Result<Mover | null> {
  if (moves.length === 0) return success(null);
  const built = builtVariant(design, variantId, IN_TIME);
  if (!built.ok) return built;
  const places = MovedPlaces.of(design, built.value.variant, built.value, moves, PLACES);
  if (places.isStill) return success(null);
  const place = placeOf(built.value);
  let at = 0;
  return success((timeS) => {
    if (notes[at] && notes[at].atS > timeS) at = 0;
    while (at + 1 < notes.length && notes[at + 1].atS <= timeS) at++;
    return places.at(place, timeS, notes[at] && notes[at].atS <= timeS ? notes[at] : null);
  });
}

/** The source at the oversampled rate, 1 peak: waves band-limited by adding harmonics up to a third of that rate. */
function driveOf({ source, looped }: ListenRequest, notes: readonly Note[], rate: number, count: number): Float64Array {
  const out = new Float64Array(count);
  if (typeof source === 'object') {
    const played = upsampled(
      atRate(Float64Array.from(source.samples), source.rateHz, rate / RENDER_OVERSAMPLED),
      RENDER_OVERSAMPLED,
    );
    for (let at = 0; at < count; at += played.length) {
      out.set(played.subarray(0, count - at), at);
      if (!looped) break;
    }
    return out;
  }
  if (!isWave(source)) {
    // Made at the rate it is heard at, so that all of it is.
    return upsampled(played(source, notes, RATE_HZ, count / RENDER_OVERSAMPLED), RENDER_OVERSAMPLED);
  }
  return played(source, notes, rate, count);
}

/** Notes on an instrument: struck, held and let go. */
function played(source: SoundSource, notes: readonly Note[], rate: number, count: number): Float64Array {
  const instrument = new Instrument(source, rate);
  const out = new Float64Array(Math.round(count));
  let [next, until] = [0, Infinity];
  for (let i = 0; i < out.length; i++) {
    const timeS = i / rate;
    if (timeS >= until) {
      instrument.release();
      until = Infinity;
    }
    if (next < notes.length && notes[next].atS <= timeS) {
      const note = notes[next++];
      const { atS, lastsS } = note;
      instrument.strike(note);
      // It fades before the next begins, unless that slides in.
      until = notes[next]?.slid ? Infinity : atS + lastsS - FADE_S;
    }
    out[i] = instrument.next();
  }
  return out;
}
const FADE_S = 0.004;

export const listenJob = defineJob(listenRequest, (request, { context, solver }) =>
  runListen(request, context, context.now ?? (() => 0), solver),
);
