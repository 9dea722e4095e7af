import * as z from 'zod';
import type { AcSolver } from '../../analysis/ac/solver';
import { analyse, type Analysed } from '../../measure/analyse';
import { channelsOf, type Channels } from '../../measure/channels';
import type { Recording } from '../../measure/impulse';
import { analyseTones, playedSamples, tonesOf } from '../../measure/stepped';
import { sweepSamples, type Sweep } from '../../measure/sweep';
import { failure, type Result } from '../../result';
import { defineJob, float64, ofVariant, requestOf } from '../define-job';
import type { JobContext } from '../job-context';
import { benchRecording } from './bench';
import { withFault } from './draw-board';
import { seededBoard } from './hidden-fault';
import { sweepSchema, tonesSchema } from './sweep-schema';

const sweepRequest = requestOf('sweep-board', {
  ...ofVariant,
  sweep: sweepSchema,
  tones: tonesSchema,
  place: z.string().max(120),
  /** Which of the boards: its parts follow from it. */
  board: z.int().min(0).max(2_147_483_647),
  /** Whether something is wrong with it that the sweep is to bring to light. */
  hidden: z.boolean(),
  /** A part that is turned while it is swept: by its designator, and how many times it stands over what it is. */
  turned: z.object({ part: z.string().max(40), share: z.number().positive() }).nullable(),
});
type SweepRequest = z.infer<typeof sweepRequest>;

/** Share of the work that the recording is. */
const RECORDED = 0.7;

/**
 * A board on the workshop's simulated sound card: played, recorded, the card itself divided out. Fails as the design,
 * the sweep, time and analysing do, or with `cancelled`.
 */
async function sweepBoard(
  { design, variantId, sweep, tones, place, board, hidden, turned }: SweepRequest,
  solver: AcSolver,
  context: JobContext,
): Promise<Result<Analysed>> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const played = playedSamples(sweep, tones);
  if (!played.ok) return played;
  let built = seededBoard(design, variantId, { seed: board, hidden, place }, solver);
  if (built.ok && turned) built = withFault(design, variant, built.value, `${turned.part}=x${turned.share}`);
  if (!built.ok) return built;
  const { rateHz } = sweep;
  const within: JobContext = { ...context, progress: (share) => context.progress(RECORDED * share) };
  const run = { played: played.value, rateHz, place };
  const recorded = await benchRecording(
    design,
    variant,
    { ...run, board: built.value, seed: board + 1 },
    within,
    solver,
  );
  if (!recorded.ok) return recorded;
  context.progress(RECORDED);
  await context.pause();
  if (context.signal.aborted) return failure('cancelled', {});
  const cable = await benchRecording(design, variant, { ...run, board: null, seed: -1 - board }, within, solver);
  if (!cable.ok) return cable;
  return read({ samples: recorded.value, rateHz }, { sweep, tones }, { samples: cable.value, rateHz });
}

/** What a recording says of a sweep, or of tones in its place. */
function read(
  recording: Recording,
  { sweep, tones }: { readonly sweep: Sweep; readonly tones: number | null },
  reference?: Recording,
): Result<Analysed> {
  if (tones !== null) return analyseTones(recording, tonesOf(sweep, tones), reference);
  const played = sweepSamples(sweep);
  if (!played.ok) return played;
  return analyse(recording, { samples: played.value, rateHz: sweep.rateHz }, reference ? { reference } : {});
}

export const sweepBoardJob = defineJob(sweepRequest, (request, { solver, context }) =>
  sweepBoard(request, solver, context),
);

const recordingRequest = requestOf('analyse-recording', {
  // What it is a recording of: an answer belongs to it.
  ...ofVariant,
  samples: float64,
  rateHz: z.number().positive(),
  sweep: sweepSchema,
  tones: tonesSchema,
  reference: float64.nullable(),
  /** The recording's second channel: the card's own output, or where the board was connected. */
  second: float64.nullable().optional(),
});

/** What a recording of a sweep says. Fails as the sweep and analysing do. */
export const analyseRecordingJob = defineJob(
  recordingRequest,
  ({ samples, rateHz, sweep, tones, reference, second }): Result<Analysed> => {
    const { board, loopback } = second ? told(samples, second, sweep, tones) : { board: samples, loopback: null };
    const beside = loopback ?? reference;
    return read({ samples: board, rateHz }, { sweep, tones }, beside ? { samples: beside, rateHz } : undefined);
  },
);

/** Two channels told apart, where a sweep was played. */
function told(first: Float64Array, second: Float64Array, sweep: Sweep, tones: number | null): Channels {
  const played = tones === null ? sweepSamples(sweep) : null;
  return played?.ok
    ? channelsOf(first, second, { samples: played.value, rateHz: sweep.rateHz })
    : { board: first, loopback: null };
}
