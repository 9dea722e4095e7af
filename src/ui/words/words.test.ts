import { checkWords } from './checks';
import { failureWords } from './failures';
import { quantityWords } from './quantities';
import type { Check, CheckCode } from '@/core/jobs/desk/desk-types';
import { failure } from '@/core/result';
import { parseQuantity } from '@/core/units/quantity';

const check = (patch: Partial<Check>): Check => ({
  id: 'x',
  level: 'bad',
  code: 'range',
  stageId: null,
  data: { name: 'Low-pass 1' },
  cure: null,
  ...patch,
});

describe('checks as sentences with numbers and a cure', () => {
  test.each([
    ['decibel', 6.5584, 6.0206, '6.56\u202fdB for 6.02\u202fdB'],
    ['frequency', 72.34, 65, '72.3\u202fHz for 65\u202fHz'],
  ])('what a circuit misses is said in its own unit: %s', (kind, got, wanted, said) => {
    const data = { name: 'Divider', what: 'loss', kind, got, wanted, tolerancePct: 5 };
    expect(checkWords(check({ code: 'off-target', data })).text).toContain(`loss comes out at ${said}`);
  });

  test('a load through an output resistor', () => {
    const words = checkWords(
      check({
        code: 'joint-load',
        data: {
          load: 'Mixer',
          seesOhm: 2200,
          fromOhm: 1000,
          lossDb: -3.2545,
          atHz: 1000,
          index: 4,
        },
        cure: { kind: 'set-output-resistor', ohm: 47 },
      }),
    );
    expect(words.text).toBe('Mixer 2.2 kΩ costs 3.25 dB through 1 kΩ at 1 kHz.');
    expect(words.cure).toBe('Lower it to 47 Ω');
  });

  test('bandwidth says both shifts', () => {
    const words = checkWords(
      check({
        level: 'warn',
        code: 'bandwidth',
        data: {
          name: 'Low-pass 2',
          gainBandwidthHz: 3e6,
          cutoffPct: -1.234,
          qPct: 2.5,
          margin: 61.4,
        },
        cure: { kind: 'use-device', stageId: 's', device: 'low-noise-bipolar-10mhz' },
      }),
    );
    expect(words.text).toContain('3 MHz op-amp moves the cutoff −1.23 % and Q +2.50 %');
    expect(words.cure).toBe('Take Low-noise bipolar, 10 MHz');
  });

  test.each<[CheckCode, Check['data'], string]>([
    ['brief-met', { byDb: 0.74, atHz: 500 }, 'Brief met, with 0.74 dB to spare at 500 Hz.'],
    ['brief-missed', { byDb: -6, atHz: 9000 }, 'Brief missed by 6 dB at 9 kHz.'],
    ['gain-short', { db: 12 }, 'These circuits fall 12 dB short of the gain asked for.'],
    [
      'not-stable',
      { name: 'Low-pass 1', device: 'Fast', needs: 5, noiseGain: 1 },
      'Low-pass 1: Fast needs a noise gain of 5; this circuit has 1 and would oscillate.',
    ],
    [
      'slew',
      { name: 'Low-pass 1', needs: 2e6, has: 13e6, atHz: 20e3 },
      'Low-pass 1: needs 2 V/µs of 13 V/µs at 20 kHz.',
    ],
    [
      'resistor-high',
      { name: 'Low-pass 1', part: 'R2', value: 2.2e6, limit: 1e6 },
      'Low-pass 1: R2 2.2 MΩ is over 1 MΩ: noise, hum and bias current.',
    ],
    [
      'capacitor-small',
      { name: 'Low-pass 1', part: 'C2', value: 47e-12, limit: 1e-10 },
      'Low-pass 1: C2 47 pF is under 100 pF, where strays count.',
    ],
  ])('%s', (code, data, text) => {
    const words = checkWords(check({ code, data }));
    expect(words.text).toBe(text);
  });

  test('a clipped swing says so, and what to do', () => {
    const words = checkWords(
      check({
        code: 'swing',
        data: { name: 'Low-pass 1', volts: 12.7, roomVolts: 10.5, atHz: 100 },
      }),
    );
    expect(words.text).toContain('and clips');
    expect(words.cure).toContain('Lower the level');
  });

  test('what is fine needs no advice', () => {
    expect(
      checkWords(
        check({
          level: 'ok',
          code: 'swing',
          data: { name: 'a', volts: 1, roomVolts: 10, atHz: 1 },
        }),
      ).cure,
    ).toBeNull();
  });
});

describe('failures say what, where, and that nothing was lost', () => {
  test.each([
    [failure('not-json', { message: 'Unexpected end' }), 'Nothing was changed'],
    [failure('newer-version', { version: 3, known: 1 }), 'version 3; this one knows 1'],
    [failure('broken-design', { issues: ['a.b: wrong'] }), 'a.b: wrong'],
    [failure('deck', { line: 7, message: 'R1 has no resistance' }), 'Line 7: R1 has no resistance'],
    [failure('bad-line', { line: 2, text: 'oops' }), 'Line 2, “oops”'],
    [failure('over-pinned', { pinned: ['R1', 'C1'] }), 'R1, C1'],
    [failure('column-count', { line: 4, columns: 1 }), 'Line 4 has 1 column '],
    [failure('never-heard-of', {}), 'never-heard-of'],
  ])('%j', (what, says) => {
    expect(failureWords(what)).toContain(says);
  });

  test('a value that cannot be read says what was left over and how to type it', () => {
    const parsed = parseQuantity('4k7x', 'resistance');
    if (parsed.ok) throw new Error('read');
    expect(quantityWords(parsed, 'resistance')).toBe(
      '“4k7x” is not a value: “k7x” is left over. Type it as 4k7 or 4.7 k; the old value stays.',
    );
  });
});
