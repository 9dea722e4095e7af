import { formOf, specsOf } from '@/core/design/stages/stage-design';
import type { Design, Stage, Way } from '@/core/design/document/schema';
import { stageTopology } from '@/core/design/stages/stage-topology';
import type { DeskExtras } from '@/core/jobs/desk/desk-types';
import { currentVariantOf, currentWayOf } from '../edits/edits';
import type { CurveView, ViewState } from '../view';
import { briefPeakVolts, defaultWaveHz, gridNow, gridShown } from './axis';
import { SPREAD } from './by-hand';
import { circuitsOf } from './circuits-of';
import { lean } from './lean';
import { Question, type Now } from './question';

/** The live spread band: draws and points that show where the curves lie without holding up the hand. */
const BAND_RUNS = 60;
const BAND_POINTS = 101;
const TURN_POINTS = 201;
/** Where a lobe is shown until it is known where the ways cross, Hz. */
const USUAL_CROSSING_HZ = 2000;

const selectedStageOf = (design: Design, selected: string | null): Stage | undefined => {
  const { stages } = currentWayOf(design);
  return stages.find((s) => s.id === selected) ?? stages[0];
};
const stageNow = ({ design, view }: Now): Stage | undefined => selectedStageOf(design, view.selectedStage);

/** The stage in hand, its circuit and form: an answer about it is shown for no other. */
function circuitInHand(now: Now): string {
  const stage = stageNow(now);
  return stage ? `${stage.id} ${stage.topology} ${stage.mode}` : '';
}

/** The control whose rotation is shown: the one in hand, or the first there is. */
export const turnedControlOf = (design: Design, turned: string | null) => {
  const { controls } = currentVariantOf(design);
  return controls.find((c) => c.id === turned) ?? controls[0];
};

/** The variant laid under, where it is another one than that in front. */
const underOf = ({ design, view }: Now): string | null =>
  view.ghostVariant === currentVariantOf(design).id ? null : view.ghostVariant;

const isHeard = ({ design }: Now): boolean => currentVariantOf(design).join === 'acoustic';
const shows = ({ view }: Now, ...views: CurveView[]): boolean => views.includes(view.curveView);

/** Curves that only some views and traces want. */
function extrasOf(design: Design, { shown, curveView, selectedStage }: ViewState): DeskExtras {
  const bare = shown.bare || curveView === 'difference' || design.brief.nuisances.length > 0;
  const stage = selectedStageOf(design, selectedStage)?.id ?? null;
  return {
    bareStage: bare ? stage : null,
    straight: shown.straight,
    isolated: shown.isolated,
    tapStage: shown.taps ? stage : null,
  };
}

/** What the desk shows all the time: curves, cards, joints, checks, marks. */
export const DESK = new Question(
  'desk',
  ({ design, view }) => ({
    ghostVariantId: view.ghostVariant,
    grid: gridNow(design, view),
    extras: extrasOf(design, view),
  }),
  { pace: 'frame', lighten: lean },
);

/** Of a crossover: everything that is heard and driven. */
export const ACOUSTICS = new Question(
  'acoustics',
  (now) => (isHeard(now) ? { ghostVariantId: underOf(now), grid: gridNow(now.design, now.view) } : null),
  { pace: 'frame' },
);

/** The sum from all sides. */
export const ANGLES = new Question(
  'angles',
  (now) =>
    isHeard(now) && shows(now, 'angles')
      ? {
          grid: gridShown(now.design, now.view, TURN_POINTS),
          dense: now.view.soundLook === 'map',
          lobeHz: ACOUSTICS.current().value?.crossings[0]?.freqHz ?? USUAL_CROSSING_HZ,
        }
      : null,
  { pace: 'frame', follows: [ACOUSTICS], about: ({ view }) => view.soundLook },
);

/** What rings on. */
export const DECAY = new Question(
  'decay',
  (now) =>
    isHeard(now) && shows(now, 'decay') ? { ghostVariantId: underOf(now), dense: now.view.soundLook === 'map' } : null,
  { pace: 'frame', about: ({ view }) => view.soundLook },
);

/** Two crossovers by the same figures, while one lies under the other. */
export const BESIDE = new Question(
  'compare-speakers',
  (now) => {
    const under = underOf(now);
    return isHeard(now) && under !== null && now.view.task === 'values' ? { others: [under] } : null;
  },
  { pace: 'rest', about: ({ view }) => view.ghostVariant ?? '' },
);

/** All bands, of a variant that has more than one way. */
export const BANK = new Question(
  'bank',
  (now) =>
    currentVariantOf(now.design).ways.length > 1 && !isHeard(now)
      ? { grid: gridShown(now.design, now.view, TURN_POINTS) }
      : null,
  { pace: 'frame' },
);

