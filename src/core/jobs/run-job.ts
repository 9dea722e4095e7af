import { AcSolver } from '../analysis/ac/solver';
import { failure, type Result } from '../result';
import type { Job } from './define-job';
import { RUN_THROUGH, type JobContext } from './job-context';
import { bankJob, bankPartsJob } from './bank/bank';
import { reportJob } from './build/report';
import { stripBoardJob } from './build/strip-board';
import { crossoverJob } from './deck/crossover-job';
import { responseJob, operatingPointJob, transientJob, noiseJob, polesJob, toleranceJob } from './deck/deck-analyses';
import { synthJob } from './deck/deck-jobs';
import { topologiesJob } from './deck/topologies';
import { compareJob } from './desk/compare';
import { deskJob } from './desk/desk';
import { detailJob } from './desk/detail';
import { matchJob } from './desk/match';
import { opAmpSwapJob } from './desk/op-amp-swap';
import { rangeJob } from './desk/path-noise';
import { trimJob } from './build/trim-steps';
import { sheetJob } from './build/sheet';
import { shelfCardJob } from './desk/shelf-card';
import { timeJob } from './desk/time';
import { coilEffectsJob } from './loudspeaker/coil-effects';
import { compareSpeakersJob } from './loudspeaker/compare-speakers';
import { acousticsJob } from './loudspeaker/acoustics';
import { analyseDriverJob, driverBenchJob } from './loudspeaker/driver-bench';
import { findDistanceJob } from './loudspeaker/find-distance';
import { fitImpedanceJob } from './loudspeaker/fit-impedance';
import { levelTrimsJob } from './loudspeaker/level-trims';
import { notchJob } from './loudspeaker/notch-outlook';
import { optimiseJob } from './loudspeaker/optimise';
import { anglesJob, decayJob, measuredDecayJob } from './loudspeaker/speaker-views';
import { analyseCaptureJob } from './measure/analyse-capture';
import { firstPowerJob, meterBoardJob } from './measure/first-power';
import { measurePlanJob } from './measure/measure-plan';
import { predictedJob } from './measure/predicted';
import { revealFaultJob } from './measure/hidden-fault';
import { rankFaultsJob } from './measure/rank-faults';
import { analyseRecordingJob, sweepBoardJob } from './measure/sweep-board';
import { fourViewsJob } from './network/four-views';
import { shapingJob } from './network/shaping';
import { terminalsJob } from './network/terminals';
import { turnJob } from './network/turn';
import { walkJob } from './network/walk';
import { listenJob } from './sound/listen';
import { nullsJob } from './values/nulls';
import { snapJob } from './values/snap';
import { heldByJob, partMovesJob } from './values/part-moves';
import { spreadJob, bandJob } from './values/spread';
import { yieldJob } from './values/yield';
import { bendJob } from './voice/bend';
import { controlLawJob } from './voice/control-law';
import { formsJob } from './voice/forms';
import { gateJob } from './voice/gate-response';
import { loopJob } from './voice/loop';
import { modulationJob } from './voice/modulation';
import { restJob } from './voice/rest';
import { sagJob } from './voice/sag';
import { songJob } from './voice/song';
import { voltsPerOctaveJob } from './voice/volts-per-octave';

/** Everything that can be asked of the core. */
const JOBS = [
  // bank
  bankJob,
  bankPartsJob,

  // build
  reportJob,
  sheetJob,
  stripBoardJob,
  trimJob,

  // deck
  crossoverJob,
  responseJob,
  operatingPointJob,
  transientJob,
  noiseJob,
  polesJob,
  toleranceJob,
  synthJob,
  topologiesJob,

  // desk
  compareJob,
  deskJob,
  detailJob,
  matchJob,
  opAmpSwapJob,
  rangeJob,
  shelfCardJob,
  timeJob,

  // loudspeaker
  acousticsJob,
  coilEffectsJob,
  compareSpeakersJob,
  analyseDriverJob,
  driverBenchJob,
  findDistanceJob,
  fitImpedanceJob,
  levelTrimsJob,
  notchJob,
  optimiseJob,
  anglesJob,
  decayJob,
  measuredDecayJob,

  // measure
  analyseRecordingJob,
  analyseCaptureJob,
  firstPowerJob,
  meterBoardJob,
  measurePlanJob,
  predictedJob,
  rankFaultsJob,
  revealFaultJob,
  sweepBoardJob,

  // network
  fourViewsJob,
  shapingJob,
  terminalsJob,
  turnJob,
  walkJob,

  // sound
  listenJob,

  // values
  heldByJob,
  nullsJob,
  partMovesJob,
  snapJob,
  spreadJob,
  bandJob,
  yieldJob,

  // voice
  bendJob,
  controlLawJob,
  formsJob,
  gateJob,
  loopJob,
  modulationJob,
  restJob,
  sagJob,
  songJob,
  voltsPerOctaveJob,
] as const;

type AnyJob = (typeof JOBS)[number];
type AskedOf<J> = J extends Job<infer Asked, unknown> ? Asked : never;
type AnswerOf<J> = J extends { readonly run: (...given: never[]) => infer Told }
  ? Awaited<Told> extends Result<infer Answer>
    ? Answer
    : never
  : never;

export type JobRequest = AskedOf<AnyJob>;

/** What each kind of request is answered with. */
export type JobAnswers = { readonly [J in AnyJob as J['kind']]: AnswerOf<J> };

const JOB_OF = new Map<string, AnyJob>(JOBS.map((job) => [job.kind, job]));
if (JOB_OF.size !== JOBS.length) throw new Error('Two jobs are of one kind.');

/**
 * The only door for workers, server and shell. A runner keeps the elimination plans it has made, so keep one for as
 * long as there is work. Fails as the job does, or with `bad-request` (`kind`, `at`, `reason`) for what is no request.
 */
export class JobRunner {
  readonly solver = new AcSolver();

  async run<K extends JobRequest['kind']>(
    request: Extract<JobRequest, { kind: K }>,
    context: JobContext = RUN_THROUGH,
  ): Promise<Result<JobAnswers[K]>> {
    const job = JOB_OF.get(request.kind);
    if (!job) return failure('bad-request', { kind: String(request.kind), at: 'kind', reason: 'no such job' });
    const read = job.request.safeParse(request);
    if (!read.success) {
      const [issue] = read.error.issues;
      return failure('bad-request', { kind: request.kind, at: issue.path.join('.'), reason: issue.message });
    }
    return (await job.run(read.data as never, { solver: this.solver, context })) as Result<JobAnswers[K]>;
  }
}
