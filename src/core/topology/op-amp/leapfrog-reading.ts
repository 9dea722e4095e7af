import { ComplexLu } from '../../analysis/elimination/dense-lu';
import { greatestBetween } from '../../math/search';
import type { Parameters } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import { hasNulls, inputsByState, losesAt, orderOf, states } from './leapfrog-network';

/** What a leapfrog does with given parts. */

/**
 * Complex output over input at a frequency, from the integrators' equations with these parts: C_k x_k' = −Σ of what
 * comes in.
 */
function responseAt(form: string, v: PartValues, freqHz: number): number {
  const n = orderOf(form);
  const w = 2 * Math.PI * freqHz;
  const [matrixRe, matrixIm, right, xRe, xIm] = [
    new Float64Array(n * n),
    new Float64Array(n * n),
    new Float64Array(n),
    new Float64Array(n),
    new Float64Array(n),
  ];
  const add = (row: number, column: number, re: number, im: number) => {
    matrixRe[row * n + column] += re;
    matrixIm[row * n + column] += im;
  };
  const inputs = inputsByState(form);
  for (let k = 1; k <= n; k++) {
    // Rows are brought to the size of their own capacitor's current at this frequency.
    const scale = 1 / (w * v[`C${k}`]);
    add(k - 1, k - 1, losesAt(form, k) ? scale / v[`R${k}d`] : 0, 1);
    for (const { part, kind, from, turned } of inputs[k - 1]) {
      const gain = turned ? -v[`R${from}o`] / v[`R${from}i`] : 1;
      if (from === 'in') right[k - 1] -= scale / v[part];
      else if (kind === 'capacitor') add(k - 1, from - 1, 0, scale * w * v[part] * gain);
      else add(k - 1, from - 1, (scale / v[part]) * gain, 0);
    }
  }
  new ComplexLu(n, matrixRe, matrixIm).solve(right, new Float64Array(n), xRe, xIm);
  return Math.hypot(xRe[n - 1], xIm[n - 1]);
}

const POINTS = 110;
/**
 * Steps of a golden section over two grid spacings: the place is then known to a millionth, the height to its square.
 */
const GOLDEN_STEPS = 24;

/** Where a function is largest between two frequencies around a peak of its own, and how large. */
function largestBetween(f: (freqHz: number) => number, from: number, to: number): number {
  return greatestBetween((log) => f(Math.exp(log)), Math.log(from), Math.log(to), GOLDEN_STEPS).value;
}

/** Edge, ripple and attenuation that given parts come to: peaks and dips of the response looked for one by one. */
export function measured(form: string, v: PartValues, wanted: Parameters): Parameters {
  const size = (f: number) => responseAt(form, v, f);
  const rough = wanted.cutoffHz;
  const grid = Array.from({ length: POINTS }, (_, i) => rough * 10 ** (-1.5 + (3.5 * i) / (POINTS - 1)));
  const sizes = grid.map(size);
  const dc = size(rough * 1e-6);
  const turns = (sign: 1 | -1) =>
    sizes.flatMap((s, i) =>
      i > 0 && i < POINTS - 1 && sign * s > sign * sizes[i - 1] && sign * s >= sign * sizes[i + 1]
        ? [{ i, value: sign * largestBetween((f) => sign * size(f), grid[i - 1], grid[i + 1]) }]
        : [],
    );
  const half = dc / 2;
  const passed = (i: number) => sizes[i] > half;
  const peaks = turns(1);
  const peak = Math.max(dc, ...peaks.filter(({ i }) => passed(i)).map(({ value }) => value));
  const dips = turns(-1)
    .filter(({ i }) => passed(i))
    .map(({ value }) => value);
  const low = Math.min(dc, peak, ...dips);
  const rippleDb = 20 * Math.log10(peak / low);
  // The edge is where it falls below the ripple asked for, for good.
  const floor = peak * 10 ** (-wanted.rippleDb / 20);
  let last = sizes.length - 1;
  while (last > 0 && !passed(last)) last--;
  let above = last;
  while (above > 0 && sizes[above] < floor) above--;
  let [a, b] = [grid[above], grid[Math.min(POINTS - 1, last + 1)]];
  for (let i = 0; i < 44; i++) {
    const middle = Math.sqrt(a * b);
    if (size(middle) > floor) a = middle;
    else b = middle;
  }
  const back = peaks.filter(({ i }) => !passed(i)).map(({ value }) => value);
  return {
    cutoffHz: Math.sqrt(a * b),
    rippleDb,
    ...(hasNulls(form) ? { attenuationDb: back.length > 0 ? 20 * Math.log10(peak / Math.max(...back)) : NaN } : {}),
  };
}

/** Where the coupling capacitors make their nulls: each trap's, from what both its nodes know of it. */
export function nullsHz(form: string, v: PartValues): number[] {
  if (!hasNulls(form)) return [];
  return states(form)
    .filter((k) => k % 2 === 0 && k < orderOf(form))
    .map((k) => 1 / (2 * Math.PI * Math.sqrt(v[`R${k}a`] * v[`C${k}`] * v[`R${k - 1}b`] * v[`C${k - 1}b`])));
}
