/**
 * How far beyond its ends a level is carried on with its last slope, octaves, and the fraction of one it is read in.
 */
const BEYOND_OCTAVES = 8;
const END_OCTAVES = 0.5;

/**
 * Phase, degrees, that a circuit with this level has if it keeps nothing back: the level's slopes weighed by their
 * nearness (H. W. Bode, Network Analysis and Feedback Amplifier Design, 1945, 14.3: φ(ω₀) = (1/π) ∫ dA/du ln
 * coth(|u|/2) du, A in nepers, u = ln(ω/ω₀)). Beyond its ends the level goes on as it ended.
 *
 * @param freqHz rising.
 */
export function minimumPhaseDeg(freqHz: Float64Array, levelDb: Float64Array): Float64Array {
  const count = freqHz.length;
  const logs = Float64Array.from(freqHz, Math.log);
  const nepers = Float64Array.from(levelDb, (db) => (db * Math.LN10) / 20);
  const endSlope = (from: number, step: 1 | -1): number => {
    let at = from;
    while (
      at + step >= 0 &&
      at + step < count &&
      Math.abs(logs[at + step] - logs[from]) <= END_OCTAVES * Math.LN2 + 1e-9
    )
      at += step;
    return at === from ? 0 : (nepers[at] - nepers[from]) / (logs[at] - logs[from]);
  };
  const beyond = BEYOND_OCTAVES * Math.LN2;
  const edges = [logs[0] - beyond, ...logs, logs[count - 1] + beyond];
  const slopes = edges.slice(1).map((_, i) => {
    if (i === 0) return endSlope(0, 1);
    if (i === count) return endSlope(count - 1, -1);
    return (nepers[i] - nepers[i - 1]) / (logs[i] - logs[i - 1]);
  });
  return Float64Array.from(logs, (middle) => {
    let sum = 0;
    slopes.forEach((slope, i) => {
      if (slope !== 0) sum += slope * (weightTo(edges[i + 1] - middle) - weightTo(edges[i] - middle));
    });
    return ((sum / Math.PI) * 180) / Math.PI;
  });
}

/** ∫₀^u ln coth(|v|/2) dv, odd in u; its whole half is π²/8·2. By its series in e^(−u): Σ 2(1 − e^(−nu))/n², n odd. */
function weightTo(u: number): number {
  const size = Math.abs(u);
  return Math.sign(u) * (size < NEAR ? nearZero(size) : farFrom(size));
}

const NEAR = 0.5;
const nearZero = (u: number): number =>
  u === 0 ? 0 : u * (1 - Math.log(u / 2)) + u ** 3 / 36 - (7 * u ** 5) / 14_400 + (31 * u ** 7) / 2_540_160;

function farFrom(u: number): number {
  let sum = (Math.PI * Math.PI) / 4;
  const fall = Math.exp(-u);
  for (let n = 1, power = fall; n < 60 && power > 1e-17; n += 2, power *= fall * fall) sum -= (2 * power) / (n * n);
  return sum;
}
