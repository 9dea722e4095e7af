import {
  addWide,
  divideWide,
  multiplyWide,
  negateWide,
  subtractWide,
  wide,
  type DoubleDouble,
} from '../math/double-double';
import { driveVector, entryValue, type Assembled } from '../circuit/structure';

interface Wide {
  readonly re: DoubleDouble;
  readonly im: DoubleDouble;
}
const ZERO: Wide = { re: wide(0), im: wide(0) };
const multiply = (a: Wide, b: Wide): Wide => ({
  re: subtractWide(multiplyWide(a.re, b.re), multiplyWide(a.im, b.im)),
  im: addWide(multiplyWide(a.re, b.im), multiplyWide(a.im, b.re)),
});
const subtract = (a: Wide, b: Wide): Wide => ({ re: subtractWide(a.re, b.re), im: subtractWide(a.im, b.im) });
function divide(a: Wide, b: Wide): Wide {
  const square = addWide(multiplyWide(b.re, b.re), multiplyWide(b.im, b.im));
  const top = multiply(a, { re: b.re, im: negateWide(b.im) });
  return { re: divideWide(top.re, square), im: divideWide(top.im, square) };
}
const size = (a: Wide): number => Math.hypot(a.re[0], a.im[0]);

/**
 * All unknowns of a linear circuit at one frequency in 32-digit arithmetic, with the entries as ordinary doubles: what
 * the other solvers are measured by.
 */
export function preciseSolve({ structure, values }: Assembled, freqHz: number): { re: number; im: number }[] {
  const n = structure.size;
  const omega = 2 * Math.PI * freqHz;
  const a = Array.from({ length: n }, () => Array.from({ length: n }, () => ZERO));
  for (const entry of structure.entries) {
    const value = wide(entryValue(entry, values));
    const row = a[entry.row];
    const old = row[entry.column];
    row[entry.column] =
      entry.order === 0
        ? { re: addWide(old.re, value), im: old.im }
        : { re: old.re, im: addWide(old.im, multiplyWide(value, wide(omega))) };
  }
  const drive = driveVector(structure, values);
  const b: Wide[] = Array.from({ length: n }, (_, i) => ({ re: wide(drive.re[i]), im: wide(drive.im[i]) }));
  const scale = a.map((row) => 1 / Math.max(...row.map(size)));
  const order = Array.from({ length: n }, (_, i) => i);
  for (let k = 0; k < n; k++) {
    let best = k;
    for (let i = k + 1; i < n; i++)
      if (size(a[order[i]][k]) * scale[order[i]] > size(a[order[best]][k]) * scale[order[best]]) best = i;
    [order[k], order[best]] = [order[best], order[k]];
    const pivot = a[order[k]];
    for (let i = k + 1; i < n; i++) {
      const row = a[order[i]];
      if (size(row[k]) === 0) continue;
      const factor = divide(row[k], pivot[k]);
      for (let j = k + 1; j < n; j++) row[j] = subtract(row[j], multiply(factor, pivot[j]));
      b[order[i]] = subtract(b[order[i]], multiply(factor, b[order[k]]));
    }
  }
  const x = new Array<Wide>(n);
  for (let i = n - 1; i >= 0; i--) {
    let sum = b[order[i]];
    for (let j = i + 1; j < n; j++) sum = subtract(sum, multiply(a[order[i]][j], x[j]));
    x[i] = divide(sum, a[order[i]][i]);
  }
  return x.map(({ re, im }) => ({ re: re[0] + re[1], im: im[0] + im[1] }));
}
