import { withoutRecord } from '@/core/design/without-record';
import { create } from 'zustand';
import type { Design, Stage, Variant, Way } from '@/core/design/schema';
import type { Candidate } from '@/core/jobs/desk/compare';
import type { Grid } from '@/core/jobs/define-job';
import type { DeskExtras, DeskResult } from '@/core/jobs/desk/desk-types';
import type { Matches } from '@/core/jobs/desk/match';
import type { PartDetail } from '@/core/jobs/desk/detail';
import type { FourViews } from '@/core/jobs/network/four-views';
import type { Shaping } from '@/core/jobs/network/shaping';
import type { WaySnaps } from '@/core/design/snap-way';
import type { Turn } from '@/core/jobs/network/turn';
import type { SpreadBand, SpreadResult } from '@/core/jobs/values/spread';
import type { TimeResult } from '@/core/jobs/desk/time';
import { failure, type Failure, type Result } from '@/core/result';
import { onlyCurrentWays } from '@/core/design/current-way';
import type { Acoustics } from '@/core/jobs/loudspeaker/acoustics-types';
import type { NotchOutlook, NotchRequest } from '@/core/jobs/loudspeaker/notch-outlook';
import type { Optimised, OptimiseRequest } from '@/core/jobs/loudspeaker/optimise';
import type { Angles, Decay } from '@/core/jobs/loudspeaker/speaker-views';
import type { OpAmpVerdict } from '@/core/jobs/desk/op-amp-swap';
import type { NullOutlook } from '@/core/jobs/values/nulls';
import type { GradeYield } from '@/core/jobs/values/yield';
import type { PathRange } from '@/core/jobs/desk/path-noise';
import type { Bank } from '@/core/jobs/bank/bank';
import { formOf, specsOf } from '@/core/design/stage-design';
import { parametersOf } from '@/core/topology/kit/define-topology';
import { stageTopology } from '@/core/design/stage-topology';
import { startJob, type RunningJob } from '@/workers/job-client';
import { LatestJob } from '@/workers/latest-job';
import { documentStore } from './document';
import { currentVariantOf, currentWayOf } from './edits';
import { READ_MS } from './use-design-to-read';
import { viewStore } from './view';

interface ResultsState {
  readonly desk: DeskResult | null;
  /**
   * The same for what is read rather than watched (cards, joints, checks): while something is dragged it follows a few
   * times less often, so that the curves keep the frame.
   */
  readonly deskToRead: DeskResult | null;
  /** Why there is no result for the design as it stands; the last good one stays in `desk`. */
  readonly deskFailure: Failure | null;
  readonly detail: { readonly stageId: string; readonly parts: readonly PartDetail[] } | null;
  readonly time: TimeResult | null;
  readonly fourViews: FourViews | null;
  /** The whole rotation of the control in hand. */
  readonly turn: Turn | null;
  readonly shaping: Shaping | null;
  /** Parts chosen together, and what they were chosen for. */
  readonly snaps: { readonly result: WaySnaps; readonly forDesign: Design; readonly stageId: string | null } | null;
  readonly snapping: boolean;
  /** All bands, of a variant that has more than one way. */
  readonly bank: Bank | null;
  /** Of a crossover: everything that is heard and driven; the sum from all sides; what rings on. */
  readonly acoustics: Acoustics | null;
  readonly angles: Angles | null;
  readonly decay: Decay | null;
  readonly fitted: { readonly result: Optimised; readonly forDesign: Design } | null;
  readonly fitProgress: number | null;
  readonly notch: { readonly result: NotchOutlook; readonly forDesign: Design; readonly wayId: string } | null;
  readonly opAmps: readonly OpAmpVerdict[] | null;
  readonly range: PathRange | null;
  readonly nulls: readonly NullOutlook[] | null;
  readonly grades: readonly GradeYield[] | null;
  readonly outlookRunning: boolean;
  /** What would meet the brief, while it is being chosen from. */
  readonly matches: Matches | null;
  readonly candidates: readonly Candidate[] | null;
  readonly spread: { readonly result: SpreadResult; readonly forDesign: Design; readonly seed: number } | null;
  readonly spreadProgress: number | null;
  /** Once parts have been drawn: the band of a few draws of the design as it stands, live. */
  readonly band: { readonly band: SpreadBand; readonly forDesign: Design } | null;
}

