import { AUDIO_BAND } from '@/core/math/grid';
import { setTheme } from '@/ui/appearance';
import { documentStore, edit, redo, undo } from '@/store/document';
import { askNextBoard } from '@/store/measuring';
import { currentVariantOf, currentWayOf, insertBuffer, toggleBypass } from '@/store/edits/edits';
import { setDevice } from '@/store/edits/part-edits';
import { addLimit, addVariant } from '@/store/edits/record-edits';
import {
  exportCurves,
  exportDeck,
  exportDesign,
  exportParts,
  exportPicture,
  exportReport,
  exportView,
  exportSheet,
  printSheet,
  printReport,
} from '@/store/exports/exports';
import { keepCurve } from '@/store/curves/kept-curves';
import { showRange, zoomRange } from '@/store/curves/frequency-range';
import { toggleWhole } from '@/store/wall';
import { drawParts } from '@/store/questions/by-hand';
import { showPanel } from '@/store/folds';
import {
  CURVE_VIEWS,
  setView,
  SPEAKER_VIEWS,
  TASKS,
  viewsOf,
  viewStore,
  type CurveView,
  type Task,
} from '@/store/view';
import { ADDABLE, addFromCatalogue } from '@/store/add-to-path';
import type { PaletteEntry } from '@/ui/palette/entries';
import { OP_AMPS } from '@/core/device/op-amps';
import type { Design } from '@/core/design/document/schema';
import type { DeskAction } from './desk-action';
import { SPEAKER_ACTIONS } from './speaker-actions';
import { isVoiced, VOICE_ACTIONS } from './voice-actions';

const TASK_NAMES: Record<Task, string> = {
  brief: 'Brief',
  circuit: 'Circuit',
  values: 'Values',
  spread: 'Spread',
  build: 'Build',
  measure: 'Measure',
  listen: 'Listen',
  log: 'Log',
};
const VIEW_NAMES: Record<CurveView, string> = {
  response: 'Response',
  delay: 'Group delay',
  step: 'Step response',
  wave: 'Wave, settled',
  four: 'Four views of one cutoff',
  impedance: 'Impedance of each part',
  difference: 'Difference in decibels',
  sheet: 'Schematic of the whole variant',
  ways: 'Ways and sum',
  load: 'Amplifier load',
  angles: 'Off axis',
  decay: 'Decay',
};

/** What a view is also looked for by. */
const VIEW_WORDS: Partial<Record<CurveView, string>> = {
  four: 'parts at work: volts, amperes and watts of each part, charge and discharge, harmonics',
};

function nextVariant(): void {
  const { design } = documentStore.getState();
  if (!design || design.variants.length < 2) return;
  const at = design.variants.findIndex((v) => v.id === design.currentVariant);
  selectVariantAndGhost(design.variants[(at + 1) % design.variants.length].id);
}

/** Turns to a variant, and keeps the one left behind as the ghost. */
export function selectVariantAndGhost(id: string): void {
  const { design } = documentStore.getState();
  if (!design || id === design.currentVariant) return;
  setView({ ghostVariant: design.currentVariant, selectedStage: null });
  edit((draft) => void (draft.currentVariant = id));
}

export function addVariantAndGhost(): void {
  const { design } = documentStore.getState();
  if (!design) return;
  setView({ ghostVariant: design.currentVariant, selectedStage: null });
  edit(addVariant());
}

const onSelected = (change: (stageId: string) => void) => () => {
  const { design } = documentStore.getState();
  const stageId = viewStore.getState().selectedStage ?? (design ? currentWayOf(design).stages[0]?.id : undefined);
  if (stageId) change(stageId);
};

function stepStage(by: number): void {
  const { design } = documentStore.getState();
  const stages = design ? currentWayOf(design).stages : [];
  if (stages.length === 0) return;
  const at = stages.findIndex((s) => s.id === viewStore.getState().selectedStage);
  setView({ selectedStage: stages[(Math.max(0, at) + (at < 0 ? 0 : by) + stages.length) % stages.length].id });
}

/** By name the view itself; by number the one that stands there for this design. */
function turnToView(view: CurveView, place: number): void {
  const { design } = documentStore.getState();
  const views = viewsOf(design?.family ?? '');
  const wanted = design?.family === 'loudspeaker' && place >= 0 ? views[place] : view;
  if (wanted && views.includes(wanted)) setView({ curveView: wanted, cursor: null });
}

