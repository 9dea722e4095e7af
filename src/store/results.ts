import { create } from 'zustand';
import type { Design } from '@/core/design/schema';
import type { Candidate } from '@/core/jobs/compare';
import type { DeskResult, Grid } from '@/core/jobs/desk-types';
import type { PartDetail } from '@/core/jobs/detail';
import type { SpreadBand, SpreadResult } from '@/core/jobs/spread';
import type { TimeResult } from '@/core/jobs/time';
import type { Failure } from '@/core/result';
import { startJob, type RunningJob } from '@/workers/job-client';
import { LatestJob } from '@/workers/latest-job';
import { documentStore } from './document';
import { currentVariantOf } from './edits';
import { READ_MS } from './use-design-to-read';
import { viewStore } from './view';

interface ResultsState {
  readonly desk: DeskResult | null;
  /** The same for what is read rather than watched (cards, joints, checks): while something is dragged it follows a few times less often, so that the curves keep the frame. */
  readonly deskToRead: DeskResult | null;
  /** Why there is no result for the design as it stands; the last good one stays in `desk`. */
  readonly deskFailure: Failure | null;
  readonly detail: { readonly stageId: string; readonly parts: readonly PartDetail[] } | null;
  readonly time: TimeResult | null;
  readonly candidates: readonly Candidate[] | null;
  readonly spread: { readonly result: SpreadResult; readonly forDesign: Design; readonly seed: number } | null;
  readonly spreadProgress: number | null;
  /** Once parts have been drawn: the band of a few draws of the design as it stands, live. */
  readonly band: { readonly band: SpreadBand; readonly forDesign: Design } | null;
}

const NONE: ResultsState = { desk: null, deskToRead: null, deskFailure: null, detail: null, time: null, candidates: null, spread: null, spreadProgress: null, band: null };
export const resultsStore = create<ResultsState>()(() => NONE);
export const useResults = resultsStore;

const GRID_POINTS = 401;
/** While something is dragged: enough for the eye, half the work for worker and screen. */
const DRAG_POINTS = 151;
/** The live spread band: draws and points that show where the curves lie without holding up the hand. */
const BAND_RUNS = 60;
const BAND_POINTS = 101;
/** Second thoughts (sensitivities, comparison) wait until the hand rests. */
const REST_MS = 180;

const NICE = [1, 2, 5];
function nice(value: number, up: boolean): number {
  const decade = 10 ** Math.floor(Math.log10(value));
  const steps = [...NICE.map((n) => n * decade), 10 * decade];
  return up ? (steps.find((s) => s >= value * 0.999) ?? value) : ([...steps].reverse().find((s) => s <= value * 1.001) ?? value);
}

