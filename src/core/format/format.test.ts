import { curvesSvg, sheetSvg } from './svg';
import { variantSheet } from './variant-sheet';
import { readResponseText } from './response-text';
import { writeCsv } from './csv';
import { compareWithPrediction } from '../measure/compare';
import { topologyById } from '../topology/index';
import { must } from '../result';

describe('readResponseText', () => {
  test.each([
    ['comma, header', 'freq,dB,deg\n100,-1,10\n1000,-3,45', 2, true],
    ['blanks and comments', '* swept\n# again\n100   -1\n1000   -3\n', 2, false],
    ['tabs', '100\t-1\t5\n200\t-2\t6', 2, true],
    ['semicolons with decimal commas', '100,5;-1,25\n200;-2,5', 2, false],
    ['blanks with decimal commas', '100 -1,25\n200 -2,5', 2, false],
    ['comma and blank', '100, -1, 5\n200, -2, 6', 2, true],
    ['exponents and true minus', '1e2 −1\n2.0E+2 −2', 2, false],
    ['old line ends and a mark at the start', '﻿100 -1\r200 -2\r', 2, false],
    ['four columns: the rest is not used', '100 -1 5 0.9\n200 -2 6 0.8', 2, true],
    ['quoted header', '"Frequency","Level"\n100,-1\n200,-2', 2, false],
  ])('%s', (_, text, points, phase) => {
    const read = must(readResponseText(text));
    expect(read.freqHz).toHaveLength(points);
    expect(read.phaseDeg !== null).toBe(phase);
    expect(read.levelDb[1]).toBeLessThan(0);
  });
  test('decimal commas are read as such', () =>
    expect(must(readResponseText('100,5;-1,25\n200;-2,5'))).toMatchObject({
      freqHz: [100.5, 200],
      levelDb: [-1.25, -2.5],
    }));
  test('points out of order are sorted, and said to be', () =>
    expect(must(readResponseText('200 -2\n100 -1'))).toMatchObject({
      freqHz: [100, 200],
      levelDb: [-1, -2],
      sorted: true,
    }));
  test.each([
    ['', 'empty-file', {}],
    ['\n \n', 'empty-file', {}],
    ['a\0b', 'binary-file', {}],
    ['only words\nhere', 'no-numbers', {}],
    ['100 -1', 'too-few-points', { points: 1 }],
    ['100 -1\noops\n200 -2', 'bad-line', { line: 2, text: 'oops' }],
    ['100 -1\n200', 'column-count', { line: 2, columns: 1 }],
    ['100 -1 5\n200 -2', 'column-count', { line: 2, columns: 2 }],
    ['100 -1\n-5 -2', 'bad-frequency', { line: 2, value: -5 }],
    ['0 -1\n5 -2', 'bad-frequency', { line: 1, value: 0 }],
    ['100 -1\n100 -2', 'repeated-frequency', { line: 2, value: 100 }],
    ['<html><body>1 2</body>', 'no-numbers', {}],
  ])('%j is refused as %s', (text, code, data) =>
    expect(readResponseText(text)).toMatchObject({ ok: false, code, data }),
  );
});

describe('compareWithPrediction', () => {
  const predicted = {
    freqHz: Float64Array.of(10, 100, 1000, 10000),
    levelDb: Float64Array.of(0, 0, -3, -40),
  };
  const measured = { freqHz: [10, 100, 1000, 10000], levelDb: [-6, -6, -9, -44] };
  test('aligned, the level of the pass band is taken out and the difference left', () => {
    const { offsetDb, differenceDb, worst } = compareWithPrediction(measured, predicted, {
      aligned: true,
    });
    expect(offsetDb).toBeCloseTo(6, 12);
    expect([...differenceDb]).toEqual([0, 0, 0, 2].map((v) => expect.closeTo(v, 12)));
    expect(worst).toMatchObject({ freqHz: 10000 });
  });
  test('not aligned, nothing is taken out; outside the prediction there is no difference', () => {
    const { differenceDb, rmsDb } = compareWithPrediction({ freqHz: [1, 10], levelDb: [0, 1] }, predicted, {
      aligned: false,
    });
    expect(differenceDb[0]).toBeNaN();
    expect(differenceDb[1]).toBe(1);
    expect(rmsDb).toBe(1);
  });
});

