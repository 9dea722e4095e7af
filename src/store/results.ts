import { withoutRecord } from '@/core/design/without-record';
import { create } from 'zustand';
import type { Design, Stage, Variant, Way } from '@/core/design/schema';
import type { Candidate } from '@/core/jobs/desk/compare';
import type { Grid } from '@/core/jobs/define-job';
import type { JobAnswers, JobRequest } from '@/core/jobs/run-job';
import type { DeskExtras, DeskResult } from '@/core/jobs/desk/desk-types';
import type { Matches } from '@/core/jobs/desk/match';
import type { PartDetail } from '@/core/jobs/desk/detail';
import type { FourViews } from '@/core/jobs/network/four-views';
import type { Shaping } from '@/core/jobs/network/shaping';
import type { WaySnaps } from '@/core/design/snap-way';
import type { Turn } from '@/core/jobs/network/turn';
import type { SpreadBand, SpreadResult } from '@/core/jobs/values/spread';
import type { TimeResult } from '@/core/jobs/desk/time';
import type { Failure, Result } from '@/core/result';
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
  /** Why a question about the variant on the desk has no answer, by its kind; the last answer may still be shown. */
  readonly failures: Readonly<Partial<Record<JobRequest['kind'], Failure>>>;
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
  failures: {},
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

/** Requests that ask something of a variant. */
type AboutVariant = Extract<JobRequest, { variantId: string }>;

/** Whether a request was made of the design and variant that are on the desk. */
const onDesk = ({ design, variantId }: Pick<AboutVariant, 'design' | 'variantId'>): boolean => {
  const now = documentStore.getState().design;
  return now !== null && now.id === design.id && currentVariantOf(now).id === variantId;
};

