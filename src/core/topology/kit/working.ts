import { formatQuantity, UNIT_SPACE } from '../../units/quantity';
import type { PartKind, PartValues } from './part';
import { PART_UNITS } from './part-units';

/** How figures are set in the working. */
export const format = {
  hertz: (value: number) => formatQuantity(value, 'frequency', { digits: 5 }),
  ohm: (value: number) => formatQuantity(value, 'resistance'),
  farad: (value: number) => formatQuantity(value, 'capacitance'),
  henry: (value: number) => formatQuantity(value, 'inductance'),
  second: (value: number) => formatQuantity(value, 'time'),
  ratio: (value: number) => formatQuantity(value, 'ratio', { digits: 4 }),
  decibel: (value: number) => formatQuantity(value, 'decibel', { digits: 3 }),
  amps: (value: number) => formatQuantity(value, 'current', { digits: 4 }),
  volts: (value: number) => formatQuantity(value, 'voltage', { digits: 4 }),
  degree: (value: number) => formatQuantity(value, 'degree', { digits: 3 }),
};

const KIND_OF: Readonly<Record<string, PartKind>> = {
  R: 'resistor',
  P: 'potentiometer',
  C: 'capacitor',
  L: 'inductor',
};

/** The parts a formula speaks of. */
export const partsInFormula = (tex: string): string[] =>
  [...tex.matchAll(PART_SYMBOL)].map(([, letter, long, short]) => `${letter}${long ?? short}`);

const PART_SYMBOL = /([RCLP])_(?:\{(\w+)\}|(\w))/g;

/** A formula with its parts called as they are in the whole variant. */
export const withDesignators = (tex: string, names: Readonly<Record<string, string>>): string =>
  tex.replace(PART_SYMBOL, (symbol, letter: string, long: string | undefined, short: string | undefined) => {
    const name = names[`${letter}${long ?? short}`];
    return name === undefined ? symbol : `${name[0]}_{${name.slice(1)}}`;
  });

/** Around a value while it is looked for what stands beside it: characters that no formula has. */
const [FROM, TO] = ['\u27e6', '\u27e7'];
/** Another value, a bracket that closes or a number, with a value next to it. */
const BESIDE_A_VALUE = new RegExp(`(${TO}|\\)|\\d)\\s*(?:\\\\,\\s*)?(?=${FROM})`, 'g');

/**
 * A formula with this design's part values in place of the parts' names, a dot between two that stand side by side and
 * after a number. What names no part stays a symbol.
 */
export function withNumbers(tex: string, parts: PartValues): string {
  return tex
    .replace(PART_SYMBOL, (symbol, letter: string, long: string | undefined, short: string | undefined) => {
      const value = parts[`${letter}${long ?? short}`];
      if (value === undefined) return symbol;
      const [number, unit = ''] = formatQuantity(value, PART_UNITS[KIND_OF[letter]]).split(UNIT_SPACE);
      return `${FROM}${number}\\,\\mathrm{${unit.replace('Ω', '\\Omega ').replace('µ', '\\mu ')}}${TO}`;
    })
    .replace(BESIDE_A_VALUE, '$1 \\cdot ')
    .replaceAll(FROM, '{')
    .replaceAll(TO, '}');
}
