import type { Failure } from '@/core/result';
import { formatFixed } from '@/core/units/quantity';
import type { FailureWords } from './failure-words';

const unreadLines = (data: Failure['data']): string =>
  `These do not read: ${(data.faults as readonly string[]).join('; ')}. Mend them and read the file again; ` +
  'nothing was changed.';

/** Why a file, a link or a table was not read or written. */
export const FILE_FAILURES: FailureWords = {
  'bank-columns': (data) =>
    `No column is known as ${(data.missing as readonly string[]).join(' or ')}. Choose which of yours it ` +
    `is; R1b, trimmer and wanted_hz may be left out.`,
  'bank-lines': unreadLines,
  'bank-long': (data) => `The table has more than ${data.most} lines: no bank has. Nothing was changed.`,
  'bank-bands': (data) => `A bank has between 2 and ${data.most} bands, their centres rising.`,
  'stock-columns': (data) =>
    `The first line names no column called ${(data.missing as readonly string[]).join(' or ')}. It wants ` +
    `kind, value, count, and may have name, tolerance, grade and price. Nothing was changed.`,
  'stock-lines': unreadLines,
  'out-of-range': (data) =>
    `Line ${data.line}: ${String(data.value)} cannot be a ${data.what}; it is wanted between ` +
    `${String(data.min)} and ${String(data.max)}. Nothing was changed.`,
  'op-amp-columns': (data) =>
    `The first line names no column called ${(data.missing as readonly string[]).join(' or ')}. It wants ` +
    `name and gain_bandwidth_hz, and may have the other figures that Write op-amps gives. Nothing was ` +
    `changed.`,
  'op-amp-lines': unreadLines,
  'broken-link': (data) =>
    data.reason === 'nothing'
      ? 'There is no design in this link. Ask for it again, or for the design as a file.'
      : 'This link was cut or changed on its way, so its design cannot be read. Ask for it again, or for a file.',
  'not-json': (data) => `This is not a design file: it does not read as JSON (${data.message}). Nothing was changed.`,
  'not-a-design': () => 'This file is JSON, but not a design of this program. Nothing was changed.',
  'newer-version': (data) =>
    `This design was written by a newer program (version ${data.version}; this one knows ${data.known}). ` +
    `It was left untouched.`,
  'broken-design': (data) =>
    `This design file is damaged: ${(data.issues as readonly string[]).join('; ')}. Nothing was changed.`,
  deck: (data) => `${Number(data.line) > 0 ? `Line ${data.line}: ` : ''}${data.message}. Nothing was changed.`,
  'empty-file': () => 'The file is empty. Nothing was changed.',
  'binary-file': () => 'This is not a text file. Nothing was changed.',
  'no-numbers': () =>
    'No line of this file begins with numbers. It wants two or three columns: frequency in Hz, level in ' +
    'dB, phase in degrees.',
  'file-too-large': (data) => `It is over ${data.most}\u202fMB: no curve of a driver is. Nothing was changed.`,
  'not-a-wav': () => 'This is no WAV file. Export the recording as WAV and give that.',
  'wav-format': (data) =>
    `A WAV of format ${data.format} with ${data.bits} bits is not read; 16, 24 or 32 bits, or floats, are.`,
  'not-a-zip': (data) => `${data.file} begins like a zip, and has no entry that can be found. Nothing was changed.`,
  'zip-too-large': (data) => `${data.file} has more than ${data.most} entries: no backup has. Nothing was changed.`,
  'shelf-too-large': (data) =>
    `${data.file} is over ${data.most}\u202fMB: neither a design nor a backup is. Nothing was changed.`,
  'no-such-angle': (data) =>
    `${data.name} names an angle of more than a whole turn. Name it 0 to 180 degrees off the axis; nothing was ` +
    'changed.',
  'wav-rate': (data) =>
    `The file says ${data.rateHz} samples a second: no sound card runs so. Export the recording again.`,
  'wav-values': (data) =>
    `At ${formatFixed(Number(data.atS), 3)}\u202fs there is a sample that is no sound. Export the recording again.`,
  'capture-rate': (data) =>
    `Its times come to ${data.rateHz} rows a second. Say in the heading what they are counted in: s, ms, µs or ns.`,
  'broken-entry': (data) =>
    ({
      checksum: 'it was changed on its way, its checksum does not hold',
      damaged: 'it is damaged and cannot be unpacked',
      'too-large': 'it unpacks to more than a backup holds',
      'not-supported': 'it is packed or locked in a way that is not read',
      twice: 'it is in the file twice, the first was read',
    })[String(data.why)] ?? 'it does not read',
  'reading-lost': (data) =>
    `${data.file} could not be read to its end: the browser gave up, most likely for want of memory. ` +
    'Nothing was changed.',
  'missing-file': () => 'the backup says that it should be there, and it is not.',
  'changed-file': () => 'it is not as the backup wrote it; it was read as it stands.',
  'newer-backup': (data) =>
    `the backup was written by a newer program (version ${data.version}; this one knows ${data.known}): ` +
    'what it knows of it was read.',
  'empty-zip': (data) => `${data.file} holds no design, stock, driver or op-amp. Nothing was changed.`,
  'broken-table': (data) => `${(data.issues as readonly string[]).join('; ')}: left out.`,
  'bad-line': (data) =>
    `Line ${data.line}, “${data.text}”, does not read as numbers. Mend that line and try again; nothing ` +
    `was changed.`,
  'column-count': (data) =>
    `Line ${data.line} has ${data.columns} column${data.columns === 1 ? '' : 's'} unlike the lines ` +
    `before it; two or three are wanted on every line. Nothing was changed.`,
  'bad-frequency': (data) => `Line ${data.line}: a frequency of ${data.value}\u202fHz cannot be. Nothing was changed.`,
  'repeated-frequency': (data) => `Line ${data.line}: ${data.value}\u202fHz stands there twice. Nothing was changed.`,
  'too-few-points': () => 'One point is no curve: at least two are wanted. Nothing was changed.',
  'too-many-points': (data) => `More than ${data.most} points. Thin them out and try again; nothing was changed.`,
  'not-in-a-deck': (data) => `A deck cannot say what ${data.element} is; it was not written.`,
  'not-fetched': () =>
    'What does that could not be fetched from where this page comes from. Nothing was changed; try again when it can ' +
    'be reached.',
  'no-picture': () => 'The browser made no picture of what is in front. The curves as SVG say the same.',
  'wav-long': (data) =>
    `The file has ${data.megabytes}\u202fMB; ${data.most} are read. Cut it to the sweep and a second more.`,
};
