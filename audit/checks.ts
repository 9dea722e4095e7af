import { DenseNetlist } from './dense-netlist';
import type { Drawn } from './draw-designs';

/** What the product says of a design, by its verbs. */
export interface Told {
  readonly desk: Desk;
  readonly time: Time;
  readonly judged: readonly Judged[];
  readonly netlist: string;
}
interface Mark {
  readonly kind: string;
  readonly frequencyHz: number;
  readonly levelDb: number;
  readonly referenceDb: number;
  readonly depthDb?: number;
  readonly slopeDbPerOctave?: number;
}
export interface Desk {
  readonly stable: boolean;
  readonly marks: readonly Mark[];
  readonly passLevelDb: number | null;
  readonly worstMissDb: number | null;
  readonly stages: readonly { readonly got: { readonly frequencyHz?: number; readonly q?: number | null } }[];
  readonly noise: { readonly totalV: number; readonly fromHz: number; readonly toHz: number } | null;
}
export interface Time {
  readonly settles: boolean;
  readonly finalLevel: number | null;
  readonly overshootPct: number | null;
  readonly settle2PctS: number | null;
  readonly settle1PctS: number | null;
  readonly riseS: number | null;
  readonly delayS: number | null;
  readonly peak: { readonly level: number; readonly timeS: number } | null;
}
export interface Judged {
  readonly kind: string;
  readonly met: boolean;
  readonly byDb: number;
}

/** One figure held against its second method. */
export interface Finding {
  readonly figure: string;
  readonly said: number;
  readonly found: number;
  /** How far apart they may lie, in the figure's unit. */
  readonly within: number;
}
export const isOff = ({ said, found, within }: Finding): boolean => !(Math.abs(said - found) <= within);

/** A null is as deep as the last digit of its frequency: lower than this none is compared, dB. */
const DEEPEST_DB = -100;
/** Deeper than this a gain of 1e9 may have filled it: −58 dB at a Q of 5800, by solving with sixty digits. */
const FILLED_DB = -50;
const HALF_POWER_DB = 10 * Math.log10(0.5);

/** Every figure of a case beside what a second method finds. */
export function findings(drawn: Drawn, told: Told): Finding[] {
  const netlist = new DenseNetlist(told.netlist);
  if (!told.desk.stable) return nothingPretended(told);
  return [
    ...marksHeld(drawn, told, netlist),
    ...slopesHeld(drawn, told, netlist),
    ...limitsHeld(drawn, told, netlist),
    ...stageHeld(drawn, told, netlist),
    ...(drawn.idealOpAmp && drawn.ways === 1 ? noiseHeld(told, netlist) : []),
    ...(drawn.ways === 1 ? timeHeld(drawn, told, netlist) : []),
  ];
}

/** What oscillates has no small-signal figure. */
function nothingPretended({ desk, time }: Told): Finding[] {
  const pretended =
    desk.marks.length + [time.overshootPct, time.settle2PctS, desk.passLevelDb].filter((v) => v !== null).length;
  return [{ figure: 'figures of what oscillates', said: pretended, found: 0, within: 0 }];
}

/**
 * Level at every cutoff, by a plain solve of the netlist; and the pass band's level by where its response says it
 * is.
 */
function marksHeld(drawn: Drawn, { desk }: Told, netlist: DenseNetlist): Finding[] {
  const found: Finding[] = [];
  const out = drawn.ways === 1 ? 'out' : firstOutput(netlist);
  for (const mark of desk.marks) {
    if (mark.kind === 'cutoff')
      found.push({
        figure: 'cutoff, dB',
        said: mark.referenceDb + (mark.depthDb ?? HALF_POWER_DB),
        found: netlist.levelDb(mark.frequencyHz, out),
        within: 0.01,
      });
    if (mark.kind === 'peak' || mark.kind === 'notch') {
      const at = Math.max(DEEPEST_DB, netlist.levelDb(mark.frequencyHz, out));
      // Ideal op-amps have a gain of 1e9 in the netlist: it fills the null of a section of high Q, and no other does.
      const filled = mark.kind === 'notch' && drawn.idealOpAmp && at < FILLED_DB;
      found.push({
        figure: `${mark.kind}, dB`,
        said: Math.max(filled ? at : DEEPEST_DB, mark.levelDb),
        found: at,
        within: mark.kind === 'notch' ? 1 : 0.01,
      });
      const sign = mark.kind === 'peak' ? 1 : -1;
      const beside = [0.999, 1.001].map((r) => sign * Math.max(DEEPEST_DB, netlist.levelDb(mark.frequencyHz * r, out)));
      const above = Math.max(...beside) - sign * at;
      found.push({
        figure: `${mark.kind} against its neighbours, dB`,
        said: Math.min(0, -above),
        found: 0,
        within: 1e-3,
      });
    }
  }
  if (drawn.ways === 1 && drawn.idealOpAmp && !drawn.rippled && desk.passLevelDb !== null) {
    const flat =
      drawn.response === 'lowpass'
        ? netlist.levelDb(drawn.cutoffHz * 1e-5)
        : drawn.response === 'bandpass'
          ? highest(netlist, drawn.cutoffHz / 4, drawn.cutoffHz * 4, 900).levelDb
          : null;
    if (flat !== null) found.push({ figure: 'pass level, dB', said: desk.passLevelDb, found: flat, within: 0.02 });
  }
  return found;
}

