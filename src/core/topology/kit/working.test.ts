import { withNumbers } from './working';

/** As it is read: spaces of typesetting and units taken out. */
const read = (tex: string, parts: Record<string, number>): string =>
  withNumbers(tex, parts)
    .replace(/\\,|\\mathrm|\\Omega |\s/g, (found) => (found === '\\Omega ' ? 'Ω' : ''))
    .replace(/\{(\w+Ω?)\}/g, '$1');

test.each([
  // A denominator is no factor beside what is over it.
  ['\\frac{P_1}{4}', { P1: 10e3 }, '\\frac{{10kΩ}}4'],
  ['R_1 R_2', { R1: 10e3, R2: 22e3 }, '{10kΩ}\\cdot{22kΩ}'],
  ['R_1 \\, R_2', { R1: 10e3, R2: 22e3 }, '{10kΩ}\\cdot{22kΩ}'],
  ['(1 + K) R_2', { R2: 22e3 }, '(1+K)\\cdot{22kΩ}'],
  // Two times 220 nF is not 2220.
  ['C_2 = 2C_1', { C1: 220e-9 }, 'C_2=2\\cdot{220nF}'],
  ['R_1 + R_9', { R1: 1e3 }, '{1kΩ}+R_9'],
])('%s with numbers', (tex, parts, expected) => {
  expect(read(tex, parts)).toBe(expected);
});
