import { AcSolver } from '../analysis/solver';
import { success, type Result } from '../result';
import { TOPOLOGIES } from '../topology/index';
import { runCompare, type Candidate, type CompareRequest } from './desk/compare';
import {
  runNoise,
  runOperatingPoint,
  runPoles,
  runResponse,
  runTolerance,
  runTransient,
  type NoiseRequest,
  type NoiseResult,
  type OperatingPointRequest,
  type OperatingPointResult,
  type PolesRequest,
  type PolesResult,
  type ResponseRequest,
  type ResponseResult,
  type ToleranceRequest,
  type ToleranceResult,
  type TransientRequest,
  type TransientResult,
} from './deck/deck-analyses';
import { runCrossover, type CrossoverRequest } from './deck/crossover-job';
import { runSynth, type SynthRequest } from './deck/deck-jobs';
import { RUN_THROUGH, type JobContext } from './job-context';
import { runDesk } from './desk/desk';
import type { DeskRequest, DeskResult } from './desk/desk-types';
import { runFourViews, type FourViews, type FourViewsRequest } from './network/four-views';
import { runShaping, type Shaping, type ShapingRequest } from './network/shaping';
import { runTurn, type Turn, type TurnRequest } from './network/turn';
import { runDetail, type DetailRequest, type PartDetail } from './desk/detail';
import { runStripBoard, type StripBoard, type StripBoardRequest } from './build/strip-board';
import {
  runBand,
  runSpread,
  type BandRequest,
  type SpreadBand,
  type SpreadRequest,
  type SpreadResult,
} from './values/spread';
import { runAcoustics } from './loudspeaker/acoustics';
import type { Acoustics, AcousticsRequest } from './loudspeaker/acoustics-types';
import { runNotchOutlook, type NotchOutlook, type NotchRequest } from './loudspeaker/notch-outlook';
import { runOptimise, type Optimised, type OptimiseRequest } from './loudspeaker/optimise';
import {
  runAngles,
  runDecay,
  type Angles,
  type AnglesRequest,
  type Decay,
  type DecayRequest,
} from './loudspeaker/speaker-views';
import { runBend, type Bend, type BendRequest } from './voice/bend';
import { runControlLaw, type ControlLaw, type ControlLawRequest } from './voice/control-law';
import { runGateResponse, type GateRequest, type GateResponse } from './voice/gate-response';
import { runForms, type Forms, type FormsRequest } from './voice/forms';
import { runLoop, type Loop, type LoopRequest } from './voice/loop';
import { runModulation, type Modulation, type ModulationRequest } from './voice/modulation';
import { runRest, type Rest, type RestRequest } from './voice/rest';
import { runSag, type Sag, type SagRequest } from './voice/sag';
import { runListen, type Heard, type ListenRequest } from './sound/listen';
import { runTerminals, type TerminalReading, type TerminalsRequest } from './network/terminals';
import { fitImpedance, type ImpedanceFit } from '../loudspeaker/fit-impedance';
import type { Curve } from '../loudspeaker/driver';
import { runBank, runBankParts, type Bank, type BankPartsRequest, type BankRequest } from './bank/bank';
import type { Variant } from '../design/schema';
import { runNulls, type NullOutlook, type NullsRequest } from './values/nulls';
import { runYield, type GradeYield, type YieldRequest } from './values/yield';
import { runOpAmpSwap, type OpAmpSwapRequest, type OpAmpVerdict } from './desk/op-amp-swap';
import { runRange, type PathRange, type RangeRequest } from './desk/path-noise';
import { runMatch, type Matches, type MatchRequest } from './desk/match';
import { runSnap, type SnapRequest } from './values/snap';
import type { WaySnaps } from '../design/snap-way';
import { runThumbnail, type ThumbnailRequest } from './desk/thumbnail';
import { runTime, type TimeRequest, type TimeResult } from './desk/time';

export interface TopologiesRequest {
  readonly kind: 'topologies';
}

/** Fits a driver’s impedance as a circuit to what was measured. */
export interface FitImpedanceRequest {
  readonly kind: 'fit-impedance';
  readonly curve: Curve;
}

export type JobRequest =
  | AcousticsRequest
  | AnglesRequest
  | DecayRequest
  | OptimiseRequest
  | NotchRequest
  | ControlLawRequest
  | BendRequest
  | FormsRequest
  | LoopRequest
  | ModulationRequest
  | SagRequest
  | RestRequest
  | StripBoardRequest
  | GateRequest
  | ListenRequest
  | TerminalsRequest
  | FitImpedanceRequest
  | DeskRequest
  | DetailRequest
  | CompareRequest
  | TimeRequest
  | FourViewsRequest
  | TurnRequest
  | ShapingRequest
  | SnapRequest
  | MatchRequest
  | NullsRequest
  | YieldRequest
  | OpAmpSwapRequest
  | RangeRequest
  | BankRequest
  | BankPartsRequest
  | SpreadRequest
  | BandRequest
  | ThumbnailRequest
  | ResponseRequest
  | OperatingPointRequest
  | TransientRequest
  | NoiseRequest
  | PolesRequest
  | ToleranceRequest
  | SynthRequest
  | CrossoverRequest
  | TopologiesRequest;

