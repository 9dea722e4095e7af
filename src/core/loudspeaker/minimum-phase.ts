/** Points of the grid that the integral runs over, a decade; decades that it runs past either end. */
const A_DECADE = 96;
const BEYOND = 3;
const SLOPE_POINTS = 8;

/**
 * The phase (degrees) that goes with a level if nothing but the level makes it: each frequency's is the level's slope
 * everywhere, weighted by nearness (H. W. Bode, Network Analysis and Feedback Amplifier Design, 1945, eq. 14-12), φ(f0)
 * = (1/π) ∫ dA/du ln coth |u/2| du with A in nepers, u = ln f/f0. Past the ends of what is known the level goes on with
 * the slope it has there.
 *
 * @param freqHz rising. @param levelDb as many.
 */
export function minimumPhaseDeg(freqHz: ArrayLike<number>, levelDb: ArrayLike<number>): Float64Array {
  const n = freqHz.length;
  const logs = Float64Array.from(freqHz, Math.log);
  const step = Math.LN10 / A_DECADE;
  const from = logs[0] - BEYOND * Math.LN10;
  const count = Math.ceil((logs[n - 1] + BEYOND * Math.LN10 - from) / step) + 1;
  const nepers = extended(logs, levelDb);
  const slopes = Float64Array.from(
    { length: count - 1 },
    (_, k) => (nepers(from + (k + 1) * step) - nepers(from + k * step)) / step,
  );
  return Float64Array.from(logs, (at) => {
    let sum = 0;
    for (let k = 0; k < slopes.length; k++)
      if (slopes[k] !== 0) sum += slopes[k] * (primitive(from + (k + 1) * step - at) - primitive(from + k * step - at));
    return (sum / Math.PI) * (180 / Math.PI);
  });
}

/** ∫ from 0 to u of ln coth |v/2| dv: odd in u, π²/4 at infinity. */
function primitive(u: number): number {
  const size = Math.abs(u);
  const table = (tabled ??= makeTable());
  if (size >= TABLE_END) return Math.sign(u) * (Math.PI ** 2 / 4);
  const at = size / TABLE_STEP;
  const k = Math.floor(at);
  return Math.sign(u) * (table[k] + (at - k) * (table[k + 1] - table[k]));
}
const TABLE_STEP = 2e-3;
const TABLE_END = 12;
let tabled: Float64Array | undefined;

/** Near zero ln coth |v/2| is ln(2/v), whose integral is u (1 + ln(2/u)); from there Simpson's rule. */
function makeTable(): Float64Array {
  const f = (v: number) => -Math.log(Math.tanh(v / 2));
  const table = new Float64Array(Math.ceil(TABLE_END / TABLE_STEP) + 2);
  table[1] = TABLE_STEP * (1 + Math.log(2 / TABLE_STEP));
  for (let i = 2; i < table.length; i++) {
    const [a, b] = [(i - 1) * TABLE_STEP, i * TABLE_STEP];
    table[i] = table[i - 1] + (TABLE_STEP / 6) * (f(a) + 4 * f((a + b) / 2) + f(b));
  }
  return table;
}

/** Level in nepers over ln f, going on past both ends with the slope of the points there. */
function extended(logs: Float64Array, levelDb: ArrayLike<number>): (at: number) => number {
  const n = logs.length;
  const unit = Math.LN10 / 20;
  const k = Math.min(SLOPE_POINTS, n - 1);
  const slope = (a: number, b: number) => (levelDb[b] - levelDb[a]) / (logs[b] - logs[a]);
  const [first, last] = [slope(0, k), slope(n - 1 - k, n - 1)];
  let near = 0;
  return (at) => {
    if (at <= logs[0]) return unit * (levelDb[0] + first * (at - logs[0]));
    if (at >= logs[n - 1]) return unit * (levelDb[n - 1] + last * (at - logs[n - 1]));
    while (near > 0 && logs[near] > at) near--;
    while (near < n - 2 && logs[near + 1] < at) near++;
    const t = (at - logs[near]) / (logs[near + 1] - logs[near]);
    return unit * (levelDb[near] + t * (levelDb[near + 1] - levelDb[near]));
  };
}
