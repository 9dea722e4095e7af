import { must } from '../result';
import { formatQuantity, formatSigned, parseQuantity } from './quantity';

describe('parseQuantity', () => {
  test.each([
    ['4k7', 'resistance', 4700],
    ['4.7k', 'resistance', 4700],
    ['4,7 kΩ', 'resistance', 4700],
    ['4700', 'resistance', 4700],
    ['R47', 'resistance', 0.47],
    ['4r7', 'resistance', 4.7],
    ['1M', 'resistance', 1e6],
    ['10 ohm', 'resistance', 10],
    ['2n2', 'capacitance', 2.2e-9],
    ['2.2 nF', 'capacitance', 2.2e-9],
    ['0.0022u', 'capacitance', 2.2e-9],
    ['100p', 'capacitance', 1e-10],
    ['1µF', 'capacitance', 1e-6],
    ['1.2 kHz', 'frequency', 1200],
    ['1k2', 'frequency', 1200],
    ['45', 'frequency', 45],
    ['-3 dB', 'decibel', -3],
    ['−6', 'decibel', -6],
    ['5%', 'percent', 5],
    ['0.707', 'ratio', 0.707],
    ['250m', 'voltage', 0.25],
    ['2e3', 'frequency', 2000],
  ] as const)('%s as %s is %d', (text, kind, value) =>
    expect(must(parseQuantity(text, kind))).toBe(value),
  );

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
    [4700, 'resistance', {}, '4.7 kΩ'],
    [2.2e-9, 'capacitance', {}, '2.2 nF'],
    [999.96, 'frequency', { digits: 4 }, '1 kHz'],
    [1250, 'frequency', { digits: 4, fixed: true }, '1.250 kHz'],
    [0, 'frequency', {}, '0 Hz'],
    [-3.0103, 'decibel', { digits: 3 }, '−3.01 dB'],
    [23700, 'resistance', { bare: true }, '23.7 k'],
    [Infinity, 'resistance', {}, '∞'],
  ] as const)('%d as %s', (value, kind, options, text) =>
    expect(formatQuantity(value, kind, options)).toBe(text),
  );

  test('a change carries its sign, and a rounded zero none', () => {
    expect(formatSigned(0.41, 'percent', 1)).toBe('+0.4 %');
    expect(formatSigned(-0.004, 'decibel')).toBe('0.00 dB');
  });
});
