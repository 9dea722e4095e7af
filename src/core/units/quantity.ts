import { failure, success, type Result } from '../result';

/**
 * What a number measures. SI units inside the core: ohm, farad, henry, hertz, volt, second; decibels and per cent as
 * they are.
 */
export type QuantityKind =
  | 'resistance'
  | 'capacitance'
  | 'inductance'
  | 'frequency'
  | 'voltage'
  | 'current'
  | 'time'
  | 'decibel'
  | 'percent'
  | 'degree'
  | 'slew'
  | 'ratio';

const UNIT: Record<QuantityKind, string> = {
  resistance: 'Ω',
  capacitance: 'F',
  inductance: 'H',
  frequency: 'Hz',
  voltage: 'V',
  current: 'A',
  time: 's',
  decibel: 'dB',
  percent: '%',
  degree: '°',
  slew: 'V/s',
  ratio: '',
};

const SPELLINGS: Record<QuantityKind, readonly string[]> = {
  resistance: ['ohms', 'ohm', 'Ω', 'Ω', 'R', 'r'],
  capacitance: ['farad', 'F', 'f'],
  inductance: ['henry', 'H', 'h'],
  frequency: ['hertz', 'Hz', 'hz', 'HZ'],
  voltage: ['volts', 'volt', 'V', 'v'],
  current: ['amperes', 'amps', 'amp', 'A', 'a'],
  time: ['sec', 's', 'S'],
  decibel: ['dB', 'db', 'DB'],
  percent: ['%'],
  degree: ['°', 'deg'],
  slew: ['V/s'],
  ratio: [],
};

/** A maker's prefixes: here `M` is mega and `m` is milli. (A circuit deck reads both as milli; see format/deck.) */
const PREFIX: Record<string, number> = {
  T: 1e12,
  G: 1e9,
  M: 1e6,
  meg: 1e6,
  Meg: 1e6,
  k: 1e3,
  K: 1e3,
  R: 1,
  r: 1,
  '': 1,
  m: 1e-3,
  u: 1e-6,
  µ: 1e-6,
  μ: 1e-6,
  n: 1e-9,
  p: 1e-12,
  f: 1e-15,
};
const SCALED: ReadonlySet<QuantityKind> = new Set([
  'resistance',
  'capacitance',
  'inductance',
  'frequency',
  'voltage',
  'current',
  'time',
  'slew',
]);

/** A power of ten times a number, rounded once: 4.7 and 3 give 4700, not 4700.000000000001. */
const scaled = (digits: string, factor: number): number => Number(`${digits}e${Math.round(Math.log10(factor))}`);

/** No value that anyone types is longer. */
const MOST_LETTERS = 64;

/**
 * Reads what a maker types: `4k7`, `4.7k`, `4,7 kΩ`, `4700`, `2n2`, `2.2 nF`, `0.0022u`, `1.2 kHz`, `-3 dB`.
 *
 * @returns the value in SI units. Fails with `quantity-empty` or `quantity-unreadable` (`text`, and `rest`: what was
 * left over).
 */
export function parseQuantity(
  text: string,
  kind: QuantityKind,
): Result<number, 'quantity-empty' | 'quantity-unreadable'> {
  const typed = text.trim().replace(/−/g, '-');
  if (typed === '') return failure('quantity-empty');
  if (typed.length > MOST_LETTERS)
    return failure('quantity-unreadable', {
      text: `${typed.slice(0, MOST_LETTERS)}…`,
      rest: `${typed.length} letters`,
    });
  let body = typed.replace(/\s+/g, '');
  for (const spelling of SPELLINGS[kind]) {
    if (spelling.length === 1 && /[rR]/.test(spelling)) continue;
    if (body.endsWith(spelling) && body.length > spelling.length && !(spelling in PREFIX && kind !== 'capacitance')) {
      body = body.slice(0, -spelling.length);
      break;
    }
  }
  const infix = /^([+-]?\d+)(meg|Meg|[TGMkKRrmuµμnpf])(\d+)$/.exec(body);
  if (infix && SCALED.has(kind)) return success(scaled(`${infix[1]}.${infix[3]}`, PREFIX[infix[2]]));
  const lead = /^[Rr](\d+)$/.exec(body);
  if (lead && kind === 'resistance') return success(Number(`0.${lead[1]}`));
  const plain = /^([+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+))(?:e([+-]?\d+))?(meg|Meg|[TGMkKRrmuµμnpf]?)$/.exec(body);
  if (!plain || (plain[3] !== '' && !SCALED.has(kind))) {
    const rest = body.replace(/^[+-]?\d*(?:[.,]\d*)?(?:e[+-]?\d+)?/, '');
    return failure('quantity-unreadable', { text: typed, rest });
  }
  const value = scaled(plain[1].replace(',', '.'), PREFIX[plain[3]]) * 10 ** Number(plain[2] ?? 0);
  return Number.isFinite(value) ? success(value) : failure('quantity-unreadable', { text: typed, rest: '' });
}