/** Watches the document and the view and keeps the results true to them. Returns the way to stop. */
export function startLiveResults(): () => void {
  resultsStore.setState(NONE);
  const keep = resultsStore.setState;
  const failures = () => resultsStore.getState().failures;
  const lanes: { close(): void }[] = [];
  /** A lane that delivers only what was asked of the variant that is on the desk when the answer comes. */
  const lane = <K extends AboutVariant['kind']>(
    kind: K,
    deliver: (answer: JobAnswers[K], request: Extract<AboutVariant, { kind: K }>) => void,
    failed: (failure: Failure) => void = (failure) => keep({ failures: { ...failures(), [kind]: failure } }),
  ): LatestJob<K> => {
    const made = new LatestJob<K>(
      (request) => startJob<K>(request),
      (answer, request) => {
        const asked = request as Extract<AboutVariant, { kind: K }>;
        if (!onDesk(asked)) return;
        if (!answer.ok) return failed(answer);
        if (failures()[kind]) keep({ failures: { ...failures(), [kind]: undefined } });
        deliver(answer.value, asked);
      },
    );
    lanes.push(made);
    return made;
  };
  const desk = lane(
    'desk',
    (value) => keep({ desk: value, deskFailure: null, ...(readable() ? { deskToRead: value } : {}) }),
    (deskFailure) => keep({ deskFailure }),
  );
  const time = lane('time', (value) => keep({ time: value }));
  const detail = lane('detail', (parts, { stageId }) => keep({ detail: { stageId, parts } }));
  const compare = lane('compare', (candidates) => keep({ candidates }));
  const band = lane('band', (value, { design }) => keep({ band: { band: value, forDesign: design } }));
  const fourViews = lane('four-views', (value) => keep({ fourViews: value }));
  const turn = lane('turn', (value) => keep({ turn: value }));
  const shaping = lane('shaping', (value) => keep({ shaping: value }));
  const bank = lane('bank', (value) => keep({ bank: value }));
  const swap = lane('op-amp-swap', (opAmps) => keep({ opAmps }));
  const range = lane('range', (value) => keep({ range: value }));
  const acoustics = lane('acoustics', (value) => keep({ acoustics: value }));
  const angles = lane('angles', (value) => keep({ angles: value }));
  const decay = lane('decay', (value) => keep({ decay: value }));
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
      const topology = stage && stageTopology(stage, currentWayOf(design));
      if (stage && topology?.role === 'network' && topology.shelved)
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
    for (const lane of lanes) lane.close();
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

/**
 * Whether the circuits, tolerances, drivers or surroundings are others than those that something was worked out for.
 */
export const changedSince = (drawnFor: Design, now: Design): boolean =>
  drawnFor.id !== now.id ||
  drawnFor.variants !== now.variants ||
  drawnFor.drivers !== now.drivers ||
  drawnFor.preferences !== now.preferences ||
  drawnFor.brief !== now.brief ||
  drawnFor.currentVariant !== now.currentVariant;

/**
 * A long job that is asked for by hand: one of its kind at a time, its progress told until it ends or is stopped.
 * Resolves with null when it was stopped, overtaken, or another design has come to the desk meanwhile.
 */
function longJob<K extends AboutVariant['kind']>(tell: (share: number | null) => void) {
  let running: RunningJob<JobAnswers[K]> | null = null;
  const cancel = (): void => {
    running?.cancel();
    running = null;
    tell(null);
  };
  const run = async (request: Extract<AboutVariant, { kind: K }>): Promise<Result<JobAnswers[K]> | null> => {
    cancel();
    tell(0);
    const job = startJob<K>(request as Extract<JobRequest, { kind: K }>, (share) => running === job && tell(share));
    running = job;
    const answer = await job.answer;
    if (running !== job) return null;
    running = null;
    tell(null);
    return onDesk(request as AboutVariant) ? answer : null;
  };
  return { run, cancel };
}

/** The failure of a long job that is to be told; null for what was stopped or went well. */
const told = (answer: Result<unknown> | null): Failure | null => (answer && !answer.ok ? answer : null);

/** What a long job is asked of: the variant on the desk. Null with no design open. */
function nowOnDesk(
  lightened: (design: Design) => Design,
): { design: Design; asked: { design: Design; variantId: string } } | null {
  const { design } = documentStore.getState();
  return design && { design, asked: { design: lightened(design), variantId: currentVariantOf(design).id } };
}

const spreading = longJob<'spread'>((spreadProgress) => resultsStore.setState({ spreadProgress }));
export const cancelSpread = spreading.cancel;

/** Runs the Monte Carlo on the design as it stands. Resolves when done, stopped or failed. */
export async function runSpread(seed: number, runs: number): Promise<Failure | null> {
  const now = nowOnDesk(lean);
  if (!now) return null;
  const grid = { ...gridFor(now.design), points: TURN_POINTS };
  const answer = await spreading.run({ kind: 'spread', ...now.asked, seed, runs, grid });
  if (answer?.ok) resultsStore.setState({ spread: { result: answer.value, forDesign: now.design, seed }, band: null });
  return told(answer);
}

const matching = longJob<'match'>(() => {});

/** Looks for what would meet the brief. Resolves when done or failed. */
export async function findMatches(): Promise<Failure | null> {
  const now = nowOnDesk(lean);
  if (!now) return null;
  const grid = { ...gridFor(now.design), points: TURN_POINTS };
  const answer = await matching.run({ kind: 'match', ...now.asked, grid });
  if (answer) resultsStore.setState({ matches: answer.ok ? answer.value : null });
  return told(answer);
}
export const forgetMatches = (): void => resultsStore.setState({ matches: null });

const choosingBank = longJob<'bank-parts'>(() => {});

/** Chooses all parts of a bank, or levels it; gives the ways with them, null where that was overtaken. */
export async function bankParts(act: 'snap' | 'level'): Promise<Result<Variant> | null> {
  const now = nowOnDesk(withoutRecord);
  return now && choosingBank.run({ kind: 'bank-parts', ...now.asked, act });
}

const OUTLOOK_RUNS = 200;
const outlookRunning = { nulls: false, yield: false };
const outlook = (part: keyof typeof outlookRunning) => (share: number | null) => {
  outlookRunning[part] = share !== null;
  resultsStore.setState({ outlookRunning: outlookRunning.nulls || outlookRunning.yield });
};
const nullDepths = longJob<'nulls'>(outlook('nulls'));
const gradeYields = longJob<'yield'>(outlook('yield'));
export function cancelOutlook(): void {
  nullDepths.cancel();
  gradeYields.cancel();
}

/**
 * How deep the nulls will be, and how many builds of every grade meet the brief. Resolves when done, stopped or failed.
 */
export async function runOutlook(): Promise<Failure | null> {
  const now = nowOnDesk(lean);
  if (!now) return null;
  const asked = { ...now.asked, runs: OUTLOOK_RUNS, seed: 1 };
  const [nulls, grades] = await Promise.all([
    nullDepths.run({ kind: 'nulls', ...asked }),
    gradeYields.run({ kind: 'yield', ...asked, grid: { ...gridFor(now.design), points: BAND_POINTS } }),
  ]);
  if (!nulls || !grades) return null;
  resultsStore.setState({ nulls: nulls.ok ? nulls.value : null, grades: grades.ok ? grades.value : null });
  return told(nulls) ?? told(grades);
}

const fitting = longJob<'optimise'>((fitProgress) => resultsStore.setState({ fitProgress }));
export const cancelFit = fitting.cancel;

/** Fits parts of a crossover to the sound. Resolves when done, stopped or failed. */
export async function runFit(
  parts: OptimiseRequest['parts'],
  weights: OptimiseRequest['weights'],
): Promise<Failure | null> {
  const now = nowOnDesk(withoutRecord);
  if (!now) return null;
  const answer = await fitting.run({ kind: 'optimise', ...now.asked, parts, weights });
  if (answer?.ok) resultsStore.setState({ fitted: { result: answer.value, forDesign: now.design } });
  return told(answer);
}

const lookingAtHump = longJob<'notch-outlook'>(() => {});

/** Looks at a hump of a way and what either notch would make of it. */
export async function lookAtHump(wayId: string, hump?: NotchRequest['hump']): Promise<Failure | null> {
  const now = nowOnDesk(withoutRecord);
  if (!now) return null;
  const answer = await lookingAtHump.run({
    kind: 'notch-outlook',
    ...now.asked,
    wayId,
    ...(hump ? { hump } : {}),
    grid: { ...gridFor(now.design), points: GRID_POINTS },
  });
  if (answer)
    resultsStore.setState({ notch: answer.ok ? { result: answer.value, forDesign: now.design, wayId } : null });
  return told(answer);
}
/** After a fit was taken the others stay on offer: it is of the design as it stands now. */
export const keepFit = (): void =>
  resultsStore.setState(({ fitted }) => ({
    fitted: fitted && { ...fitted, forDesign: documentStore.getState().design ?? fitted.forDesign },
  }));
export const forgetHump = (): void => resultsStore.setState({ notch: null });

const choosing = longJob<'snap'>((share) => resultsStore.setState({ snapping: share !== null }));
export const cancelSnap = choosing.cancel;

/** Chooses parts together, of one stage or of the whole path. Resolves when done, stopped or failed. */
export async function runSnap(
  stageId: string | null,
  mostPairs: number,
  capacitors?: readonly number[],
): Promise<Failure | null> {
  const now = nowOnDesk(lean);
  if (!now) return null;
  const answer = await choosing.run({
    kind: 'snap',
    ...now.asked,
    stageId,
    mostPairs,
    ...(capacitors ? { capacitors } : {}),
  });
  if (answer?.ok) resultsStore.setState({ snaps: { result: answer.value, forDesign: now.design, stageId } });
  return told(answer);
}
