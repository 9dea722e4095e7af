import { hz, plain } from '../figures';
import type { FailureWords } from './failure-words';

/** What a hump was looked for on. */
const humpPlace = (way: string, on: unknown): string =>
  on === 'sum' ? 'The sum' : on === 'driver' ? `The driver of ${way} by itself` : way;

/** What fails of drivers, their files, coils and crossovers. */
export const SPEAKER_FAILURES: FailureWords = {
  'no-room': (data) =>
    `Not one turn of ${plain(data.wireMm)}\u202fmm goes between cheeks ${plain(data.widthMm)}\u202fmm apart.`,
  'too-many-turns': (data) => `That would be over ${data.most} turns: take a wider former.`,
  'no-such-way': (data) => `This variant has no way called ${data.way}: hear all drivers, or call its way the same.`,
  'part-list': (data) => `${data.item ? `“${data.item}”: ` : ''}${data.message}.`,
  'which-curve': (data) =>
    `Nothing in ${data.name} tells whether it is a response or an impedance: its numbers could be either. Name ` +
    `its columns in a first line (Hz and dB, or Hz and ohm), or give it the ending .frd or .zma.`,
  'contradicting-file': (data) =>
    `${data.name} ends as a file of ${data.says === 'impedance' ? 'an impedance' : 'a response'}, but line ` +
    `${data.line} says “${data.heading}”. Give it the ending of what it is. Nothing was changed.`,
  'not-decibels': (data) =>
    `Line ${data.line}: the response is in ${data.what}; decibels are wanted (20 log of volts or pascals, 10 log ` +
    `of watts). Nothing was changed.`,
  'vertical-angle': (data) =>
    `${data.name} is a response above or below the axis; drivers are taken as alike up and across, so only those ` +
    `to the side are wanted. Nothing was changed.`,
  'no-impedance': (data) => `This cannot be a driver’s impedance: it is ${data.reason}. Nothing was changed.`,
  'no-overlap': (data) =>
    `The two do not overlap there: both are known from ${hz(data.fromHz)} to ${hz(data.toHz)}. Choose a ` +
    `frequency well inside. Nothing was changed.`,
  'no-hump': (data) =>
    `${humpPlace(String(data.way), data.on)} has no hump in the range that counts. Point the cursor at what ` +
    `you mean and take “at the cursor”.`,
};