const firstOutput = (netlist: DenseNetlist): string => {
  for (const name of ['out', 'low', 'out1'])
    try {
      netlist.index(name);
      return name;
    } catch {
      continue;
    }
  return 'out';
};

/** The asymptote, where an octave far beyond the corner shows it and ideal op-amps leak nothing into it. */
function slopesHeld(drawn: Drawn, { desk }: Told, netlist: DenseNetlist): Finding[] {
  // A middle made of one supply is not quite ground: it leaks where the slope would show.
  if (!drawn.idealOpAmp || drawn.ways !== 1 || drawn.words.includes('single')) return [];
  return desk.marks
    .filter((m) => m.kind === 'slope')
    .flatMap((mark): Finding[] => {
      const falling = (mark.slopeDbPerOctave ?? 0) < 0;
      const far = falling ? drawn.cutoffHz * 40 : drawn.cutoffHz / 80;
      const [a, b] = [netlist.levelDb(far), netlist.levelDb(2 * far)];
      // A gain of 1e9 leaks at 180 dB down; and what a source adds in ohms bends the slope of what it feeds.
      if (Math.min(a, b) < -150) return [];
      return [
        {
          figure: 'asymptotic slope, dB/octave',
          said: mark.slopeDbPerOctave ?? 0,
          found: b - a,
          // Half an order: so far out a curve of high order may still bend.
          within: 3,
        },
      ];
    });
}

/** Each limit on a fine grid of the netlist, refined about its worst point. */
function limitsHeld(drawn: Drawn, { desk, judged }: Told, netlist: DenseNetlist): Finding[] {
  if (desk.passLevelDb === null) return [];
  const reference = desk.passLevelDb;
  return drawn.limits.map((limit, i): Finding => {
    // A curve is read a hundred times beyond its corners and its nulls, and over all that is heard.
    const nullsHz = desk.marks.filter((m) => m.kind === 'notch').map((m) => m.frequencyHz);
    const about = [drawn.cutoffHz, ...nullsHz];
    const read = { low: Math.min(20, Math.min(...about) / 100), high: Math.max(20e3, Math.max(...about) * 100) };
    const pass = limit.kind === 'pass';
    const from = limit.fromHz > 0 ? limit.fromHz : pass ? limit.toHz / 10 : read.low;
    const to = limit.toHz < Infinity ? limit.toHz : pass ? limit.fromHz * 10 : read.high;
    // A peak of a Q in the thousands is seen on no grid: its mark says where to look.
    const peaks = desk.marks.filter((m) => m.kind === 'peak' && m.frequencyHz >= from && m.frequencyHz <= to);
    const marked = Math.max(-Infinity, ...peaks.map((m) => netlist.levelDb(m.frequencyHz)));
    const top = Math.max(marked, highest(netlist, from, to, 500).levelDb) - reference;
    const low = -highest(netlist, from, to, 500, -1).levelDb - reference;
    const room = limit.kind === 'pass' ? Math.min(limit.downDb + low, limit.upDb - top) : -top - limit.downDb;
    return { figure: `${limit.kind} limit, dB`, said: judged[i].byDb, found: room, within: 0.05 };
  });
}

/** The highest level (or, with sign −1, the lowest, negated) by brute force, then by thirds. */
export function highest(netlist: DenseNetlist, fromHz: number, toHz: number, count: number, sign = 1) {
  const at = (i: number) => fromHz * (toHz / fromHz) ** (i / count);
  let best = 0;
  let most = -Infinity;
  for (let i = 0; i <= count; i++) {
    const level = sign * netlist.levelDb(at(i));
    if (level > most) [best, most] = [i, level];
  }
  let [low, high] = [at(Math.max(0, best - 1)), at(Math.min(count, best + 1))];
  for (let k = 0; k < 40; k++) {
    const [a, b] = [low + (high - low) / 3, high - (high - low) / 3];
    if (sign * netlist.levelDb(a) < sign * netlist.levelDb(b)) low = a;
    else high = b;
  }
  const freqHz = (low + high) / 2;
  return { freqHz, levelDb: Math.max(most, sign * netlist.levelDb(freqHz)) };
}