/** What each kind of request is answered with. */
export interface JobAnswers {
  readonly acoustics: Acoustics;
  readonly angles: Angles;
  readonly decay: Decay;
  readonly optimise: Optimised;
  readonly 'notch-outlook': NotchOutlook;
  readonly 'fit-impedance': ImpedanceFit;
  readonly terminals: readonly TerminalReading[];
  readonly 'control-law': ControlLaw;
  readonly bend: Bend;
  readonly forms: Forms;
  readonly loop: Loop;
  readonly modulation: Modulation;
  readonly sag: Sag;
  readonly rest: Rest | null;
  readonly 'strip-board': StripBoard;
  readonly 'gate-response': GateResponse | null;
  readonly listen: Heard;
  readonly desk: DeskResult;
  readonly detail: readonly PartDetail[];
  readonly compare: readonly Candidate[];
  readonly time: TimeResult;
  readonly 'four-views': FourViews;
  readonly turn: Turn;
  readonly shaping: Shaping;
  readonly snap: WaySnaps;
  readonly match: Matches;
  readonly 'op-amp-swap': readonly OpAmpVerdict[];
  readonly range: PathRange;
  readonly nulls: readonly NullOutlook[];
  readonly yield: readonly GradeYield[];
  readonly bank: Bank;
  readonly 'bank-parts': Variant;
  readonly spread: SpreadResult;
  readonly band: SpreadBand;
  readonly thumbnail: { readonly freqHz: Float64Array; readonly levelDb: Float64Array };
  readonly response: ResponseResult;
  readonly 'operating-point': OperatingPointResult;
  readonly transient: TransientResult;
  readonly noise: NoiseResult;
  readonly poles: PolesResult;
  readonly tolerance: ToleranceResult;
  readonly synth: { readonly deck: string };
  readonly crossover: { readonly deck: string };
  readonly topologies: readonly {
    readonly id: string;
    readonly name: string;
    readonly family: string;
    readonly responses: readonly string[];
    readonly orders: readonly number[];
    readonly modes?: readonly string[];
  }[];
}

/**
 * The only door for workers, server and shell. A runner keeps the elimination plans it has made, so keep one for as
 * long as there is work.
 */
export class JobRunner {
  readonly solver = new AcSolver();

  async run<K extends JobRequest['kind']>(
    request: Extract<JobRequest, { kind: K }>,
    context: JobContext = RUN_THROUGH,
  ): Promise<Result<JobAnswers[K]>> {
    return (await this.dispatch(request, context)) as Result<JobAnswers[K]>;
  }

  private async dispatch(request: JobRequest, context: JobContext): Promise<Result<JobAnswers[JobRequest['kind']]>> {
    switch (request.kind) {
      case 'acoustics':
        return runAcoustics(request, this.solver);
      case 'angles':
        return runAngles(request, this.solver);
      case 'decay':
        return runDecay(request, this.solver);
      case 'optimise':
        return runOptimise(request, this.solver, context);
      case 'notch-outlook':
        return runNotchOutlook(request, this.solver);
      case 'control-law':
        return runControlLaw(request, this.solver);
      case 'bend':
        return runBend(request, this.solver, context);
      case 'forms':
        return runForms(request, this.solver);
      case 'loop':
        return runLoop(request, this.solver);
      case 'modulation':
        return runModulation(request, this.solver, context);
      case 'strip-board':
        return runStripBoard(request);
      case 'rest':
        return runRest(request);
      case 'sag':
        return runSag(request, this.solver);
      case 'gate-response':
        return runGateResponse(request);
      case 'listen':
        return runListen(request, context, context.now ?? (() => 0));
      case 'terminals':
        return runTerminals(request, this.solver);
      case 'fit-impedance':
        return fitImpedance(request.curve);
      case 'desk':
        return runDesk(request, this.solver);
      case 'detail':
        return runDetail(request, this.solver);
      case 'compare':
        return runCompare(request, this.solver);
      case 'time':
        return runTime(request);
      case 'four-views':
        return runFourViews(request, this.solver);
      case 'turn':
        return runTurn(request, this.solver);
      case 'shaping':
        return runShaping(request);
      case 'op-amp-swap':
        return runOpAmpSwap(request, this.solver);
      case 'nulls':
        return runNulls(request, this.solver, context);
      case 'yield':
        return runYield(request, this.solver, context);
      case 'range':
        return runRange(request, this.solver);
      case 'bank':
        return runBank(request, this.solver);
      case 'bank-parts':
        return runBankParts(request);
      case 'match':
        return runMatch(request, this.solver);
      case 'snap':
        return runSnap(request, this.solver);
      case 'spread':
        return runSpread(request, this.solver, context);
      case 'band':
        return runBand(request, this.solver);
      case 'thumbnail':
        return runThumbnail(request, this.solver);
      case 'response':
        return runResponse(request, this.solver);
      case 'operating-point':
        return runOperatingPoint(request);
      case 'transient':
        return runTransient(request);
      case 'noise':
        return runNoise(request);
      case 'poles':
        return runPoles(request);
      case 'tolerance':
        return runTolerance(request, this.solver);
      case 'synth':
        return runSynth(request);
      case 'crossover':
        return runCrossover(request);
      case 'topologies':
        return success(
          TOPOLOGIES.map((t) => ({
            id: t.id,
            name: t.name,
            family: t.family,
            ...(t.role === 'section'
              ? { responses: t.responses, orders: [t.order] }
              : { responses: [], orders: [], modes: t.modes }),
          })),
        );
    }
  }
}
