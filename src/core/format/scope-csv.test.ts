import { must } from '../result';
import { readScopeCsv } from './scope-csv';

const rows = (of: (i: number) => string, count = 300): string =>
  Array.from({ length: count }, (_, i) => of(i)).join('\n');
const volts = (i: number) => Math.sin(i / 7);

test.each<[string, string, number, number]>([
  ['two columns and commas', rows((i) => `${(i * 1e-5).toExponential(6)},${volts(i)}`), 1e5, 1],
  [
    'three columns and a heading',
    `Time (s),CH1 (V),CH2 (V)\n${rows((i) => `${i * 1e-4},${volts(i)},${2 * volts(i)}`)}`,
    1e4,
    2,
  ],
  ['milliseconds by the heading', `t in ms;A;B\n${rows((i) => `${i * 0.02};${volts(i)};0`)}`, 5e4, 2],
  ['microseconds, their unit in a line of its own', `x-axis,1\nµs,V\n${rows((i) => `${i * 20},${volts(i)}`)}`, 5e4, 1],
  [
    'decimal commas',
    rows((i) => `${String(i * 1e-4).replace('.', ',')};${String(volts(i)).replace('.', ',')}`),
    1e4,
    1,
  ],
  ['times before the trigger', rows((i) => `${((i - 150) * 1e-4).toFixed(4)} ${volts(i)}`), 1e4, 1],
  ['times of few digits', rows((i) => `${(i * 2.5e-5).toFixed(4)}\t${volts(i)}`), 4e4, 1],
  [
    'line ends of another system, and empty lines',
    `${rows((i) => `${i * 1e-4},1${i}`)}\r\n\r\n`.replace(/\n/g, '\r\n'),
    1e4,
    1,
  ],
])('reads %s', (_, text, rateHz, channels) => {
  const capture = must(readScopeCsv(text));
  expect(capture.rateHz / rateHz).toBeCloseTo(1, 2);
  expect(capture.channels).toHaveLength(channels);
  expect(capture.channels[0]).toHaveLength(300);
});

test('values are those of the columns', () => {
  const { channels } = must(readScopeCsv(rows((i) => `${i * 1e-4},${volts(i)},${2 * volts(i)}`)));
  expect(channels[0][11]).toBeCloseTo(volts(11), 12);
  expect(channels[1][11]).toBeCloseTo(2 * volts(11), 12);
});

test.each<[string, string, string, object]>([
  ['words', 'dear aunt\nthe weather', 'capture-columns', {}],
  ['a picture', '\u0089PNG\r\n\u001a\n\u0000\u0000', 'capture-columns', {}],
  ['a broken line', `${rows((i) => `${i * 1e-4},1`)}\n0.03`, 'capture-row', { line: 301 }],
  ['few rows', rows((i) => `${i},1`, 255), 'capture-short', { rows: 255, least: 256 }],
  ['a gap in the middle', rows((i) => `${(i < 150 ? i : i + 40) * 1e-4},1`), 'capture-uneven', {}],
  ['times that turn back', rows((i) => `${(i === 200 ? 100 : i) * 1e-4},1`), 'capture-uneven', { line: 201 }],
  ['times that stand', rows(() => '0,1'), 'capture-uneven', {}],
])('refuses %s, and says where', (_, text, code, data) => {
  expect(readScopeCsv(text)).toMatchObject({ ok: false, code, data });
});

test.each<[string, (row: number) => string, string, object]>([
  ['a voltage that nothing has', (i) => `${i}e-6,${i === 300 ? '1e308' : '0.5'}`, 'capture-row', { line: 301 }],
  ['rows closer than any scope has them', (i) => `${i}e-15,0.5`, 'capture-rate', {}],
  ['rows an hour apart', (i) => `${3600 * i},0.5`, 'capture-rate', {}],
])('%s is refused', (_, row, code, data) => {
  const text = Array.from({ length: 400 }, (_, i) => row(i)).join('\n');
  expect(readScopeCsv(text)).toMatchObject({ ok: false, code, data });
});