/** Once parts have been drawn: the band of a few draws of the design as it stands. */
export const BAND = new Question(
  'band',
  ({ design, view }) => {
    const { result } = SPREAD.current();
    return result && view.shown.spread
      ? { seed: result.asked.seed, runs: BAND_RUNS, grid: { ...gridNow(design, view), points: BAND_POINTS } }
      : null;
  },
  { pace: 'frame', lighten: lean, follows: [SPREAD] },
);

/** Per cent that a part is moved to show what it does to the curve. */
export const MOVED_PCT = 20;

/** What the part that is pointed at moves. */
export const PART_MOVES = new Question(
  'part-moves',
  (now) => {
    const { pointed } = now.view;
    return pointed && shows(now, 'response')
      ? {
          stageId: pointed.stageId,
          part: pointed.parts[0],
          pct: MOVED_PCT,
          grid: gridShown(now.design, now.view, TURN_POINTS),
        }
      : null;
  },
  { pace: 'frame', lighten: lean, about: (_, { stageId, part }) => `${stageId} ${part}` },
);

/** Which parts hold the level where the cursor stands. */
export const HELD_BY = new Question(
  'held-by',
  (now) => {
    const { cursor } = now.view;
    return cursor !== null && shows(now, 'response') ? { freqHz: Number(cursor.toPrecision(4)) } : null;
  },
  { pace: 'rest', lighten: lean, about: (_, { freqHz }) => String(freqHz) },
);

/** The whole variant as one drawing. */
export const SHEET = new Question('sheet', (now) => (shows(now, 'sheet') ? {} : null), { pace: 'frame' });

const wavePeakOf = ({ design, view }: Now): number => view.wavePeakVolts ?? briefPeakVolts(design);
const waveHzOf = ({ design, view }: Now): number => view.waveHz ?? defaultWaveHz(design);

export const TIME = new Question(
  'time',
  (now) =>
    shows(now, 'step', 'wave')
      ? {
          ghostVariantId: now.view.ghostVariant,
          bareStage: now.view.shown.bare ? (stageNow(now)?.id ?? null) : null,
          peakVolts: wavePeakOf(now),
          offsetVolts: now.view.waveOffsetVolts,
          wave: shows(now, 'step')
            ? { kind: 'step' as const }
            : { kind: 'periodic' as const, wave: now.view.wave, freqHz: waveHzOf(now) },
        }
      : null,
  { pace: 'frame', lighten: lean, about: ({ view }) => view.curveView },
);

/** What discharges a stage: its first resistor, of the size it has while the switch is off. */
function dischargeOf(way: Way, stage: Stage, ohm: number | null): { part: string; ohm: number } | null {
  const resistor = specsOf(stageTopology(stage, way), formOf(way, stage)).find(
    (p) => p.kind === 'resistor' && !stage.parts[p.name]?.leftOut,
  );
  return resistor && ohm !== null ? { part: resistor.name, ohm } : null;
}

export const FOUR_VIEWS = new Question(
  'four-views',
  (now) => {
    const stage = stageNow(now);
    return stage && shows(now, 'four')
      ? {
          ghostVariantId: underOf(now),
          stageId: stage.id,
          wave: now.view.wave,
          freqHz: waveHzOf(now),
          peakVolts: wavePeakOf(now),
          discharge: dischargeOf(currentWayOf(now.design), stage, now.view.dischargeOhm),
        }
      : null;
  },
  { pace: 'frame', lighten: lean, about: circuitInHand },
);

/** The whole rotation of the control in hand. */
export const TURN = new Question(
  'turn',
  ({ design, view }) => {
    const control = turnedControlOf(design, view.turnedControl);
    return control ? { controlId: control.id, grid: gridShown(design, view, TURN_POINTS) } : null;
  },
  { pace: 'rest', lighten: lean, about: (_, { controlId }) => controlId },
);

/** What each part of the stage in hand moves. */
export const DETAIL = new Question(
  'detail',
  (now) => {
    const stage = stageNow(now);
    return stage ? { stageId: stage.id } : null;
  },
  { pace: 'rest', lighten: lean, about: circuitInHand },
);

/** What the capacitors of a shaped amplifier may be for the goal in hand. */
export const SHAPING = new Question(
  'shaping',
  (now) => {
    const stage = stageNow(now);
    const topology = stage && stageTopology(stage, currentWayOf(now.design));
    return stage && topology?.role === 'network' && topology.shelved
      ? { stageId: stage.id, goal: now.view.shapingGoal }
      : null;
  },
  { pace: 'rest', lighten: lean, about: circuitInHand },
);

/** Other circuits for the same plan, side by side. */
export const CANDIDATES = new Question('compare', () => ({}), { pace: 'rest', lighten: lean, about: circuitsOf });
/** The path with every op-amp that there is. */
export const OP_AMPS = new Question('op-amp-swap', () => ({}), { pace: 'rest', lighten: lean, about: circuitsOf });
/** What lies between noise and clipping. */
export const RANGE = new Question('range', () => ({}), { pace: 'rest', lighten: lean, about: circuitsOf });
