import { must } from '../result';
import { readDriverCurve } from './response-text';

/** Kinds of files that measuring programs and people leave: each reads to the same three points, or to what it says. */
const three = { freqHz: [100, 1000, 10000], values: [84.5, 88, 86.25] };

test.each<[string, string, { phaseDeg?: number[] | null; passedOver?: number; sorted?: boolean }]>([
  ['two columns and blanks', '100 84.5\n1000 88\n10000 86.25\n', { phaseDeg: null, passedOver: 0 }],
  ['three columns and tabs', '100\t84.5\t10\n1000\t88\t-20\n10000\t86.25\t-170', { phaseDeg: [10, -20, -170] }],
  ['commas', '100,84.5\n1000,88\n10000,86.25', { phaseDeg: null }],
  ['semicolons', '100;84.5;0\n1000;88;0\n10000;86.25;0', { phaseDeg: [0, 0, 0] }],
  ['decimal commas between semicolons', '100;84,5\n1000;88,0\n10000;86,25', { phaseDeg: null }],
  ['decimal commas between blanks', '100,0 84,5\n1000,0 88,0\n10000,0 86,25', { phaseDeg: null }],
  [
    'comment lines of every sort',
    '* sweep\n# two\n; three\n" four\n// five\n100 84.5\n1000 88\n10000 86.25',
    { passedOver: 5 },
  ],
  ['a header in words', 'Freq(Hz) SPL(dB)\n100 84.5\n1000 88\n10000 86.25', { passedOver: 1 }],
  ['comments between the numbers', '100 84.5\n* tweeter takes over\n1000 88\n10000 86.25', { passedOver: 1 }],
  ['exponents', '1e2 8.45e1\n1.0E3 8.8E+1\n1e4 8.625e1', {}],
  ['line ends of three systems and a mark at the front', '\uFEFF100 84.5\r\n1000 88\r10000 86.25\n', {}],
  ['highest frequency first', '10000 86.25\n1000 88\n100 84.5', { sorted: true }],
  ['a fourth column', '100 84.5 0 0.98\n1000 88 0 0.99\n10000 86.25 0 0.97', { phaseDeg: [0, 0, 0] }],
])('reads %s', (_, text, also) => {
  expect(must(readDriverCurve(text, 'response'))).toMatchObject({ ...three, ...also });
});

test.each<[string, 'response' | 'impedance', string, string, object]>([
  ['an empty file', 'response', '\n \n', 'empty-file', {}],
  ['what is no text', 'response', '100 84\n\u0000\u0001', 'binary-file', {}],
  ['words alone', 'response', '* only\nwords here', 'no-numbers', {}],
  ['a single point', 'response', '100 84', 'too-few-points', { points: 1 }],
  ['one column', 'response', '100\n200', 'column-count', { line: 1, columns: 1 }],
  ['a line that breaks off', 'response', '100 84 0\n200 85', 'column-count', { line: 2 }],
  ['a word among numbers', 'response', '100 84\n200 eighty', 'bad-line', { line: 2, text: '200 eighty' }],
  ['a frequency of nothing', 'response', '0 84\n100 85', 'bad-frequency', { line: 1, value: 0 }],
  ['a frequency twice', 'response', '100 84\n200 85\n100 86', 'repeated-frequency', { line: 3, value: 100 }],
  [
    'a level that is none',
    'response',
    '100 84\n200 8500',
    'out-of-range',
    { line: 2, value: 8500, what: 'level in dB' },
  ],
  [
    'an impedance below nothing',
    'impedance',
    '* z\n100 8\n200 -8',
    'out-of-range',
    { line: 3, value: -8, what: 'impedance in ohm' },
  ],
  ['a frequency of light', 'impedance', '100 8\n2000000 9', 'out-of-range', { line: 2, what: 'frequency in Hz' }],
])('refuses %s, and says where', (_, kind, text, code, data) => {
  expect(readDriverCurve(text, kind)).toMatchObject({ ok: false, code, data });
});