const NONE: ResultsState = {
  desk: null,
  deskToRead: null,
  deskFailure: null,
  detail: null,
  time: null,
  fourViews: null,
  turn: null,
  shaping: null,
  snaps: null,
  snapping: false,
  acoustics: null,
  angles: null,
  decay: null,
  fitted: null,
  fitProgress: null,
  notch: null,
  opAmps: null,
  range: null,
  nulls: null,
  grades: null,
  outlookRunning: false,
  bank: null,
  matches: null,
  candidates: null,
  spread: null,
  spreadProgress: null,
  band: null,
};
export const resultsStore = create<ResultsState>()(() => NONE);
export const useResults = resultsStore;

const GRID_POINTS = 401;
/** While something is dragged: enough for the eye, half the work for worker and screen. */
const DRAG_POINTS = 151;
/** The live spread band: draws and points that show where the curves lie without holding up the hand. */
const BAND_RUNS = 60;
const BAND_POINTS = 101;
const TURN_POINTS = 201;
/** Second thoughts (sensitivities, comparison) wait until the hand rests. */
const REST_MS = 180;

const NICE = [1, 2, 5];
function nice(value: number, up: boolean): number {
  const decade = 10 ** Math.floor(Math.log10(value));
  const steps = [...NICE.map((n) => n * decade), 10 * decade];
  return up
    ? (steps.find((s) => s >= value * 0.999) ?? value)
    : ([...steps].reverse().find((s) => s <= value * 1.001) ?? value);
}

/** Frequencies that a stage of its own is about. */
function ownFrequencies(stage: Stage, way: Way): number[] {
  const { target, mode } = stage;
  if (target.kind === 'own') return target.order > 0 ? [target.freqHz] : [];
  const topology = stageTopology(stage, way);
  if (target.kind !== 'network' || topology.role !== 'network') return [];
  return parametersOf(topology, mode)
    .filter((p) => p.kind === 'frequency')
    .map((p) => target.parameters[p.name]);
}

/** The frequency range of the curves: the audio band, or as far as the design's corners call for. */
export function gridFor(design: Design): Grid {
  // What is heard lies in the audio band, whatever the corners.
  if (design.family === 'loudspeaker') return { fromHz: 20, toHz: 20e3, points: GRID_POINTS };
  const freqs = design.variants.flatMap((v) =>
    v.ways.flatMap((w) => [...w.plans.map((p) => p.cutoffHz), ...w.stages.flatMap((s) => ownFrequencies(s, w))]),
  );
  const [low, high] = freqs.length > 0 ? [Math.min(...freqs), Math.max(...freqs)] : [1000, 1000];
  return {
    fromHz: nice(Math.max(0.01, Math.min(20, low / 12)), false),
    toHz: nice(Math.min(1e8, Math.max(20e3, high * 12)), true),
    points: GRID_POINTS,
  };
}

let lastRead = 0;

function readable(): boolean {
  const now = performance.now();
  if (viewStore.getState().dragging && now - lastRead < READ_MS) return false;
  lastRead = now;
  return true;
}

let frozenGrid: Grid | null = null;

/** The grid in use: held still while something on the curve is being dragged. */
function gridNow(design: Design): Grid {
  const { dragging } = viewStore.getState();
  if (!dragging || !frozenGrid) frozenGrid = gridFor(design);
  return dragging ? { ...frozenGrid, points: DRAG_POINTS } : frozenGrid;
}