/** The frequency range of the curves: the audio band, or as far as the design's corners call for. */
export function gridFor(design: Design): Grid {
  const freqs = design.variants.flatMap((v) => v.ways.flatMap((w) => [...w.plans.map((p) => p.cutoffHz), ...w.stages.flatMap((s) => (s.target.kind === 'own' && s.target.order > 0 ? [s.target.freqHz] : []))]));
  const [low, high] = freqs.length > 0 ? [Math.min(...freqs), Math.max(...freqs)] : [1000, 1000];
  return { fromHz: nice(Math.max(0.01, Math.min(20, low / 12)), false), toHz: nice(Math.min(1e8, Math.max(20e3, high * 12)), true), points: GRID_POINTS };
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
  const desk = new LatestJob<'desk'>((request) => startJob<'desk'>(request), (answer) => {
    if (answer.ok) resultsStore.setState({ desk: answer.value, deskFailure: null, ...(readable() ? { deskToRead: answer.value } : {}) });
    else resultsStore.setState({ deskFailure: answer });
  });
  const time = new LatestJob<'time'>((request) => startJob<'time'>(request), (answer) => answer.ok && resultsStore.setState({ time: answer.value }));
  const detail = new LatestJob<'detail'>((request) => startJob<'detail'>(request), (answer, request) => answer.ok && resultsStore.setState({ detail: { stageId: request.stageId, parts: answer.value } }));
  const compare = new LatestJob<'compare'>((request) => startJob<'compare'>(request), (answer) => answer.ok && resultsStore.setState({ candidates: answer.value }));
  const band = new LatestJob<'band'>((request) => startJob<'band'>(request), (answer, request) => answer.ok && resultsStore.setState({ band: { band: answer.value, forDesign: request.design } }));
  let rest: ReturnType<typeof setTimeout> | undefined;

  const refresh = () => {
    const { design } = documentStore.getState();
    if (!design) return;
    const view = viewStore.getState();
    const variant = currentVariantOf(design);
    const common = { design: lean(design), variantId: variant.id, ghostVariantId: view.ghostVariant };
    desk.ask({ kind: 'desk', ...common, grid: gridNow(design) });
    const { spread } = resultsStore.getState();
    if (spread && view.shown.spread && spread.forDesign.id === design.id) {
      band.ask({ kind: 'band', design: common.design, variantId: variant.id, seed: spread.seed, runs: BAND_RUNS, grid: { ...gridNow(design), points: BAND_POINTS } });
    }
    if (view.curveView === 'step') time.ask({ kind: 'time', ...common, wave: { kind: 'step' } });
    if (view.curveView === 'square') time.ask({ kind: 'time', ...common, wave: { kind: 'square', freqHz: view.squareHz ?? defaultSquareHz(design) } });
    clearTimeout(rest);
    rest = setTimeout(() => {
      const stageId = variant.ways[0].stages.find((s) => s.id === view.selectedStage)?.id ?? variant.ways[0].stages[0]?.id;
      if (stageId) detail.ask({ kind: 'detail', ...common, stageId });
      if (view.task === 'circuit') compare.ask({ kind: 'compare', ...common });
    }, REST_MS);
  };
  const stopDocument = documentStore.subscribe(refresh);
  const stopView = viewStore.subscribe((now, before) => {
    if (now.ghostVariant !== before.ghostVariant || now.curveView !== before.curveView || now.squareHz !== before.squareHz || now.selectedStage !== before.selectedStage || now.task !== before.task || now.dragging !== before.dragging) refresh();
  });
  refresh();
  return () => {
    clearTimeout(rest);
    stopDocument();
    stopView();
    desk.clear();
    band.clear();
  };
}

/** Workers need the circuits, not the record. */
const lean = (design: Design): Design => ({ ...design, measurements: [], log: [] });

export const defaultSquareHz = (design: Design): number => {
  const plans = currentVariantOf(design).ways[0].plans;
  return Number(((plans.at(-1)?.cutoffHz ?? 1000) / 4).toPrecision(2));
};

/** Whether a spread was drawn for circuits, tolerances or surroundings other than those on the desk. */
export const spreadIsStale = (drawnFor: Design, now: Design): boolean =>
  drawnFor.variants !== now.variants || drawnFor.preferences !== now.preferences || drawnFor.brief !== now.brief || drawnFor.currentVariant !== now.currentVariant;

let runningSpread: RunningJob<SpreadResult> | null = null;

/** Runs the Monte Carlo on the design as it stands. Resolves when done, cancelled or failed. */
export async function runSpread(seed: number, runs: number): Promise<Failure | null> {
  const { design } = documentStore.getState();
  if (!design) return null;
  cancelSpread();
  resultsStore.setState({ spreadProgress: 0 });
  const grid = { ...gridFor(design), points: 201 };
  const job = startJob<'spread'>({ kind: 'spread', design: lean(design), variantId: currentVariantOf(design).id, seed, runs, grid }, (share) => resultsStore.setState({ spreadProgress: share }));
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

export function cancelSpread(): void {
  runningSpread?.cancel();
  runningSpread = null;
  resultsStore.setState({ spreadProgress: null });
}