/** What a quantity can be in this field, by its size in SI units: beyond is nothing that is built or measured. */
const POSSIBLE: Partial<Record<QuantityKind, readonly [number, number]>> = {
  frequency: [1e-6, 1e11],
  resistance: [1e-6, 1e15],
  capacitance: [1e-16, 1e4],
  inductance: [1e-12, 1e5],
  time: [1e-13, 1e8],
  voltage: [1e-12, 1e6],
  current: [1e-18, 1e6],
  decibel: [0, 400],
};

/** The range of sizes of a kind where a value lies outside of it; null where it can be. Nothing at all always can. */
export function impossible(value: number, kind: QuantityKind): readonly [low: number, high: number] | null {
  const range = POSSIBLE[kind];
  const size = Math.abs(value);
  return !range || size === 0 || (size >= range[0] && size <= range[1]) ? null : range;
}

/** What anyone means of a kind, SI units: outside, a unit was most likely left out, or a prefix slipped. */
const PLAUSIBLE: Partial<Record<QuantityKind, readonly [number, number]>> = {
  resistance: [1e-3, 1e10],
  capacitance: [1e-13, 0.1],
  inductance: [1e-9, 100],
  frequency: [1e-3, 1e7],
};
/** What a bare number of a kind most often stands for. */
const USUAL_PREFIX: Partial<Record<QuantityKind, string>> = { capacitance: 'p', inductance: 'm' };

export interface Doubt {
  readonly low: number;
  readonly high: number;
  /** The same figure with the prefix that was most likely meant, where that is plausible. */
  readonly meant: number | null;
}

/**
 * Whether a value is one that hardly anyone means, and what may have been meant instead; null where it is plausible.
 * Nothing keeps anyone from meaning it.
 */
export function doubtOf(value: number, kind: QuantityKind): Doubt | null {
  const range = PLAUSIBLE[kind];
  const size = Math.abs(value);
  if (!range || size === 0 || (size >= range[0] && size <= range[1])) return null;
  const prefix = USUAL_PREFIX[kind];
  const meant = prefix && size > range[1] ? scaled(String(size), PREFIX[prefix]) : null;
  return {
    low: range[0],
    high: range[1],
    meant: meant !== null && meant >= range[0] && meant <= range[1] ? meant : null,
  };
}

/**
 * Two values typed for one: `220n+220n` adds them (resistors and coils in series, capacitors side by side),
 * `100k||100k` puts them side by side. Null where the text is no pair.
 */
export function parsePair(
  text: string,
  kind: QuantityKind,
): { readonly kind: 'series' | 'parallel'; readonly values: readonly [number, number] } | null {
  if (text.length > 2 * MOST_LETTERS) return null;
  const halves = /^(.*[^e+|∥\s])\s*(\+|\|\||∥)\s*([^+|∥\s].*)$/.exec(text.trim());
  if (!halves) return null;
  const [a, b] = [parseQuantity(halves[1], kind), parseQuantity(halves[3], kind)];
  if (!a.ok || !b.ok || !(a.value > 0) || !(b.value > 0)) return null;
  return { kind: halves[2] === '+' && kind !== 'capacitance' ? 'series' : 'parallel', values: [a.value, b.value] };
}

const ENGINEERING: readonly [number, string][] = [
  [1e12, 'T'],
  [1e9, 'G'],
  [1e6, 'M'],
  [1e3, 'k'],
  [1, ''],
  [1e-3, 'm'],
  [1e-6, 'µ'],
  [1e-9, 'n'],
  [1e-12, 'p'],
  [1e-15, 'f'],
];

export interface FormatOptions {
  /** Significant digits, 4 by default. */
  readonly digits?: number;
  /** Keep trailing zeros, so that a column lines up. */
  readonly fixed?: boolean;
  /** Leave the unit off and keep the prefix: `4.7 k`. */
  readonly bare?: boolean;
  /** With nothing between figure and unit: `4.7k`, for axes and fields. */
  readonly tight?: boolean;
}