/** Watches the document and the view and keeps the results true to them. Returns the way to stop. */
export function startLiveResults(): () => void {
  resultsStore.setState(NONE);
  const desk = new LatestJob<'desk'>(
    (request) => startJob<'desk'>(request),
    (answer) => {
      if (answer.ok)
        resultsStore.setState({
          desk: answer.value,
          deskFailure: null,
          ...(readable() ? { deskToRead: answer.value } : {}),
        });
      else resultsStore.setState({ deskFailure: answer });
    },
  );
  const time = new LatestJob<'time'>(
    (request) => startJob<'time'>(request),
    (answer) => answer.ok && resultsStore.setState({ time: answer.value }),
  );
  const detail = new LatestJob<'detail'>(
    (request) => startJob<'detail'>(request),
    (answer, request) =>
      answer.ok && resultsStore.setState({ detail: { stageId: request.stageId, parts: answer.value } }),
  );
  const compare = new LatestJob<'compare'>(
    (request) => startJob<'compare'>(request),
    (answer) => answer.ok && resultsStore.setState({ candidates: answer.value }),
  );
  const band = new LatestJob<'band'>(
    (request) => startJob<'band'>(request),
    (answer, request) =>
      answer.ok && resultsStore.setState({ band: { band: answer.value, forDesign: request.design } }),
  );
  const fourViews = new LatestJob<'four-views'>(
    (request) => startJob<'four-views'>(request),
    (answer) => answer.ok && resultsStore.setState({ fourViews: answer.value }),
  );
  const turn = new LatestJob<'turn'>(
    (request) => startJob<'turn'>(request),
    (answer) => answer.ok && resultsStore.setState({ turn: answer.value }),
  );
  const shaping = new LatestJob<'shaping'>(
    (request) => startJob<'shaping'>(request),
    (answer) => answer.ok && resultsStore.setState({ shaping: answer.value }),
  );
  const bank = new LatestJob<'bank'>(
    (request) => startJob<'bank'>(request),
    (answer) => answer.ok && resultsStore.setState({ bank: answer.value }),
  );
  const swap = new LatestJob<'op-amp-swap'>(
    (request) => startJob<'op-amp-swap'>(request),
    (answer) => answer.ok && resultsStore.setState({ opAmps: answer.value }),
  );
  const range = new LatestJob<'range'>(
    (request) => startJob<'range'>(request),
    (answer) => answer.ok && resultsStore.setState({ range: answer.value }),
  );
  const acoustics = new LatestJob<'acoustics'>(
    (request) => startJob<'acoustics'>(request),
    (answer) => answer.ok && resultsStore.setState({ acoustics: answer.value }),
  );
  const angles = new LatestJob<'angles'>(
    (request) => startJob<'angles'>(request),
    (answer) => answer.ok && resultsStore.setState({ angles: answer.value }),
  );
  const decay = new LatestJob<'decay'>(
    (request) => startJob<'decay'>(request),
    (answer) => answer.ok && resultsStore.setState({ decay: answer.value }),
  );
  let rest: ReturnType<typeof setTimeout> | undefined;

  const refresh = () => {
    const { design } = documentStore.getState();
    if (!design) return;
    const view = viewStore.getState();
    const variant = currentVariantOf(design);
    const common = { design: lean(design), variantId: variant.id, ghostVariantId: view.ghostVariant };
    desk.ask({ kind: 'desk', ...common, grid: gridNow(design), extras: extrasOf(design, view) });
    const { spread } = resultsStore.getState();
    if (spread && view.shown.spread && spread.forDesign.id === design.id) {
      band.ask({
        kind: 'band',
        design: common.design,
        variantId: variant.id,
        seed: spread.seed,
        runs: BAND_RUNS,
        grid: { ...gridNow(design), points: BAND_POINTS },
      });
    }
    if (view.curveView === 'step') time.ask({ kind: 'time', ...common, wave: { kind: 'step' } });
    const waveHz = view.waveHz ?? defaultWaveHz(design);
    if (view.curveView === 'wave')
      time.ask({ kind: 'time', ...common, wave: { kind: 'periodic', wave: view.wave, freqHz: waveHz } });
    const stage = selectedStageOf(design, view.selectedStage);
    if (stage && view.curveView === 'four')
      fourViews.ask({
        kind: 'four-views',
        ...common,
        ghostVariantId: view.ghostVariant === variant.id ? null : view.ghostVariant,
        stageId: stage.id,
        wave: view.wave,
        freqHz: waveHz,
        discharge: dischargeOf(currentWayOf(design), stage, view.dischargeOhm),
      });
    const heard = variant.join === 'acoustic';
    if (heard) {
      const both = { design: withoutRecord(design), variantId: variant.id };
      const ghostVariantId = view.ghostVariant === variant.id ? null : view.ghostVariant;
      acoustics.ask({
        kind: 'acoustics',
        ...both,
        ghostVariantId,
        grid: { ...gridNow(design), points: view.dragging ? DRAG_POINTS : GRID_POINTS },
      });
      if (view.curveView === 'angles')
        angles.ask({
          kind: 'angles',
          ...both,
          grid: { ...gridFor(design), points: TURN_POINTS },
          lobeHz: resultsStore.getState().acoustics?.crossings[0]?.freqHz ?? 2000,
        });
      if (view.curveView === 'decay') decay.ask({ kind: 'decay', ...both, ghostVariantId });
    } else if (resultsStore.getState().acoustics) resultsStore.setState({ acoustics: null });
    if (variant.ways.length > 1 && !heard)
      bank.ask({
        kind: 'bank',
        design: withoutRecord(design),
        variantId: variant.id,
        grid: { ...gridFor(design), points: TURN_POINTS },
      });
    else if (resultsStore.getState().bank) resultsStore.setState({ bank: null });
    clearTimeout(rest);
    rest = setTimeout(() => {
      if (stage) detail.ask({ kind: 'detail', ...common, stageId: stage.id });
      if (stage?.topology.startsWith('shaped-amplifier'))
        shaping.ask({ kind: 'shaping', ...common, stageId: stage.id, goal: view.shapingGoal });
      const control = turnedControlOf(design, view.turnedControl);
      if (control)
        turn.ask({ kind: 'turn', ...common, controlId: control.id, grid: { ...gridFor(design), points: TURN_POINTS } });
      else if (resultsStore.getState().turn) resultsStore.setState({ turn: null });
      if (view.task !== 'circuit') return;
      compare.ask({ kind: 'compare', ...common });
      swap.ask({ kind: 'op-amp-swap', ...common });
      range.ask({ kind: 'range', ...common });
    }, REST_MS);
  };
  const stopDocument = documentStore.subscribe(refresh);
  const stopView = viewStore.subscribe((now, before) => {
    if (
      now.ghostVariant !== before.ghostVariant ||
      now.curveView !== before.curveView ||
      now.waveHz !== before.waveHz ||
      now.wave !== before.wave ||
      now.dischargeOhm !== before.dischargeOhm ||
      now.turnedControl !== before.turnedControl ||
      now.shapingGoal !== before.shapingGoal ||
      now.shown !== before.shown ||
      now.selectedStage !== before.selectedStage ||
      now.task !== before.task ||
      now.dragging !== before.dragging
    )
      refresh();
  });
  refresh();
  return () => {
    clearTimeout(rest);
    stopDocument();
    stopView();
    desk.clear();
    band.clear();
    turn.clear();
    bank.clear();
    acoustics.clear();
    angles.clear();
    decay.clear();
  };
}

