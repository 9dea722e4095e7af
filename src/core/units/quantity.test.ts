import fc from 'fast-check';
import { must } from '../result';
import { doubtOf, formatFixed, formatQuantity, formatSigned, impossible, parsePair, parseQuantity } from './quantity';
import type { QuantityKind } from './quantity';

describe('parseQuantity', () => {
  test.each([
    ['4k7', 'resistance', 4700],
    ['4.7k', 'resistance', 4700],
    ['4,7 kΩ', 'resistance', 4700],
    ['4700', 'resistance', 4700],
    ['R47', 'resistance', 0.47],
    ['4r7', 'resistance', 4.7],
    ['1M', 'resistance', 1e6],
    ['10 ohm', 'resistance', 10],
    ['2n2', 'capacitance', 2.2e-9],
    ['2.2 nF', 'capacitance', 2.2e-9],
    ['0.0022u', 'capacitance', 2.2e-9],
    ['100p', 'capacitance', 1e-10],
    ['1µF', 'capacitance', 1e-6],
    ['1.2 kHz', 'frequency', 1200],
    ['1k2', 'frequency', 1200],
    ['45', 'frequency', 45],
    ['-3 dB', 'decibel', -3],
    ['−6', 'decibel', -6],
    ['5%', 'percent', 5],
    ['0.707', 'ratio', 0.707],
    ['250m', 'voltage', 0.25],
    ['2e3', 'frequency', 2000],
  ] as const)('%s as %s is %d', (text, kind, value) => expect(must(parseQuantity(text, kind))).toBe(value));

  test.each([
    ['4k7x', 'resistance', 'k7x'],
    ['abc', 'frequency', 'abc'],
    ['4k7k', 'resistance', 'k7k'],
    ['12 dBm', 'decibel', 'dBm'],
    ['1..2', 'ratio', '.2'],
  ] as const)('%s is refused, and says what was left over', (text, kind, rest) =>
    expect(parseQuantity(text, kind)).toEqual({
      ok: false,
      code: 'quantity-unreadable',
      data: { text, rest },
    }),
  );

  test('nothing typed is its own failure', () =>
    expect(parseQuantity('  ', 'frequency')).toMatchObject({ code: 'quantity-empty' }));
});

describe('formatQuantity', () => {
  test.each([
    [4700, 'resistance', {}, '4.7 kΩ'],
    [2.2e-9, 'capacitance', {}, '2.2 nF'],
    [999.96, 'frequency', { digits: 4 }, '1 kHz'],
    [1250, 'frequency', { digits: 4, fixed: true }, '1.250 kHz'],
    [0, 'frequency', {}, '0 Hz'],
    [-3.0103, 'decibel', { digits: 3 }, '−3.01 dB'],
    [23700, 'resistance', { bare: true }, '23.7 k'],
    [Infinity, 'resistance', {}, '∞'],
    // Beyond the last prefix by its power of ten, never as nothing.
    [1e-308, 'frequency', {}, '1e-308\u202fHz'],
    [-2.5e20, 'voltage', {}, '−2.5e+20\u202fV'],
    [1e-15, 'capacitance', {}, '1\u202ffF'],
  ] as const)('%d as %s', (value, kind, options, text) => expect(formatQuantity(value, kind, options)).toBe(text));

  test('a change carries its sign, and a rounded zero none', () => {
    expect(formatSigned(0.41, 'percent', 1)).toBe('+0.4 %');
    expect(formatSigned(-0.004, 'decibel')).toBe('0.00 dB');
  });
});

