import { hz, plain } from '../figures';
import type { FailureWords } from './failure-words';

const SWEEP_FAULTS: Readonly<Record<string, string | undefined>> = {
  rate: 'A card takes between 8,000 and 768,000 samples a second.',
  range: 'A sweep goes up by an octave at least, from over nothing.',
  top: 'The sweep’s last tone is too near half the samples a second: 0.495 of them is the most.',
  seconds: 'A sweep takes between a twentieth of a second and two minutes.',
  level: 'A level is at most 0 dB re full scale, and at least −120.',
};

/** Why nothing was measured, or the fault is not found. */
export const MEASURING_FAILURES: FailureWords = {
  'bad-sweep': (data) => SWEEP_FAULTS[String(data.what)] ?? 'This is no sweep that a card can play.',
  'not-a-sweep': () => 'This is no exponential sweep: a tone that rises as many seconds an octave all the way.',
  'rate-differs': (data) =>
    `The ${data.what} has ${data.rateHz} samples a second, and the sweep ${data.wantedHz}. Record at the sweep’s ` +
    'rate, or sweep at the recording’s.',
  'silent-recording': (data) =>
    `The ${data.what} is silent. Look at the cable, the input that was chosen, and its level.`,
  'recording-clipped': (data) => `The ${data.what} is clipped. Play it lower, or turn the input down, and sweep again.`,
  'recording-too-short': (data) =>
    `The ${data.what} ends before the sweep: ${plain(data.seconds)}\u202fs, and the sweep takes ` +
    `${plain(data.neededS)}\u202fs.`,
  'sweep-not-found': (data) =>
    `The sweep is not to be found in the ${data.what}: it is of another sweep or rate, was cut off, or the cable ` +
    'is not in.',
  'channels-swapped': () => 'The reference is uneven and the recording is even: left and right are swapped, it seems.',
  'no-such-place': (data) =>
    `There is no place “${data.place}” on this variant. Measured there before: take it away, or go back.`,
  'bends-there': () =>
    'Inside a circuit that bends, the simulated card measures at the output only. Choose the output.',
  'nothing-measured': () => 'Fewer than three points were measured; a longer range is wanted.',
  'nothing-to-break': () => 'There is no part on this path that could be wrong.',
  'bad-fault': (data) => `“${data.fault}” is no fault: R3=open, R3=short, R3=x10, R3~R4 or U1=dead.`,
  'no-part-there': (data) => `There is no part ${data.part} on this path.`,
  'swap-of-kinds': () => 'Only parts of one kind are taken for one another.',
  'measured-columns': (data) => `${data.file} names no frequency_hz and magnitude_db in its first line.`,
  'measured-row': (data) => `${data.file}, line ${data.line}: frequencies rise, and levels are numbers.`,
  'card-refused': () => 'The browser was not allowed to listen. Allow the microphone for this page, and sweep again.',
  'card-missing': () => 'No sound input was found. Plug the card in, and sweep again.',
  'card-gone': () => 'The sound card went away in the middle of the sweep. Plug it in, and sweep again.',
  'card-rate': (data) =>
    `The card runs at ${data.rateHz} samples a second, not at ${data.wantedHz}. Choose its rate, and sweep ` + 'again.',
  'recording-broken': (data) =>
    `The ${data.what} breaks off at ${plain(data.atS)}\u202fs and goes on elsewhere: samples were lost on the ` +
    'way. Sweep again, with less going on beside it.',
  'card-mono': () => 'This input has one channel: the loopback has nowhere to come in. Sweep the cable instead.',
  'capture-columns': () =>
    'No line has a time and a voltage. Columns of time and one or two voltages are read, with any heading.',
  'capture-row': (data) => `Line ${data.line} is no row of numbers like those before: “${data.text}”.`,
  'capture-uneven': (data) => `At line ${data.line} the times are not evenly spaced: save the capture without gaps.`,
  'capture-short': (data) => `The capture has ${data.rows} rows; ${data.least} are the least that says anything.`,
  'capture-long': (data) =>
    `The capture has ${data.letters} letters; the most is ${data.most}. Save it with fewer points.`,
  'capture-too-coarse': (data) =>
    `The capture has ${hz(data.rateHz)} samples a second; tones up to the sweep’s last need ` +
    `${hz(data.neededHz)}. Capture it finer, or set where the sweep ended.`,
  'not-acoustic': () => 'Only ways that sound together in the air have distances to be found.',
  'reference-missing': () => 'Sweep the cable first, or the source without the driver: it is divided out.',
  'card-dropped': (data) => `${data.samples} samples were lost on the way: the machine was busy. Sweep again.`,
};