/**
 * Workers need the circuits, not the record; and of a bank or a crossover only what is being worked on, unless all of
 * it is wanted.
 */
const lean = (design: Design): Design => onlyCurrentWays(withoutRecord(design));

/** The wave's frequency until one is chosen: two octaves under the highest corner of the path. */
export const defaultWaveHz = (design: Design): number => {
  const [way] = currentVariantOf(design).ways;
  const corners = [...way.plans.map((p) => p.cutoffHz), ...way.stages.flatMap((s) => ownFrequencies(s, way))];
  return Number(((corners.length > 0 ? Math.max(...corners) : 1000) / 4).toPrecision(2));
};

const selectedStageOf = (design: Design, selected: string | null): Stage | undefined => {
  const { stages } = currentWayOf(design);
  return stages.find((s) => s.id === selected) ?? stages[0];
};

/** The control whose rotation is shown: the one in hand, or the first there is. */
export const turnedControlOf = (design: Design, turned: string | null) => {
  const { controls } = currentVariantOf(design);
  return controls.find((c) => c.id === turned) ?? controls[0];
};

/** What discharges a stage: its first resistor, of the size it has while the switch is off. */
function dischargeOf(way: Way, stage: Stage, ohm: number | null): { part: string; ohm: number } | null {
  const resistor = specsOf(stageTopology(stage, way), formOf(way, stage)).find(
    (p) => p.kind === 'resistor' && !stage.parts[p.name]?.leftOut,
  );
  return resistor && ohm !== null ? { part: resistor.name, ohm } : null;
}

