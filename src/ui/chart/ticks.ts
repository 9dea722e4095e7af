/** Decades. */
const NEARLY_STRAIGHT = 0.6;

/** Places for labels and lines on a logarithmic axis from lo to hi. */
export function logTicks(lo: number, hi: number): { labelled: number[]; minor: number[] } {
  const labelled: number[] = [];
  const minor: number[] = [];
  const decades = Math.log10(hi / lo);
  // Over less than an octave or two the logarithm is nearly straight: even steps are read more easily.
  if (decades < NEARLY_STRAIGHT) {
    const inner = linearTicks(lo, hi, 6).filter((t) => (t - lo) / (hi - lo) > 0.08 && (hi - t) / (hi - lo) > 0.08);
    return { labelled: [lo, ...inner, hi], minor: [] };
  }
  const wanted = decades <= 1.3 ? [1, 2, 3, 4, 6, 8] : decades <= 3.6 ? [1, 2, 5] : decades <= 4.4 ? [1, 3] : [1];
  for (let d = Math.floor(Math.log10(lo) + 1e-9); d <= Math.ceil(Math.log10(hi)); d++)
    for (let n = 1; n < 10; n++) {
      const at = Number(`${n}e${d}`);
      if (at < lo * 0.9999 || at > hi * 1.0001) continue;
      if (wanted.includes(n)) labelled.push(at);
      else minor.push(at);
    }
  // The ends are always labelled; neighbours that would run into them are not.
  const room = decades * 0.075;
  const inner = labelled.filter((t) => Math.log10(t / lo) > room && Math.log10(hi / t) > room);
  return {
    labelled: [lo, ...inner, hi],
    minor: [...minor, ...labelled.filter((t) => !inner.includes(t))].filter((t) => t !== lo && t !== hi),
  };
}

/** Even places on a linear axis, about `count` of them, on 1-2-5 steps. */
export function linearTicks(lo: number, hi: number, count = 6): number[] {
  const raw = (hi - lo) / count;
  const decade = 10 ** Math.floor(Math.log10(raw));
  const step = [1, 2, 5, 10].map((n) => n * decade).find((s) => s >= raw) ?? raw;
  const ticks: number[] = [];
  for (let t = Math.ceil(lo / step - 1e-9) * step; t <= hi + step * 1e-9; t += step)
    ticks.push(Number(t.toPrecision(12)));
  return ticks;
}

/** `20`, `1 k`, `20 k`: frequencies on an axis. */
export const tickHz = (f: number): string =>
  (f >= 1e6
    ? `${Number((f / 1e6).toPrecision(3))}M`
    : f >= 1e3
      ? `${Number((f / 1e3).toPrecision(3))}k`
      : `${Number(f.toPrecision(3))}`
  ).replace('.', '.');

/** What is labelled on an axis, and how. */
interface Labelled {
  readonly from: number;
  readonly to: number;
  readonly log?: boolean;
  readonly labelled: readonly number[];
  readonly format: (value: number) => string;
}

const LETTER_PX = 6.7;
const BETWEEN_PX = 8;

/** Labels of an axis that do not run into one another over so many pixels; its ends always stand. */
export function ticksApart({ from, to, log = false, labelled, format }: Labelled, px: number, unit = ''): number[] {
  const at = (v: number) => (px * (log ? Math.log(v / from) : v - from)) / (log ? Math.log(to / from) : to - from);
  const half = (v: number, more = '') => ((format(v).length + more.length) * LETTER_PX) / 2;
  const last = labelled[labelled.length - 1];
  // The last has the unit behind it.
  const end = at(last) - half(last, unit && ` ${unit}`);
  let used = -Infinity;
  return labelled.filter((v) => {
    if (v === last) return true;
    const [left, right] = [at(v) - half(v), at(v) + half(v)];
    if (left < used + BETWEEN_PX || right > end - BETWEEN_PX) return v === labelled[0];
    used = right;
    return true;
  });
}

/** px: a line of lettering and what stands about it. */
const LINE_PX = 15;

/** As many of some evenly spaced labels as stand over one another on so many pixels: all, every second, every third. */
export function everyNth(labelled: readonly number[], px: number): number[] {
  const step = Math.max(1, Math.ceil((LINE_PX * (labelled.length - 1)) / Math.max(1, px)));
  return labelled.filter((_, i) => i % step === 0);
}