/** Between a figure and its unit: narrow, and no place to break a line (ISO 80000-1, 7.1.4). */
export const UNIT_SPACE = '\u202f';

function trimmed(text: string): string {
  return text.includes('.') ? text.replace(/\.?0+$/, '') : text;
}

/** Prefixes reach no further: beyond, a figure is written with its power of ten. */
const [LEAST_SCALED, MOST_SCALED] = [1e-18, 1e18];

/**
 * Writes a value as makers do, a narrow space before the unit: `4.7 kΩ`, `2.2 nF`, `1.25 kHz`, `-3.01 dB`. Uses the
 * true minus sign.
 */
export function formatQuantity(value: number | null, kind: QuantityKind, options: FormatOptions = {}): string {
  const { digits = 4, fixed = false, bare = false, tight = false } = options;
  if (value === null || !Number.isFinite(value)) return notFinite(value);
  const unit = bare ? '' : UNIT[kind];
  const magnitude = Math.abs(value);
  if (SCALED.has(kind) && magnitude > 0 && (magnitude < LEAST_SCALED || magnitude >= MOST_SCALED))
    return `${value < 0 ? '−' : ''}${magnitude.toExponential()}${unit && !tight ? UNIT_SPACE : ''}${unit}`;
  let prefix = '';
  let shown = magnitude;
  if (SCALED.has(kind) && magnitude > 0) {
    // Rounding first keeps 999.96 from being written as 1000 instead of 1 k.
    const rounded = Math.min(Number.MAX_VALUE, Number(magnitude.toPrecision(digits)));
    const [factor, letter] =
      ENGINEERING.find(([size]) => rounded >= size * (1 - 1e-12)) ?? ENGINEERING[ENGINEERING.length - 1];
    prefix = letter;
    shown = rounded / factor;
  }
  const decimals =
    !SCALED.has(kind) && kind !== 'ratio'
      ? Math.max(0, Math.min(2, digits - 1))
      : Math.max(0, digits - 1 - Math.floor(Math.log10(shown || 1)));
  const text = shown.toFixed(Math.min(decimals, 12));
  const number = fixed ? text : trimmed(text);
  const sign = value < 0 && Number(number) !== 0 ? '−' : '';
  const tail = `${prefix}${unit}`;
  const space = tight || tail === '' || tail === '°' ? '' : UNIT_SPACE;
  return `${sign}${number}${space}${tail}`;
}

/** What stands in place of a figure that there is not. */
const NO_FIGURE = '–';
const notFinite = (value: number | null): string => (value === Infinity ? '∞' : value === -Infinity ? '−∞' : NO_FIGURE);

/** A figure, or null where what was computed came to none. */
export const figureOrNull = (value: number | undefined): number | null =>
  value !== undefined && Number.isFinite(value) ? value : null;

/** `6.02`, `−0.11`, `0.00`: so many decimals, the true minus sign, and a dash or ∞ for what is no number. */
export function formatFixed(value: number | null, decimals: number): string {
  if (value === null || !Number.isFinite(value)) return notFinite(value);
  const text = Math.abs(value).toFixed(decimals);
  return value < 0 && Number(text) !== 0 ? `−${text}` : text;
}

/** `+6.02 dB`, `−0.11 dB`, `0.00 dB`: a change, with its sign; a dash or ∞ for what is no number. */
export function formatSigned(value: number | null, kind: QuantityKind, decimals = 2): string {
  if (value === null || !Number.isFinite(value)) return value === Infinity ? '+∞' : notFinite(value);
  const rounded = Number(value.toFixed(decimals));
  const sign = rounded > 0 ? '+' : rounded < 0 ? '−' : '';
  const unit = UNIT[kind];
  return `${sign}${Math.abs(rounded).toFixed(decimals)}${unit === '' || unit === '°' ? unit : `${UNIT_SPACE}${unit}`}`;
}

/** Decibels of a voltage ratio: 20 log10 of its size; −∞ for zero. */
export const decibels = (ratio: number): number => 20 * Math.log10(Math.abs(ratio));
/** The voltage ratio of a level in decibels. */
export const fromDecibels = (db: number): number => 10 ** (db / 20);

/** How far a frequency lies above another, cents. */
export const centsBetween = (fromHz: number, toHz: number): number => 1200 * Math.log2(toHz / fromHz);
