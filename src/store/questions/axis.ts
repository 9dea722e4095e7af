import type { Design, Stage, Way } from '@/core/design/document/schema';
import { stageTopology } from '@/core/design/stages/stage-topology';
import type { Grid } from '@/core/jobs/define-job';
import { parametersOf } from '@/core/topology/kit/define-topology';
import { currentVariantOf } from '../edits/edits';
import type { ViewState } from '../view';

const GRID_POINTS = 401;
/** While something is dragged: enough for the eye, half the work for worker and screen. */
const DRAG_POINTS = 151;

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

const cornersOf = (way: Way): number[] => [
  ...way.plans.map((p) => p.cutoffHz),
  ...way.stages.flatMap((s) => ownFrequencies(s, way)),
];

/** The frequency range of the curves: the audio band, or as far as the design's corners call for. */
export function gridFor(design: Design, points = GRID_POINTS): Grid {
  // What is heard lies in the audio band, whatever the corners.
  if (design.family === 'loudspeaker') return { fromHz: 20, toHz: 20e3, points };
  const corners = design.variants.flatMap((v) => v.ways.flatMap(cornersOf));
  const [low, high] = corners.length > 0 ? [Math.min(...corners), Math.max(...corners)] : [1000, 1000];
  return {
    fromHz: nice(Math.max(0.01, Math.min(20, low / 12)), false),
    toHz: nice(Math.min(1e8, Math.max(20e3, high * 12)), true),
    points,
  };
}

let held: { readonly id: string; readonly grid: Grid } | null = null;

/** What is shown: the range that was set, or what the design calls for. */
export const gridShown = (design: Design, { range }: Pick<ViewState, 'range'>, points = GRID_POINTS): Grid =>
  range ? { ...range, points } : gridFor(design, points);

/** The grid in use: held still, and thinner, while something on the curve is being dragged. */
export function gridNow(design: Design, view: Pick<ViewState, 'dragging' | 'range'>): Grid {
  if (!view.dragging || held?.id !== design.id) held = { id: design.id, grid: gridShown(design, view) };
  return view.dragging ? { ...held.grid, points: DRAG_POINTS } : held.grid;
}

/** The peak of a wave, and the height of a step, until one is chosen: that of a sine at the brief's level, V. */
export const briefPeakVolts = ({ brief }: Design): number => Number((brief.signalVolts * Math.SQRT2).toPrecision(4));

/** The wave's frequency until one is chosen: two octaves under the highest corner of the path. */
export const defaultWaveHz = (design: Design): number => {
  const corners = cornersOf(currentVariantOf(design).ways[0]);
  return Number(((corners.length > 0 ? Math.max(...corners) : 1000) / 4).toPrecision(2));
};
