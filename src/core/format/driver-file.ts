import type { Curve } from '../loudspeaker/driver';
import { failure, success, type Result } from '../result';
import { readDriverCurve, type ResponseTextFailure } from './response-text';

/** A driver's curve as its file says what it is. */
export interface DriverFile {
  readonly kind: 'response' | 'impedance';
  /** Off the driver's axis, degrees to the side: 0 unless the name says otherwise. */
  readonly offDeg: number;
  readonly curve: Curve;
  /** What the driver is called by its file: the name without ending, kind and angle. */
  readonly driver: string;
  readonly points: number;
  readonly sorted: boolean;
  /** The widest stretch between two points, where it is over half an octave: Hz. */
  readonly gap: { readonly fromHz: number; readonly toHz: number } | null;
}

export type DriverFileFailure =
  | ResponseTextFailure
  | 'out-of-range'
  | 'which-curve'
  | 'contradicting-file'
  | 'not-decibels'
  | 'vertical-angle'
  | 'no-such-angle';

/** As many points as a curve keeps: 190 in each octave from 20 Hz to 20 kHz, more than any loudspeaker has to say. */
const MOST_KEPT = 1900;
const WIDE_OCTAVES = 0.5;

/** Names say what a file is, and at which angle; what is left is the driver's. */
const NAME_KINDS = [
  ['impedance', /(^|[^a-z])(zma|imp|impedance|ohms?|z)(?=[^a-z]|$)/i],
  ['response', /(^|[^a-z])(frd|spl|response|resp|fr|far|axis)(?=[^a-z]|$)/i],
] as const;
const ANGLE =
  /(?:^|[^0-9.])(\d{1,3})\s*(?:deg(?:rees?)?|°)|(?:^|[_\-\s])(?:h|hor|off|angle)[_\-\s]?(\d{1,3})(?![0-9.]*k?hz)/i;
const VERTICAL = /(^|[_\-\s])(v|ver|vert|vertical|up|down)[_\-\s]?\d{1,3}(?![0-9])/i;

/** Units that a response may come in and that are no level: said as the file has them. */
const NO_LEVEL = [
  ['watts', /\b(w|watts?)\b/i],
  ['millivolts', /\b(mv|millivolts?)\b/i],
  ['volts', /\b(v|volts?)\b/i],
  ['pascals', /\b(pa|pascals?)\b/i],
] as const;

/**
 * Reads a driver's file, and says what it is: by its ending, its headings, its name, and last by what its numbers can
 * be. Fails as the columns do (with line), with `which-curve` (`name`) where nothing tells, `contradicting-file`
 * (`name`, `says`, `heading`, `line`) where ending and heading disagree, `not-decibels` (`what`, `line`) where a
 * response is in something else, `vertical-angle` (`name`) for a curve above or below the axis, and
 * `no-such-angle` (`name`) for one of more than a whole turn.
 */
export function readDriverFile(name: string, text: string): Result<DriverFile, DriverFileFailure> {
  const [stem, ending] = splitName(name);
  const heading = headingOf(text);
  const byEnding = ending === 'zma' ? 'impedance' : ending === 'frd' ? 'response' : null;
  const byHeading = heading && kindOfHeading(heading.text);
  if (byEnding && byHeading && byEnding !== byHeading)
    return failure('contradicting-file', { name, says: byEnding, heading: heading.text, line: heading.line });
  const byName = NAME_KINDS.find(([, words]) => words.test(stem))?.[0] ?? null;
  const kind = byEnding ?? byHeading ?? byName ?? kindOfValues(text);
  if (!kind) return failure('which-curve', { name });
  if (kind === 'response' && heading && !byHeading) {
    const what = NO_LEVEL.find(([, words]) => words.test(columnsOf(heading.text)))?.[0];
    if (what) return failure('not-decibels', { what, line: heading.line });
  }
  if (kind === 'response' && VERTICAL.test(stem)) return failure('vertical-angle', { name });
  const read = readDriverCurve(text, kind);
  if (!read.ok) return read;
  const { freqHz, values, phaseDeg, sorted } = read.value;
  const angle = kind === 'response' ? ANGLE.exec(stem) : null;
  const offDeg = angle ? foldedDeg(Number(angle[1] ?? angle[2])) : 0;
  if (offDeg === null) return failure('no-such-angle', { name });
  return success({
    kind,
    offDeg,
    curve: thinned({ freqHz, values, phaseDeg }),
    driver: driverName(stem),
    points: freqHz.length,
    sorted,
    gap: widestGap(freqHz),
  });
}