test('what hardly anyone means is doubted, with what may have been meant; what is usual is not', () => {
  expect(doubtOf(470, 'capacitance')).toMatchObject({ meant: 470e-12 });
  expect(doubtOf(4.7e-9, 'frequency')).toMatchObject({ meant: null, low: 1e-3 });
  expect(doubtOf(1e9, 'frequency')).not.toBeNull();
  // Both sides of where it begins.
  for (const [kind, low, high] of [
    ['resistance', 1e-3, 1e10],
    ['capacitance', 1e-13, 0.1],
    ['inductance', 1e-9, 100],
    ['frequency', 1e-3, 1e7],
  ] as const)
    expect([low * 0.99, low * 1.01, high * 0.99, high * 1.01].map((v) => doubtOf(v, kind) !== null)).toEqual([
      true,
      false,
      false,
      true,
    ]);
  for (const [value, kind] of [
    [470e-12, 'capacitance'],
    [0.1, 'capacitance'],
    [20, 'frequency'],
    [10e6, 'resistance'],
    [-3, 'decibel'],
    [0, 'resistance'],
  ] as const)
    expect(doubtOf(value, kind)).toBeNull();
});

test('two values for one: added in series or side by side as the kind has it, or side by side', () => {
  expect(parsePair('220n+220n', 'capacitance')).toEqual({ kind: 'parallel', values: [220e-9, 220e-9] });
  expect(parsePair('100k || 4k7', 'resistance')).toEqual({ kind: 'parallel', values: [100e3, 4700] });
  expect(parsePair('10k + 330', 'resistance')).toEqual({ kind: 'series', values: [10e3, 330] });
  for (const text of ['4.7e+3', '10k+', '||10k', '10k', '1k+x']) expect(parsePair(text, 'resistance')).toBeNull();
});

const KINDS = [
  ['resistance', 'capacitance', 'inductance', 'frequency', 'voltage', 'current', 'time'],
  ['decibel', 'percent', 'degree', 'slew', 'ratio'],
].flat() as readonly QuantityKind[];

test('whatever a figure comes to, what is shown is a number that can be read back, a dash or ∞', () => {
  const READABLE = /^(?:[+−]?(?:\d+(?:\.\d+)?|∞)|–)(?:\u202f?\D{0,4})?$/u;
  fc.assert(
    fc.property(fc.double(), fc.constantFrom(...KINDS), fc.integer({ min: 0, max: 6 }), (value, kind, decimals) => {
      for (const text of [
        formatQuantity(value, kind, { digits: decimals + 1 }),
        formatSigned(value, kind, decimals),
        formatFixed(value, decimals),
      ]) {
        // What is beyond 1e21 is written with its power of ten.
        expect(text.replace(/e[+-]\d+/, '')).toMatch(READABLE);
        expect(text).not.toMatch(/NaN|Infinity|undefined/);
      }
    }),
    {
      seed: 15,
      numRuns: 5000,
      examples: [
        [NaN, 'decibel', 2],
        [Infinity, 'percent', 1],
        [-Infinity, 'ratio', 0],
      ],
    },
  );
  expect([formatSigned(Infinity, 'percent'), formatSigned(NaN, 'decibel'), formatFixed(-Infinity, 1)]).toEqual([
    '+∞',
    '–',
    '−∞',
  ]);
  expect([formatFixed(-0.04, 1), formatFixed(-0.06, 1), formatFixed(1234.5, 0)]).toEqual(['0.0', '−0.1', '1235']);
});

test.each([
  ['frequency', 1e-6, 1e11],
  ['resistance', 1e-6, 1e15],
  ['capacitance', 1e-16, 1e4],
  ['inductance', 1e-12, 1e5],
  ['time', 1e-13, 1e8],
  ['voltage', 1e-12, 1e6],
  ['current', 1e-18, 1e6],
  ['decibel', 0, 400],
] as const)('a %s can be anything from %s to %s, either sign, and nothing at all', (kind, low, high) => {
  for (const sign of [1, -1]) {
    for (const size of [low, high]) expect(impossible(sign * size, kind)).toBeNull();
    expect(impossible(sign * high * 1.001, kind)).toEqual([low, high]);
    if (low > 0) expect(impossible(sign * low * 0.999, kind)).toEqual([low, high]);
  }
  expect(impossible(0, kind)).toBeNull();
});