/** Everything that can be done at the desk by name: the palette and the shortcut sheet are made from this list. */
export const DESK_ACTIONS: readonly DeskAction[] = [
  ...TASKS.map((task, i): DeskAction => ({
    id: `task-${task}`,
    name: TASK_NAMES[task],
    keys: `${i + 1}`,
    group: 'Tasks',
    run: () => setView({ task }),
  })),
  {
    id: 'sweep',
    name: 'Sweep the board, and find what is wrong with it',
    words: 'measure fault troubleshoot repair debug test sound card microphone distortion noise batch recording',
    group: 'Tasks',
    run: () => setView({ task: 'measure' }),
  },
  {
    id: 'next-board',
    name: 'Sweep the next board and find what is wrong with it',
    words: 'batch series production ten boards judge verdict test',
    keys: 't',
    group: 'Tasks',
    run: () => {
      setView({ task: 'measure' });
      askNextBoard();
    },
  },
  {
    id: 'first-power',
    name: 'First power: what a meter should show',
    words: 'volts voltage operating point rest supply current multimeter smoke test readings',
    group: 'Tasks',
    run: () => {
      showPanel('First power');
      setView({ task: 'measure' });
    },
  },
  {
    id: 'walk',
    name: 'Walk the signal through the circuit',
    words: 'part by part how it works explain teach path polarity feedback',
    group: 'Tasks',
    run: () => {
      showPanel('Walk');
      setView({ task: 'circuit' });
    },
  },
  {
    id: 'sound-live',
    name: 'Sound the circuit while a knob is turned',
    words: 'live sound listen hear play audio real time',
    group: 'Tasks',
    run: () => setView({ task: 'listen' }),
  },
  {
    id: 'read-recording',
    name: 'Read a recording or a capture from a file',
    words: 'WAV sound file scope oscilloscope CSV measure recorded elsewhere import',
    group: 'Tasks',
    run: () => {
      showPanel('Recorded elsewhere');
      setView({ task: 'measure' });
    },
  },
  {
    id: 'sequence',
    name: 'Play a sequence through it',
    words: 'sequencer sixteen steps accents slides notes listen hear',
    group: 'Tasks',
    run: () => setView({ task: 'listen', playedAs: 'sequence' }),
  },
  {
    id: 'keys',
    name: 'Play it from keys',
    words: 'keyboard MIDI notes live listen hear',
    group: 'Tasks',
    run: () => setView({ task: 'listen', playedAs: 'keys' }),
  },
  ...CURVE_VIEWS.map((view, i): DeskAction => ({
    id: `view-${view}`,
    name: VIEW_NAMES[view],
    words: VIEW_WORDS[view],
    keys: `shift+${i + 1}`,
    group: 'Views',
    run: () => turnToView(view, i),
  })),
  ...SPEAKER_VIEWS.filter((view) => !(CURVE_VIEWS as readonly string[]).includes(view)).map((view): DeskAction => ({
    id: `view-${view}`,
    name: VIEW_NAMES[view],
    group: 'Views',
    words: 'crossover loudspeaker',
    run: () => turnToView(view, -1),
  })),
  {
    id: 'cursor',
    name: 'Cursor on the curves',
    keys: 'c',
    group: 'Views',
    run: () => document.getElementById('plot')?.focus(),
  },
  {
    id: 'range-audio',
    name: 'Audio band, 20 Hz to 20 kHz',
    words: 'frequency axis range zoom',
    keys: 'a',
    group: 'Views',
    run: () => showRange(AUDIO_BAND),
  },
  {
    id: 'range-circuit',
    name: 'All frequencies that the circuit is about',
    words: 'frequency axis range zoom fit',
    keys: 'w',
    group: 'Views',
    run: () => showRange(null),
  },
  {
    id: 'range-in',
    name: 'Zoom the frequency axis in',
    words: 'range closer',
    group: 'Views',
    run: () => zoomRange(0.5),
  },
  { id: 'range-out', name: 'Zoom the frequency axis out', words: 'range', group: 'Views', run: () => zoomRange(2) },
  {
    id: 'sound-map',
    name: 'Decay and angles as a map, or as curves again',
    words: 'waterfall directivity heat colour loudspeaker',
    group: 'Views',
    run: () => setView({ soundLook: viewStore.getState().soundLook === 'map' ? 'curves' : 'map' }),
  },
  {
    id: 'wave-xy',
    name: 'Wave: output over input, or against time again',
    words: 'x-y Lissajous transfer scope',
    group: 'Views',
    run: () =>
      setView({ curveView: 'wave', waveAxes: viewStore.getState().waveAxes === 'xy' ? 'time' : 'xy', cursor: null }),
  },
  { id: 'keep-curve', name: 'Keep this curve', keys: 'k', group: 'Views', run: keepCurve },
  { id: 'undo', name: 'Undo', keys: 'mod+z', group: 'Design', run: undo },
  { id: 'redo', name: 'Redo', keys: 'mod+shift+z', group: 'Design', run: redo },
  { id: 'variant-next', name: 'Turn to the next variant', keys: 'v', group: 'Design', run: nextVariant },
  { id: 'variant-new', name: 'New variant from this one', group: 'Design', run: addVariantAndGhost },
  { id: 'stage-next', name: 'Next stage', keys: 'n', group: 'Design', run: () => stepStage(1) },
  { id: 'stage-previous', name: 'Previous stage', keys: 'p', group: 'Design', run: () => stepStage(-1) },
  {
    id: 'bypass',
    name: 'Bypass the selected stage, or put it back',
    keys: 'b',
    group: 'Design',
    run: onSelected((id) => edit(toggleBypass(id))),
  },
  {
    id: 'buffer',
    name: 'Buffer at the end of the path',
    group: 'Design',
    run: () => {
      const { design } = documentStore.getState();
      if (design) edit(insertBuffer(currentWayOf(design).stages.length));
    },
  },
  {
    id: 'limit-keep',
    name: 'Ask for a pass limit',
    group: 'Design',
    run: () => {
      setView({ task: 'brief' });
      edit(addLimit({ kind: 'at-most', side: 'below', freqHz: 1000, db: 1 }));
    },
  },
  {
    id: 'spread',
    name: 'Run tolerances: the spread',
    keys: 's',
    group: 'Design',
    run: () => {
      setView({ task: 'spread' });
      void drawParts(1, 500);
    },
  },
  ...OP_AMPS.map((o): DeskAction => ({
    id: `device-${o.id}`,
    name: `All op-amps: ${o.name}`,
    group: 'Design',
    run: () => edit(setDevice(null, o.id)),
  })),
  { id: 'device-ideal', name: 'All op-amps: ideal', group: 'Design', run: () => edit(setDevice(null, 'ideal')) },
  { id: 'export-design', name: 'Export the design (JSON)', keys: 'mod+s', group: 'Export', run: exportDesign },
  { id: 'export-response', name: 'Export the view in front (CSV)', group: 'Export', run: exportView },
  { id: 'export-parts', name: 'Export the parts list (CSV)', group: 'Export', run: exportParts },
  { id: 'export-deck', name: 'Export a circuit deck (.cir)', group: 'Export', run: exportDeck },
  { id: 'export-schematic', name: 'Export the drawing (SVG)', group: 'Export', run: () => void exportSheet() },
  { id: 'print-drawing', name: 'Print the drawing', group: 'Export', run: () => void printSheet() },
  { id: 'export-curves', name: 'Export the view in front (SVG)', group: 'Export', run: exportCurves },
  {
    id: 'export-picture',
    name: 'Export the view in front (PNG)',
    words: 'picture, image, screenshot, points',
    group: 'Export',
    run: () => void exportPicture(),
  },
  {
    id: 'export-report',
    name: 'Export a report (HTML)',
    words: 'print, paper, send, share, document',
    group: 'Export',
    run: () => void exportReport(),
  },
  {
    id: 'print',
    name: 'Print the report',
    words: 'paper, A4, Letter, PDF',
    group: 'Export',
    run: () => void printReport(),
  },
  {
    id: 'share',
    name: 'Share by a link',
    words: 'send, copy, address, URL',
    group: 'Export',
    run: () => setView({ sharing: true }),
  },
  {
    id: 'whole-task',
    name: 'Give the task the whole desk, or the curves their side back',
    words: 'wall, room, full screen, wider',
    keys: 'f',
    group: 'Look',
    run: toggleWhole,
  },
  { id: 'theme-paper', name: 'Light paper', group: 'Look', run: () => setTheme('paper') },
  { id: 'theme-bench', name: 'Dark evening bench', group: 'Look', run: () => setTheme('bench') },
];

const asEntry = (action: DeskAction): PaletteEntry => ({ ...action, words: action.words ? [action.words] : [] });

/** The same as the palette takes them, and everything that can be added to the path. */
export const DESK_ENTRIES: readonly PaletteEntry[] = [
  ...DESK_ACTIONS.map(asEntry),
  ...ADDABLE.map((entry) => ({
    id: `add-${entry.id}`,
    group: 'Add to the path',
    name: entry.name,
    words: entry.words,
    run: () => addFromCatalogue(entry),
  })),
];
/** What is done by name only where a design has what it is done to. */
const OWN: readonly { readonly fits: (design: Design) => boolean; readonly actions: readonly DeskAction[] }[] = [
  { fits: (design) => currentVariantOf(design).join === 'acoustic', actions: SPEAKER_ACTIONS },
  { fits: isVoiced, actions: VOICE_ACTIONS },
];

/** What the palette offers for a design: first what only such a one has. */
export const entriesOf = (design: Design): readonly PaletteEntry[] => [
  ...OWN.flatMap(({ fits, actions }) => (fits(design) ? actions.map(asEntry) : [])),
  ...DESK_ENTRIES,
];