/** Curves that only some views and traces want. */
function extrasOf(
  design: Design,
  { shown, curveView, selectedStage }: ReturnType<typeof viewStore.getState>,
): DeskExtras {
  const bare = shown.bare || curveView === 'difference' || design.brief.nuisances.length > 0;
  return {
    bareStage: bare ? (selectedStageOf(design, selectedStage)?.id ?? null) : null,
    straight: shown.straight,
    isolated: shown.isolated,
    tapStage: shown.taps ? (selectedStageOf(design, selectedStage)?.id ?? null) : null,
  };
}

/** Whether a spread was drawn for circuits, tolerances or surroundings other than those on the desk. */
export const spreadIsStale = (drawnFor: Design, now: Design): boolean =>
  drawnFor.variants !== now.variants ||
  drawnFor.preferences !== now.preferences ||
  drawnFor.brief !== now.brief ||
  drawnFor.currentVariant !== now.currentVariant;

let runningSpread: RunningJob<SpreadResult> | null = null;

/** Runs the Monte Carlo on the design as it stands. Resolves when done, cancelled or failed. */
export async function runSpread(seed: number, runs: number): Promise<Failure | null> {
  const { design } = documentStore.getState();
  if (!design) return null;
  cancelSpread();
  resultsStore.setState({ spreadProgress: 0 });
  const grid = { ...gridFor(design), points: 201 };
  const job = startJob<'spread'>(
    { kind: 'spread', design: lean(design), variantId: currentVariantOf(design).id, seed, runs, grid },
    (share) => resultsStore.setState({ spreadProgress: share }),
  );
  runningSpread = job;
  const answer = await job.answer;
  if (runningSpread === job) {
    runningSpread = null;
    resultsStore.setState({ spreadProgress: null });
  }
  if (!answer.ok) return answer.code === 'cancelled' ? null : answer;
  resultsStore.setState({ spread: { result: answer.value, forDesign: design, seed }, band: null });
  return null;
}

/** Looks for what would meet the brief. Resolves when done or failed. */
export async function findMatches(): Promise<Failure | null> {
  const { design } = documentStore.getState();
  if (!design) return null;
  const answer = await startJob<'match'>({
    kind: 'match',
    design: lean(design),
    variantId: currentVariantOf(design).id,
    grid: { ...gridFor(design), points: TURN_POINTS },
  }).answer;
  resultsStore.setState({ matches: answer.ok ? answer.value : null });
  return answer.ok ? null : answer;
}
export const forgetMatches = (): void => resultsStore.setState({ matches: null });

/** Chooses all parts of a bank, or levels it; gives the ways with them. */
export async function bankParts(act: 'snap' | 'level'): Promise<Result<Variant>> {
  const { design } = documentStore.getState();
  if (!design) return failure('no-such-variant', { variant: '' });
  return startJob<'bank-parts'>({
    kind: 'bank-parts',
    design: withoutRecord(design),
    variantId: currentVariantOf(design).id,
    act,
  }).answer;
}

let runningOutlook: readonly RunningJob<unknown>[] = [];
const OUTLOOK_RUNS = 200;

/**
 * How deep the nulls will be, and how many builds of every grade meet the brief. Resolves when done, cancelled or
 * failed.
 */