test('CSV quotes what needs it', () =>
  expect(
    writeCsv(
      ['a', 'b'],
      [
        ['x, y', 1],
        ['"q"', 2],
      ],
    ),
  ).toBe('a,b\n"x, y",1\n"""q""",2\n'));

test('SVG files are well formed, hold every part, and escape what was typed', () => {
  const values = { R1: 1e4, R2: 1e4, C1: 2e-9, C2: 1e-9 };
  const svg = sheetSvg(
    variantSheet({
      title: 'a < b & "c"',
      lines: [],
      source: ['<pickup>'],
      resistorSymbol: 'zigzag',
      ways: [
        {
          name: null,
          from: null,
          outputResistor: { name: 'Rout', ohm: 220 },
          to: ['load'],
          stages: [
            {
              wayId: 'w',
              stageId: 's',
              name: '1',
              drawing: topologyById('sallen-key-unity-gain').drawing('lowpass', values),
              options: { values, resistorSymbol: 'zigzag', leftOut: { C1: 'open' } },
            },
          ],
        },
      ],
    }),
  );
  for (const text of [
    'R1',
    'R2',
    'C2',
    '10 kΩ',
    '1 nF',
    'empty',
    '220 Ω',
    'a &lt; b &amp; &quot;c&quot;',
    '&lt;pickup&gt;',
  ])
    expect(svg).toContain(text);
  expect(svg.match(/<g/g)?.length).toBe(svg.match(/<\/g>/g)?.length);
  const curves = curvesSvg({
    title: 't',
    freqHz: [20, 200, 2000],
    traces: [{ name: 'as built', freqHz: [20, 200, 2000], levelDb: [0, -3, -20], colour: '#000' }],
    topDb: 10,
    bottomDb: -60,
  });
  expect(curves).toContain('as built');
  expect(curves).not.toContain('NaN');
});

test('thousands set apart by points and decimals by a comma are read as such, and never as 1 Hz', () => {
  const read = must(readResponseText('f\tlevel\n999,5 -3,0\n1.000,5 -3,25\n12.500,0 -40,5\n'));
  expect(read.freqHz).toEqual([999.5, 1000.5, 12500]);
  expect(read.levelDb).toEqual([-3, -3.25, -40.5]);
});

test.each(['-1+cmd()', '+1+cmd|x', ' =1+1', '\t@SUM(A1)', '  -cmd', '-', '＝1+1', '-2;3', '+0x10', '-1e5x'])(
  '%j is written as text',
  (cell) => {
    expect(
      writeCsv(['v'], [[cell]])
        .split('\n')
        .slice(1)
        .join('\n'),
    ).toContain(`'${cell}`);
  },
);
test.each(['-1', '+1.5', '-.5', '-1e-9', '+2E3', ' -3 ', 'a=b', '1-2', ''])('%j is written as it is', (cell) => {
  expect(writeCsv(['v'], [[cell, 'x']])).not.toContain("'");
});

test('no cell of a table is a formula to a spreadsheet; numbers with a sign stay numbers', () => {
  const text = writeCsv(
    ['name', 'v'],
    [
      ['=1+1', -3.5],
      ['@SUM(A1)', '+2e-3'],
      ['-cmd', '-'],
      ['plain', '=x'],
    ],
  );
  expect(text).toBe(`name,v\n"'=1+1",-3.5\n"'@SUM(A1)",+2e-3\n"'-cmd","'-"\nplain,"'=x"\n`);
});

test.each([
  ['1000 1e308', { line: 2, what: 'level in dB' }],
  ['1e12 0', { line: 2, what: 'frequency in Hz' }],
  ['1000 0 1e9', { line: 2, what: 'phase in degrees' }],
])('a measured curve with %s is refused with its line', (line, data) => {
  const first = line.split(' ').length === 3 ? '100 0 0' : '100 0';
  expect(readResponseText(`${first}\n${line}\n`)).toMatchObject({ ok: false, code: 'out-of-range', data });
});
