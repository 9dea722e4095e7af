import type { Design } from '@/core/design/document/schema';
import { findTopology } from '@/core/topology/index';
import { usualChain } from '@/core/topology/voice/control/index';
import { documentStore, edit } from '@/store/document';
import { setControlChain } from '@/store/edits/chain-edits';
import { currentVariantOf } from '@/store/edits/edits';
import { showPanel } from '@/store/folds';
import { setView, viewStore, type VoiceView } from '@/store/view';
import type { DeskAction } from './desk-action';

/** The circuits of a design that a current moves: the one in hand first. */
function voicesOf(design: Design) {
  const { selectedStage } = viewStore.getState();
  return currentVariantOf(design)
    .ways.flatMap((way) => way.stages)
    .flatMap((stage) => {
      const topology = findTopology(stage.topology);
      return topology?.role === 'network' && topology.outlet ? [{ stage, topology }] : [];
    })
    .sort((a, b) => Number(b.stage.id === selectedStage) - Number(a.stage.id === selectedStage));
}

/** Whether a design has a circuit that a current moves. */
export const isVoiced = (design: Design): boolean => voicesOf(design).length > 0;

type Voice = ReturnType<typeof voicesOf>[number];

/** Does something to a voice, and turns to the panel that shows it. */
const atVoice =
  (voiceView: VoiceView, panel: string, before: (voice: Voice) => void = () => {}) =>
  () => {
    const { design } = documentStore.getState();
    const [voice] = design ? voicesOf(design) : [];
    if (!voice) return;
    before(voice);
    setView({ task: 'circuit', voiceView, selectedStage: voice.stage.id });
    showPanel(panel);
  };

function giveChain({ stage, topology }: Voice): void {
  const chain = stage.controlledBy ? null : usualChain(topology, stage.mode);
  if (chain) edit(setControlChain(stage.id, chain.id));
}

/** What a synthesizer builder does by name, where a voice lies on the desk. */
export const VOICE_ACTIONS: readonly DeskAction[] = [
  {
    id: 'chain',
    name: 'Control it by a voltage',
    words: 'volts per octave V/oct exponential converter control voltage CV scale tracking jack knob chain',
    group: 'Design',
    run: atVoice('control', 'What makes the control current', giveChain),
  },
  {
    id: 'chain-off',
    name: 'Take what makes its control current off the board',
    words: 'volts per octave exponential converter chain remove bare outside',
    group: 'Design',
    run: atVoice('control', 'What makes the control current', ({ stage }) => {
      if (stage.controlledBy) edit(setControlChain(stage.id, null));
    }),
  },
  {
    id: 'trim-scale',
    name: 'Trim its volts per octave',
    words: 'V/oct calibrate calibration tune tuning scale trimmer readings',
    group: 'Design',
    run: atVoice('control', 'Trim', giveChain),
  },
  {
    id: 'warmth',
    name: 'What warmth does to its pitch',
    words: 'temperature drift tempco heated tuning degrees',
    group: 'Design',
    run: atVoice('control', 'Warmth', giveChain),
  },
  {
    id: 'oscillation',
    name: 'Its oscillation: level, purity and pitch',
    words: 'self-oscillation resonance sing limit cycle sine harmonics',
    group: 'Design',
    run: atVoice('control', 'The oscillation'),
  },
  {
    id: 'at-rest',
    name: 'Its operating point, and how long a battery lasts',
    words: 'rest DC volts current supply battery hours sag',
    group: 'Design',
    run: atVoice('rest', 'At rest'),
  },
];