/** An angle to one side as the same to the other, 0 to 180 degrees; null for more than a turn. */
const foldedDeg = (deg: number): number | null => (deg > 360 ? null : deg > 180 ? 360 - deg : deg);

const splitName = (name: string): [stem: string, ending: string] => {
  const at = name.lastIndexOf('.');
  return at > 0 ? [name.slice(0, at), name.slice(at + 1).toLowerCase()] : [name, ''];
};

function driverName(stem: string): string {
  let left = stem.replace(ANGLE, ' ');
  for (const [, words] of NAME_KINDS) left = left.replace(words, ' ');
  left = left
    .replace(/[_\-\s]+/g, ' ')
    .replace(/\b(on|off|h|hor)\b/gi, ' ')
    .replace(/\s+/g, ' ')
    .trim();
  return (left || stem).slice(0, 80);
}

/** The last line before the first numbers that names its columns. */
function headingOf(text: string): { text: string; line: number } | null {
  const lines = text.slice(0, 20_000).split(/\r\n|\r|\n/);
  let found: { text: string; line: number } | null = null;
  for (const [i, line] of lines.entries()) {
    if (/^\s*[+-]?[\d.]/.test(line)) break;
    if (/\b(hz|khz|freq\w*)\b/i.test(line)) found = { text: line.trim().slice(0, 80), line: i + 1 };
  }
  return found;
}

/** What a heading's columns are, without what is said of how it was measured. */
const columnsOf = (heading: string): string => heading.replace(/\b(at|@|for)\b.*$/i, '');
function kindOfHeading(heading: string): DriverFile['kind'] | null {
  const columns = columnsOf(heading);
  if (/\b(ohms?|impedance)\b|Ω/i.test(columns)) return 'impedance';
  return /\b(db|dbspl|spl)\b/i.test(columns) ? 'response' : null;
}

/** Levels of loudspeakers lie about 90 dB, impedances about 8 ohm; what lies between may be either. */
const [SURELY_OHM, SURELY_DB] = [35, 60];
function kindOfValues(text: string): DriverFile['kind'] | null {
  const read = readDriverCurve(text, 'response');
  if (!read.ok) return 'response';
  const sorted = [...read.value.values].sort((a, b) => a - b);
  const middle = sorted[sorted.length >> 1];
  if (sorted[0] <= 0 || middle > SURELY_DB) return 'response';
  return middle < SURELY_OHM && sorted[0] > 0.5 ? 'impedance' : null;
}

function widestGap(freqHz: readonly number[]): DriverFile['gap'] {
  let at = 1;
  for (let i = 2; i < freqHz.length; i++) if (freqHz[i] / freqHz[i - 1] > freqHz[at] / freqHz[at - 1]) at = i;
  return Math.log2(freqHz[at] / freqHz[at - 1]) > WIDE_OCTAVES ? { fromHz: freqHz[at - 1], toHz: freqHz[at] } : null;
}

/**
 * A curve of very many points brought to fewer, the same number in each octave: the mean of what lies in each, in the
 * unit of its values and along its unwrapped phase.
 */
function thinned(curve: Curve): Curve {
  const { freqHz, values, phaseDeg } = curve;
  if (freqHz.length <= MOST_KEPT) return curve;
  const [low, high] = [Math.log(freqHz[0]), Math.log(freqHz[freqHz.length - 1])];
  const cellOf = (f: number) => Math.min(MOST_KEPT - 1, Math.floor(((Math.log(f) - low) / (high - low)) * MOST_KEPT));
  const cells = new Map<number, { count: number; freq: number; value: number; phase: number }>();
  let phase = phaseDeg?.[0] ?? 0;
  freqHz.forEach((f, i) => {
    if (phaseDeg && i > 0) phase += ((((phaseDeg[i] - phaseDeg[i - 1]) % 360) + 540) % 360) - 180;
    const cell = cells.get(cellOf(f)) ?? { count: 0, freq: 0, value: 0, phase: 0 };
    cells.set(cellOf(f), {
      count: cell.count + 1,
      freq: cell.freq + Math.log(f),
      value: cell.value + values[i],
      phase: cell.phase + phase,
    });
  });
  const kept = [...cells.values()];
  const wrapped = (deg: number) => ((((deg + 180) % 360) + 360) % 360) - 180;
  return {
    freqHz: kept.map((c) => Math.exp(c.freq / c.count)),
    values: kept.map((c) => c.value / c.count),
    phaseDeg: phaseDeg && kept.map((c) => wrapped(c.phase / c.count)),
  };
}
