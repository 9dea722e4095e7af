import { failure, success } from '../result';
import { centsBetween, decibels, fromDecibels, type QuantityKind } from '../units/quantity';
import type { Calculator, CalculatorOutput } from './calculator';
import { nearestPair } from './pairs';
import { nearestPreferred } from './preferred';
import { VOICE_CALCULATORS } from './voice-calculators';

type Given = Readonly<Record<string, number | null>>;
const TWO_PI = 2 * Math.PI;
const BOLTZMANN = 1.380649e-23;
/** Bench temperature, K. */
const BENCH = 293.15;

const more = (wanted: number) => failure('needs-more', { wanted });
const unless = (fine: boolean, why: string, outputs: () => readonly CalculatorOutput[]) =>
  fine ? success(outputs()) : failure('out-of-range', { why });
const all = (given: Given, names: readonly string[]): number[] | null => {
  const values = names.map((n) => given[n]);
  return values.every((v): v is number => v !== null && v !== undefined) ? values : null;
};
const out = (label: string, kind: QuantityKind, value: number): CalculatorOutput => ({ label, kind, value });

/** The one number of a few that is left empty, from the others. */
function missing(
  given: Given,
  solve: Readonly<Record<string, (g: Record<string, number>) => CalculatorOutput>>,
): ReturnType<Calculator['compute']> {
  const names = Object.keys(solve);
  const empty = names.filter((n) => given[n] === null || given[n] === undefined);
  if (empty.length !== 1) return more(names.length - 1);
  const known = Object.fromEntries(names.filter((n) => n !== empty[0]).map((n) => [n, given[n] as number]));
  return unless(
    Object.values(known).every((v) => v > 0),
    'every number must be above zero',
    () => [solve[empty[0]](known)],
  );
}

const parallelOf = (a: number, b: number): number => (a * b) / (a + b);

/** The parallel pair of E24 that comes nearest to a wanted value, or one part where that does as well; ohm. */
function parallelPair(wanted: number): readonly CalculatorOutput[] {
  const one = nearestPreferred(wanted, 'E24');
  const { values, value } = nearestPair(wanted, 'E24', 'resistor', ['parallel'], Infinity);
  if (Math.abs(one - wanted) <= Math.abs(value - wanted)) return [out('one is enough', 'resistance', one)];
  return [
    out('one', 'resistance', values[0]),
    out('other', 'resistance', values[1]),
    { ...out('together', 'resistance', value), pair: { joined: 'parallel', values } },
  ];
}

const NOTE_WORDS = 'octave semitone interval tuning';