/** Q of a single section as built, from the width of the curve's own peak; only where it is sharp enough to show. */
function stageHeld(drawn: Drawn, { desk }: Told, netlist: DenseNetlist): Finding[] {
  const [stage] = desk.stages;
  const q = stage?.got.q;
  if (desk.stages.length !== 1 || !q || !(q > 8) || drawn.words[0] !== '--topology') return [];
  const near = stage.got.frequencyHz as number;
  const top = highest(netlist, near / 1.3, near * 1.3, 600);
  const edge = (toward: number): number => {
    let [inside, outside] = [top.freqHz, top.freqHz * toward];
    for (let k = 0; k < 60; k++) {
      const middle = (inside + outside) / 2;
      if (netlist.levelDb(middle) > top.levelDb + HALF_POWER_DB) inside = middle;
      else outside = middle;
    }
    return inside;
  };
  const width = edge(1 + 2 / q) - edge(1 - 2 / q);
  return [{ figure: 'Q of a section', said: q, found: top.freqHz / width, within: 0.02 * q }];
}

/** Total thermal noise over the audio band: trapezoids in the logarithm, finer about the section's frequency. */
function noiseHeld({ desk }: Told, netlist: DenseNetlist): Finding[] {
  if (!desk.noise) return [];
  const { fromHz, toHz, totalV } = desk.noise;
  const sharp = desk.stages.flatMap((s) =>
    s.got.frequencyHz && s.got.q && s.got.q > 2 ? [{ f: s.got.frequencyHz, width: s.got.frequencyHz / s.got.q }] : [],
  );
  const grid = Array.from({ length: 160 }, (_, i) => fromHz * (toHz / fromHz) ** (i / 159));
  for (const { f, width } of sharp) for (let k = -40; k <= 40; k++) grid.push(f + (k * width) / 8);
  const freqs = grid.filter((f) => f >= fromHz && f <= toHz).sort((a, b) => a - b);
  let power = 0;
  let [before, last] = [freqs[0], netlist.noiseDensity(freqs[0])];
  for (const f of freqs.slice(1)) {
    const density = netlist.noiseDensity(f);
    power += ((density + last) / 2) * (f - before);
    [before, last] = [f, density];
  }
  return [{ figure: 'noise, V', said: totalV, found: Math.sqrt(power), within: 0.02 * totalV }];
}

/** Figures of a step at the very times that are said, by Laplace inversion of the netlist's own response. */
function timeHeld(drawn: Drawn, { time, desk }: Told, netlist: DenseNetlist): Finding[] {
  if (!time.settles || !time.peak) return [];
  const fastest = drawn.cutoffHz * 2.5 * (drawn.response === 'bandpass' ? 2 : 1);
  const found: Finding[] = [];
  const lasting = time.peak.timeS * fastest;
  if (time.peak.timeS > 1e-4 / drawn.cutoffHz && lasting < 60)
    found.push({
      figure: 'largest excursion, V',
      said: time.peak.level,
      found: netlist.step(time.peak.timeS, fastest),
      within: 2e-3 * Math.abs(time.peak.level) + 1e-6,
    });
  const end = time.finalLevel;
  // What is declared to pass nothing at 0 Hz ends where it began.
  const blocks = drawn.response === 'highpass' || drawn.response === 'bandpass';
  const dc = blocks ? 0 : netlist.at(drawn.cutoffHz * 1e-6)[0];
  if (end !== null)
    found.push({
      figure: 'final level, V',
      said: end,
      found: Math.abs(dc) < 1e-3 * Math.abs(time.peak.level) ? 0 : dc,
      within: 1e-4 + 1e-3 * Math.abs(dc),
    });
  if (!end || time.overshootPct === null || time.settle2PctS === null || desk.passLevelDb === null) return found;
  const share = (t: number) => netlist.step(t, fastest) / end;
  found.push({
    figure: 'overshoot, %',
    said: time.overshootPct,
    found: Math.max(0, 100 * (netlist.step(time.peak.timeS, fastest) / dc - 1)),
    within: 0.3,
  });
  if (time.settle2PctS * fastest < 60 && time.settle2PctS > 0)
    found.push({
      figure: 'edge of the 2 % band',
      said: 0.02,
      found: Math.abs(share(time.settle2PctS) - 1),
      within: 4e-4,
    });
  if (time.delayS) found.push({ figure: 'half of the way', said: 0.5, found: share(time.delayS), within: 2e-3 });
  return found;
}