export async function runOutlook(): Promise<Failure | null> {
  const { design } = documentStore.getState();
  if (!design) return null;
  cancelOutlook();
  resultsStore.setState({ outlookRunning: true });
  const common = { design: lean(design), variantId: currentVariantOf(design).id, runs: OUTLOOK_RUNS, seed: 1 };
  const nulls = startJob<'nulls'>({ kind: 'nulls', ...common });
  const grades = startJob<'yield'>({ kind: 'yield', ...common, grid: { ...gridFor(design), points: BAND_POINTS } });
  const mine = [nulls, grades];
  runningOutlook = mine;
  const [deep, graded] = await Promise.all([nulls.answer, grades.answer]);
  if (runningOutlook !== mine) return null;
  runningOutlook = [];
  resultsStore.setState({
    outlookRunning: false,
    nulls: deep.ok ? deep.value : null,
    grades: graded.ok ? graded.value : null,
  });
  return [deep, graded].find((answer): answer is Failure => !answer.ok && answer.code !== 'cancelled') ?? null;
}

export function cancelOutlook(): void {
  for (const job of runningOutlook) job.cancel();
  runningOutlook = [];
  resultsStore.setState({ outlookRunning: false });
}

let runningFit: RunningJob<Optimised> | null = null;

/** Fits parts of a crossover to the sound. Resolves when done, cancelled or failed. */
export async function runFit(
  parts: OptimiseRequest['parts'],
  weights: OptimiseRequest['weights'],
): Promise<Failure | null> {
  const { design } = documentStore.getState();
  if (!design) return null;
  cancelFit();
  resultsStore.setState({ fitProgress: 0 });
  const job = startJob<'optimise'>(
    { kind: 'optimise', design: withoutRecord(design), variantId: currentVariantOf(design).id, parts, weights },
    (share) => resultsStore.setState({ fitProgress: share }),
  );
  runningFit = job;
  const answer = await job.answer;
  if (runningFit === job) {
    runningFit = null;
    resultsStore.setState({ fitProgress: null });
  }
  if (!answer.ok) return answer.code === 'cancelled' ? null : answer;
  resultsStore.setState({ fitted: { result: answer.value, forDesign: design } });
  return null;
}

export function cancelFit(): void {
  runningFit?.cancel();
  runningFit = null;
  resultsStore.setState({ fitProgress: null });
}

/** Looks at a hump of a way and what either notch would make of it. */
export async function lookAtHump(wayId: string, hump?: NotchRequest['hump']): Promise<Failure | null> {
  const { design } = documentStore.getState();
  if (!design) return null;
  const answer = await startJob<'notch-outlook'>({
    kind: 'notch-outlook',
    design: withoutRecord(design),
    variantId: currentVariantOf(design).id,
    wayId,
    ...(hump ? { hump } : {}),
    grid: { ...gridFor(design), points: GRID_POINTS },
  }).answer;
  if (!answer.ok) {
    resultsStore.setState({ notch: null });
    return answer;
  }
  resultsStore.setState({ notch: { result: answer.value, forDesign: design, wayId } });
  return null;
}
export const forgetHump = (): void => resultsStore.setState({ notch: null });

let runningSnap: RunningJob<WaySnaps> | null = null;

/** Chooses parts together, of one stage or of the whole path. Resolves when done, cancelled or failed. */
export async function runSnap(
  stageId: string | null,
  mostPairs: number,
  capacitors?: readonly number[],
): Promise<Failure | null> {
  const { design } = documentStore.getState();
  if (!design) return null;
  cancelSnap();
  resultsStore.setState({ snapping: true });
  const job = startJob<'snap'>({
    kind: 'snap',
    design: lean(design),
    variantId: currentVariantOf(design).id,
    stageId,
    mostPairs,
    ...(capacitors ? { capacitors } : {}),
  });
  runningSnap = job;
  const answer = await job.answer;
  if (runningSnap === job) {
    runningSnap = null;
    resultsStore.setState({ snapping: false });
  }
  if (!answer.ok) return answer.code === 'cancelled' ? null : answer;
  resultsStore.setState({ snaps: { result: answer.value, forDesign: design, stageId } });
  return null;
}

export function cancelSnap(): void {
  runningSnap?.cancel();
  runningSnap = null;
  resultsStore.setState({ snapping: false });
}

export function cancelSpread(): void {
  runningSpread?.cancel();
  runningSpread = null;
  resultsStore.setState({ spreadProgress: null });
}