export const CALCULATORS: readonly Calculator[] = [
  {
    id: 'reactance',
    name: 'Reactance of a capacitor or a coil',
    words: 'impedance xc xl',
    inputs: [
      { name: 'f', label: 'frequency', kind: 'frequency', initial: 1000 },
      { name: 'C', label: 'capacitor', kind: 'capacitance', initial: 100e-9 },
      { name: 'L', label: 'coil', kind: 'inductance', initial: 10e-3 },
    ],
    compute: ({ f, C, L }) => {
      if (f === null || f === undefined || (!C && !L)) return more(2);
      return unless(f > 0, 'the frequency must be above zero', () => [
        ...(C ? [out('of the capacitor', 'resistance', 1 / (TWO_PI * f * C))] : []),
        ...(L ? [out('of the coil', 'resistance', TWO_PI * f * L)] : []),
      ]);
    },
  },
  {
    id: 'rc-corner',
    name: 'RC corner, either way round',
    words: 'cutoff low-pass high-pass capacitor resistor frequency',
    inputs: [
      { name: 'f', label: 'corner', kind: 'frequency', initial: 1000 },
      { name: 'R', label: 'resistor', kind: 'resistance', initial: 10e3 },
      { name: 'C', label: 'capacitor', kind: 'capacitance', initial: null },
    ],
    compute: (given) =>
      missing(given, {
        f: ({ R, C }) => out('corner', 'frequency', 1 / (TWO_PI * R * C)),
        R: ({ f, C }) => out('resistor', 'resistance', 1 / (TWO_PI * f * C)),
        C: ({ f, R }) => out('capacitor', 'capacitance', 1 / (TWO_PI * f * R)),
      }),
  },
  {
    id: 'lc-corner',
    name: 'LC resonance, either way round',
    words: 'corner cutoff coil capacitor frequency',
    inputs: [
      { name: 'f', label: 'resonance', kind: 'frequency', initial: 1000 },
      { name: 'L', label: 'coil', kind: 'inductance', initial: 10e-3 },
      { name: 'C', label: 'capacitor', kind: 'capacitance', initial: null },
    ],
    compute: (given) =>
      missing(given, {
        f: ({ L, C }) => out('resonance', 'frequency', 1 / (TWO_PI * Math.sqrt(L * C))),
        L: ({ f, C }) => out('coil', 'inductance', 1 / ((TWO_PI * f) ** 2 * C)),
        C: ({ f, L }) => out('capacitor', 'capacitance', 1 / ((TWO_PI * f) ** 2 * L)),
      }),
  },
  {
    id: 'time-constant',
    name: 'Time constant',
    words: 'tau charge settling seconds rc',
    inputs: [
      { name: 't', label: 'time constant', kind: 'time', initial: null },
      { name: 'R', label: 'resistor', kind: 'resistance', initial: 100e3 },
      { name: 'C', label: 'capacitor', kind: 'capacitance', initial: 1e-6 },
    ],
    compute: (given) =>
      missing(given, {
        t: ({ R, C }) => out('time constant', 'time', R * C),
        R: ({ t, C }) => out('resistor', 'resistance', t / C),
        C: ({ t, R }) => out('capacitor', 'capacitance', t / R),
      }),
  },
  {
    id: 'decibels',
    name: 'Decibels and ratios',
    words: 'db voltage power level',
    inputs: [
      { name: 'db', label: 'level', kind: 'decibel', initial: 6 },
      { name: 'ratio', label: 'voltage ratio', kind: 'ratio', initial: null },
    ],
    compute: ({ db, ratio }) => {
      if ((db === null || db === undefined) === (ratio === null || ratio === undefined)) return more(1);
      const level = db ?? decibels(ratio as number);
      return unless(ratio === null || ratio === undefined || ratio > 0, 'a ratio must be above zero', () => [
        out('level', 'decibel', level),
        out('voltage ratio', 'ratio', fromDecibels(level)),
        out('power ratio', 'ratio', 10 ** (level / 10)),
      ]);
    },
  },
  {
    id: 'parallel-series',
    name: 'Two in parallel, two in series',
    words: 'resistors capacitors combine together',
    inputs: [
      { name: 'a', label: 'one', kind: 'resistance', initial: 10e3 },
      { name: 'b', label: 'other', kind: 'resistance', initial: 15e3 },
    ],
    compute: (given) => {
      const two = all(given, ['a', 'b']);
      return two
        ? unless(Math.min(...two) > 0, 'both must be above zero', () => [
            out('in parallel', 'resistance', parallelOf(two[0], two[1])),
            out('in series', 'resistance', two[0] + two[1]),
          ])
        : more(2);
    },
  },
  {
    id: 'capacitors-together',
    name: 'Two capacitors together',
    words: 'parallel series combine',
    inputs: [
      { name: 'a', label: 'one', kind: 'capacitance', initial: 10e-9 },
      { name: 'b', label: 'other', kind: 'capacitance', initial: 15e-9 },
    ],
    compute: (given) => {
      const two = all(given, ['a', 'b']);
      return two
        ? unless(Math.min(...two) > 0, 'both must be above zero', () => [
            out('in parallel', 'capacitance', two[0] + two[1]),
            out('in series', 'capacitance', parallelOf(two[0], two[1])),
          ])
        : more(2);
    },
  },
  {
    id: 'divider',
    name: 'Divider',
    words: 'voltage attenuator ratio resistors',
    inputs: [
      { name: 'db', label: 'loss', kind: 'decibel', initial: 6 },
      { name: 'R1', label: 'upper', kind: 'resistance', initial: 10e3 },
      { name: 'R2', label: 'lower', kind: 'resistance', initial: null },
    ],
    compute: (given) =>
      given.db !== null && given.db <= 0
        ? failure('out-of-range', { why: 'a divider loses: the loss must be above 0 dB' })
        : missing(given, {
            db: ({ R1, R2 }) => out('loss', 'decibel', decibels((R1 + R2) / R2)),
            R1: ({ db, R2 }) => out('upper', 'resistance', R2 * (fromDecibels(db) - 1)),
            R2: ({ db, R1 }) => out('lower', 'resistance', R1 / (fromDecibels(db) - 1)),
          }),
  },
  {
    id: 'pad',
    name: 'L-pad for a load',
    words: 'attenuator loudspeaker tweeter level',
    inputs: [
      { name: 'db', label: 'loss', kind: 'decibel', initial: 6 },
      { name: 'Z', label: 'load', kind: 'resistance', initial: 8 },
    ],
    compute: (given) => {
      const two = all(given, ['db', 'Z']);
      if (!two) return more(2);
      const k = fromDecibels(two[0]);
      return unless(two[0] > 0 && two[1] > 0, 'loss and load must be above zero', () => [
        out('in line', 'resistance', two[1] * (1 - 1 / k)),
        out('across the load', 'resistance', two[1] / (k - 1)),
      ]);
    },
  },
  {
    id: 'preferred-resistor',
    name: 'Nearest preferred resistor',
    words: 'e12 e24 e96 series standard value',
    inputs: [{ name: 'R', label: 'wanted', kind: 'resistance', initial: 11.25e3 }],
    compute: ({ R }) =>
      R
        ? unless(R > 0, 'it must be above zero', () =>
            (['E12', 'E24', 'E96'] as const).map((series) => out(series, 'resistance', nearestPreferred(R, series))),
          )
        : more(1),
  },
  {
    id: 'preferred-capacitor',
    name: 'Nearest preferred capacitor',
    words: 'e6 e12 series standard value',
    inputs: [{ name: 'C', label: 'wanted', kind: 'capacitance', initial: 14.1e-9 }],
    compute: ({ C }) =>
      C
        ? unless(C > 0, 'it must be above zero', () =>
            (['E6', 'E12'] as const).map((series) => out(series, 'capacitance', nearestPreferred(C, series))),
          )
        : more(1),
  },
  {
    id: 'parallel-pair',
    name: 'Parallel pair for a resistor',
    words: 'two make value combine exact',
    inputs: [{ name: 'R', label: 'wanted', kind: 'resistance', initial: 11.25e3 }],
    compute: ({ R }) => (R ? unless(R > 0, 'it must be above zero', () => parallelPair(R)) : more(1)),
  },
  {
    id: 'resistor-noise',
    name: 'Noise of a resistor',
    words: 'thermal johnson hiss microvolt',
    inputs: [
      { name: 'R', label: 'resistor', kind: 'resistance', initial: 10e3 },
      { name: 'B', label: 'over a band of', kind: 'frequency', initial: 20e3 },
    ],
    compute: (given) => {
      const two = all(given, ['R', 'B']);
      if (!two) return more(2);
      return unless(Math.min(...two) > 0, 'both must be above zero', () => [
        out('in the band, RMS', 'voltage', Math.sqrt(4 * BOLTZMANN * BENCH * two[0] * two[1])),
        out('in each √Hz', 'voltage', Math.sqrt(4 * BOLTZMANN * BENCH * two[0])),
        out('in the band, re 1 V', 'decibel', 10 * Math.log10(4 * BOLTZMANN * BENCH * two[0] * two[1])),
      ]);
    },
  },
  {
    id: 'intervals',
    name: 'Octaves and cents between frequencies',
    words: NOTE_WORDS,
    inputs: [
      { name: 'a', label: 'from', kind: 'frequency', initial: 440 },
      { name: 'b', label: 'to', kind: 'frequency', initial: 660 },
    ],
    compute: (given) => {
      const two = all(given, ['a', 'b']);
      return two
        ? unless(Math.min(...two) > 0, 'both must be above zero', () => [
            out('octaves', 'ratio', Math.log2(two[1] / two[0])),
            out('cents', 'ratio', centsBetween(two[0], two[1])),
            out('times', 'ratio', two[1] / two[0]),
          ])
        : more(2);
    },
  },
  ...VOICE_CALCULATORS,
];
