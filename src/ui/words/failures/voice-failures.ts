import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { hz, plain } from '../figures';
import type { FailureWords } from './failure-words';

const at = (freqHz: unknown): string => formatQuantity(Number(freqHz), 'frequency', { digits: 3 });

/** Why what is played, sounds or is turned does not go on. */
export const VOICE_FAILURES: FailureWords = {
  'heel-over-toe': (data) =>
    `The toe’s peak (${hz(data.toeHz)}) is to lie above the heel’s (${hz(data.heelHz)}). Move one of them.`,
  'nothing-bends': () => 'This circuit is linear: nothing in it bends. Its op-amps’ limits are in the checks.',
  undamped: (data) =>
    `Nothing in this circuit has resistance: its resonance at ${hz(data.freqHz)} never decays, and what is asked has ` +
    'no answer. Give it a source, a load or lossy parts.',
  sings: (data) =>
    `The circuit oscillates at ${hz(data.freqHz)}: what is asked here has no answer until it does ` +
    `not. Take resonance or gain back.`,
  'did-not-settle': (data) =>
    `At ${formatQuantity(Number(data.timeS), 'time', { digits: 3 })} the circuit would not settle within ` +
    `a step (${plain(100 * Number(data.share), 2)}\u202f% of its steps): nothing was made of it. Lower the ` +
    `level, take resonance back, or slow what moves it.`,
  'bends-no-further': (data) =>
    `Even at ${formatQuantity(Number(data.volts), 'voltage', { digits: 2 })} peak it bends by only ` +
    `${formatFixed(Number(data.percent), 2)}\u202f%. Ask for less.`,
  'too-long': (data) =>
    `That would be ${String(data.seconds)} seconds; ${String(data.most)} at most are rendered. Shorten ` + `the notes.`,
  'no-sound': (data) => `The browser gave no sound: ${String(data.reason)}. Render it instead; the WAV plays anywhere.`,
  'nothing-to-move': () => 'No part is let move. Tick some in “what may move”.',
  'sound-put-aside': () =>
    'The browser has put the sound aside: the tab went to the background, or the sound card went or changed its ' +
    'rate. It goes on by itself when that is over; else silence it and sound it again.',
  'no-way': () =>
    'Nothing leads from the input of this stage to its output as it stands: a part on the way is left out.',
  'no-song': () => 'Nothing in it brings it to oscillate: it has no part round its loop that can be turned so far.',
  'dies-away': (data) => `Pushed, it rings at ${at(data.freqHz)} and dies away.`,
  'no-bounds': (data) =>
    `Nothing holds it at ${at(data.freqHz)}: its op-amps are ideal, and have no rails. Choose real ones.`,
  'no-cycle': (data) =>
    `It oscillates about ${at(data.freqHz)}, but comes to no wave that repeats: it jumps between an op-amp’s ` +
    'limits, or its bias wanders. There is no level or pitch to give.',
  'no-control-current': () => 'This circuit takes no control current, so there is nothing for a chain to make.',
};
